/** Office: its handling presets, its notices and its colleagues. Everybody may read it, administrators change it. */
import { orderPresets, type Preset, setDefaultPreset } from '@under-lock/contract/handling';
import { LANGUAGES } from '@under-lock/core/language';
import { Banner, Button, Empty, Line, Panel, Row, Section, StateMark, Text } from '@under-lock/ui';
import { router } from 'expo-router';
import { useState } from 'react';
import { StyleSheet } from 'react-native';
import { mutate } from 'swr';
import { api } from '../api';
import { presetSentence } from '../handling/preset-words';
import { usePresets } from '../handling/usePresets';
import { languageWords } from '../people/words';
import { problemWords } from '../problem-words';
import { useOpenSession } from '../session/session';
import { Listed } from '../shell/Listed';
import { Screen } from '../shell/Screen';
import { useOffice } from './useOffice';
import { InvitePanel } from './InvitePanel';

function PresetLine({
  preset,
  first,
  last,
  mayChange,
  act,
}: {
  preset: Preset;
  first: boolean;
  last: boolean;
  mayChange: boolean;
  act: { move: (by: -1 | 1) => void; makeDefault: () => void };
}) {
  const { id, name, sentence, terms, active, isDefault } = preset;
  return (
    <Line last={last} testID={`preset-${name}`}>
      <Row style={styles.between}>
        <Text kind="strong" tone={active ? 'ink' : 'soft'} style={styles.wrap}>
          {name}
        </Text>
        {isDefault ? (
          <StateMark tone="done" word="Default" />
        ) : active ? null : (
          <StateMark tone="over" word="Switched off" />
        )}
      </Row>
      <Text style={styles.wrap}>{sentence}</Text>
      <Text kind="small" tone="soft">
        {presetSentence(terms)}
      </Text>
      {mayChange ? (
        <Row>
          <Button
            label="Change"
            describe={`Change ${name}`}
            onPress={() => router.push(`/office/presets/${id}` as never)}
          />
          {active && !isDefault && !terms.clear ? (
            <Button label="Make it the default" describe={`Make it the default: ${name}`} onPress={act.makeDefault} />
          ) : null}
          <Button kind="quiet" label="Up" describe={`Up: ${name}`} disabled={first} onPress={() => act.move(-1)} />
          <Button kind="quiet" label="Down" describe={`Down: ${name}`} disabled={last} onPress={() => act.move(1)} />
        </Row>
      ) : null}
    </Line>
  );
}

const newPreset = (): void => router.push('/office/presets/new' as never);

export function OfficeScreen() {
  const { account } = useOpenSession();
  const { data: presets, error } = usePresets();
  const [failed, setFailed] = useState<string | undefined>();
  const mayChange = account.role === 'administrator';
  const { data: office } = useOffice();
  const own = LANGUAGES.filter((one) => office?.look.texts[one] !== undefined);
  const act = async (task: () => Promise<unknown>): Promise<void> => {
    setFailed(undefined);
    await task().catch((problem: unknown) => setFailed(problemWords(problem)));
    await mutate('presets');
  };
  const move = (index: number, by: -1 | 1): void => {
    const ids = presets!.map(({ id }) => id);
    const [id] = ids.splice(index, 1);
    ids.splice(index + by, 0, id!);
    void act(() => api(orderPresets, { body: { ids } }));
  };
  return (
    <Screen title="Office" aside={mayChange ? <Button label="New preset" onPress={newPreset} /> : undefined}>
      {failed === undefined ? null : <Banner tone="brick">{failed}</Banner>}
      <Section title="Handling presets" aside={presets === undefined ? '' : String(presets.length)}>
        <Text tone="soft">
          {mayChange
            ? 'What everybody chooses from when they write. A worker may always choose more strictly, and more loosely only where you say so.'
            : 'What you choose from when you write. Administrators make them.'}
        </Text>
        <Listed
          items={presets}
          error={error}
          fetching="Fetching the presets"
          empty={<NoPresets mayChange={mayChange} />}
        >
          {(preset, last) => (
            <PresetLine
              key={preset.id}
              preset={preset}
              first={preset === presets![0]}
              last={last}
              mayChange={mayChange}
              act={{
                move: (by) => move(presets!.indexOf(preset), by),
                makeDefault: () => void act(() => api(setDefaultPreset, { body: { id: preset.id } })),
              }}
            />
          )}
        </Listed>
      </Section>
      {mayChange ? (
        <>
          <Settled title="Notices" label="Word the notices" href="/office/notices">
            {own.length === 0
              ? 'They speak our words, in every language.'
              : `Your own words in ${own.map((one) => languageWords[one]).join(', ')}; our words in the other languages.`}
          </Settled>
          <Settled title="Certificate authorities" label="Say whom we trust" href="/office/trust">
            Whose certificates count here: the office’s own authority, and those that others use.
          </Settled>
          <Settled title="OpenPGP keys" label="Say whose word counts" href="/office/keys">
            Whose word counts for whose a key is, and vouching for the keys of your people.
          </Settled>
          <Settled title="Locked files" label="Say how they are made" href="/office/locked-files">
            How they are made, how hard their passwords are to guess, who gets them otherwise, and the note around them.
          </Settled>
          <InvitePanel />
        </>
      ) : null}
    </Screen>
  );
}

const NoPresets = ({ mayChange }: { mayChange: boolean }) => (
  <Empty
    title="No presets yet"
    action={mayChange ? <Button kind="main" label="Make the first one" onPress={newPreset} /> : undefined}
  >
    Until there is one, everybody sets each message’s handling by hand.
  </Empty>
);

/** Something the office says on a page of its own: what it is, and the way there. */
const Settled = ({
  title,
  label,
  href,
  children,
}: {
  title: string;
  label: string;
  href: string;
  children: string;
}) => (
  <Section title={title}>
    <Panel>
      <Line last>
        <Text>{children}</Text>
        <Row>
          <Button
            label={label}
            describe={`${label}: ${title.toLowerCase()}`}
            onPress={() => router.push(href as never)}
          />
        </Row>
      </Line>
    </Panel>
  </Section>
);

const styles = StyleSheet.create({
  between: { justifyContent: 'space-between', alignItems: 'flex-start', flexWrap: 'nowrap' },
  wrap: { flexShrink: 1, overflowWrap: 'anywhere' } as object,
});
