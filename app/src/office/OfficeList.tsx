/** Office: its handling presets, and the list of all that is said for everybody. Everybody may read it, administrators change it. */
import { orderPresets, type Preset, setDefaultPreset } from '@under-lock/contract/handling';
import { LANGUAGES } from '@under-lock/core/language';
import { Button, Empty, Line, Result, Row, Section, StateMark, Text } from '@under-lock/ui';
import { router, usePathname } from 'expo-router';
import { useState } from 'react';
import { StyleSheet } from 'react-native';
import { mutate } from 'swr';
import { api } from '../api';
import { presetSentence } from '../handling/preset-words';
import { usePresets } from '../handling/usePresets';
import { languageWords } from '../people/words';
import { problemWords } from '../problem-words';
import { useOpenSession } from '../session/session';
import { Lines, Listed } from '../shell/Listed';
import { ListLine } from '../shell/ListLine';
import { ListScreen } from '../shell/ListScreen';
import { Screen, useWide } from '../shell/Screen';
import { Ordered, OrderedLine } from './Ordered';
import { useColleagues, useOffice } from '../session/useOffice';
import { doneOf, STEPS, useSetup } from './useSetup';

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

/** The presets in their order, with what an administrator may do with each. */
function Presets() {
  const { account } = useOpenSession();
  const { data: presets, error } = usePresets();
  const [failed, setFailed] = useState<string | undefined>();
  const mayChange = account.role === 'administrator';
  const act = async (task: () => Promise<unknown>): Promise<void> => {
    setFailed(undefined);
    await task().catch((problem: unknown) => setFailed(problemWords(problem)));
    await mutate('presets');
  };
  const move = (from: number, to: number): void => {
    const order = [...presets!];
    order.splice(to, 0, ...order.splice(from, 1));
    const ids = order.map(({ id }) => id);
    // At once where it was put; if the server will not have it so, it goes back.
    void mutate('presets', order, { revalidate: false });
    void act(() => api(orderPresets, { body: { ids } }));
  };
  return (
    <>
      <Text tone="soft">
        {mayChange
          ? 'What everybody chooses from when they write. A worker may always choose more strictly, and more loosely only where you say so.'
          : 'What you choose from when you write. Administrators make them.'}
      </Text>
      <Result said={failed} />
      <Ordered ids={(presets ?? []).map(({ id }) => id)} onMove={move}>
        <Listed
          items={presets}
          error={error}
          fetching="Fetching the presets"
          empty={<NoPresets mayChange={mayChange} />}
        >
          {(preset, last) => {
            const line = (
              <PresetLine
                key={preset.id}
                preset={preset}
                first={preset === presets![0]}
                last={last}
                mayChange={mayChange}
                act={{
                  move: (by) => move(presets!.indexOf(preset), presets!.indexOf(preset) + by),
                  makeDefault: () => void act(() => api(setDefaultPreset, { body: { id: preset.id } })),
                }}
              />
            );
            return mayChange && presets!.length > 1 ? (
              <OrderedLine key={preset.id} id={preset.id}>
                {line}
              </OrderedLine>
            ) : (
              line
            );
          }}
        </Listed>
      </Ordered>
    </>
  );
}

const SLOTS_LINE = {
  href: '/office/slots',
  title: 'Mail slots',
  about: 'Where anybody can leave something under lock',
};

/** What an administrator says for everybody, each on a page of its own. */
function OfficeLines() {
  const { data: office } = useOffice();
  const { data: colleagues } = useColleagues();
  const own = LANGUAGES.filter((one) => office?.look.texts[one] !== undefined);
  const { data: setup } = useSetup();
  const done = setup === undefined ? STEPS.length : doneOf(setup);
  const lines = [
    ...(done === STEPS.length
      ? []
      : [{ href: '/office/setup', title: 'Setting up', about: `${done} of ${STEPS.length} done` }]),
    {
      href: '/office/rules',
      title: 'Rules',
      about: 'What must happen before something goes',
    },
    SLOTS_LINE,
    {
      href: '/office/notices',
      title: 'Notices',
      about:
        own.length === 0
          ? 'Our words, in every language'
          : `Your own words in ${own.map((one) => languageWords[one]).join(', ')}; ours in the other languages`,
    },
    {
      href: '/office/trust',
      title: 'Certificate authorities',
      about: 'Whose certificates count here',
    },
    {
      href: '/office/keys',
      title: 'OpenPGP keys',
      about: 'Whose word counts for whose a key is',
    },
    {
      href: '/office/locked-files',
      title: 'Locked files',
      about: 'How they are made, and how hard their passwords are to guess',
    },
    {
      href: '/office/colleagues',
      title: 'Colleagues',
      about: colleagues === undefined ? 'Who works here' : `${colleagues.length} work here; invite another`,
    },
  ];
  return (
    <Lines items={lines}>{(line, last) => <ListLine key={line.href} {...line} label={line.title} last={last} />}</Lines>
  );
}

export function OfficeList() {
  const path = usePathname();
  const { data: presets } = usePresets();
  return (
    <ListScreen title="Office">
      <ListLine
        href="/office"
        label="Handling presets"
        title="Handling presets"
        about={presets === undefined ? '' : `${presets.length} to choose from`}
        chosen={path === '/office' || path.startsWith('/office/presets')}
      />
      <OfficeLines />
    </ListScreen>
  );
}

export const useIsAdministrator = (): boolean => useOpenSession().account.role === 'administrator';

export function OfficeIndex() {
  const mayChange = useIsAdministrator();
  const wide = useWide();
  const aside = mayChange ? <Button label="New preset" onPress={newPreset} /> : undefined;
  if (wide)
    return (
      <Screen title="Handling presets" aside={aside} still={!mayChange}>
        <Presets />
        {mayChange ? null : <OwnLines />}
      </Screen>
    );
  return (
    <ListScreen title="Office" aside={aside} still={!mayChange}>
      <Section title="Handling presets">
        <Presets />
      </Section>
      {mayChange ? (
        <Section title="For everybody">
          <OfficeLines />
        </Section>
      ) : (
        <OwnLines />
      )}
    </ListScreen>
  );
}

/** What everybody may see to for themselves. */
const OwnLines = () => (
  <Section title="For yourself">
    <Lines items={[SLOTS_LINE]}>
      {(line, last) => <ListLine key={line.href} {...line} label={line.title} last={last} />}
    </Lines>
  </Section>
);

const NoPresets = ({ mayChange }: { mayChange: boolean }) => (
  <Empty
    title="No presets yet"
    action={
      mayChange ? (
        <Row>
          <Button kind="main" label="Take some to begin with" onPress={() => router.push('/office/setup' as never)} />
          <Button label="Make the first one" onPress={newPreset} />
        </Row>
      ) : undefined
    }
  >
    Until there is one, everybody sets each message’s handling by hand.
  </Empty>
);

const styles = StyleSheet.create({
  between: { justifyContent: 'space-between', alignItems: 'flex-start', flexWrap: 'nowrap' },
  wrap: { flexShrink: 1, overflowWrap: 'anywhere' } as object,
});
