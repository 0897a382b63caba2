/** The handling, a line for each of its parts; a part opens to where it is changed. */
import { defined } from '@under-lock/core/defined';
import { type Preset } from '@under-lock/contract/handling';
import { type Rights, RIGHTS } from '@under-lock/core/handling/handling';
import { type WantedTerms } from '@under-lock/core/handling/preset';
import { distanceInWords, momentInWords } from '@under-lock/core/when';
import { Chip } from '@under-lock/ui/chip';
import { Banner, Choice, Fold, Row, space, Stack, Text, TextButton } from '@under-lock/ui';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { zone } from '../../clock';
import { ClosingForm, IdentityForm, RightsForm } from '../../handling/HandlingForm';
import { type OpenWay, SendOpen } from '../../handling/SendOpen';
import { audienceWords, checkWords, listed, rightWords } from '../../handling/words';
import { type Writing } from '../useWriting';
import { firstLower } from '@under-lock/core/first-letter';

type Part = Pick<Writing, 'office' | 'now' | 'planned'> & { onChange: (change: Partial<WantedTerms>) => void };

interface PresetProps {
  offered: Preset[];
  preset: Preset;
  onPreset: (id: string) => void;
}

/** Up to so many are in sight, and taken by one press. */
const FEW = 8;

/** The presets by name, with the sentence of the one that is taken. */
function PresetLine(props: PresetProps) {
  const { offered, preset, onPreset } = props;
  if (offered.length < 2 || offered.length > FEW) return <PresetByName {...props} />;
  return (
    <View>
      <View role="radiogroup" aria-label="Handling preset" style={styles.chips}>
        {offered.map(({ id, name }) => (
          <Chip key={id} as="radio" label={name} on={id === preset.id} onPress={() => onPreset(id)} />
        ))}
      </View>
      <Text kind="small" tone="soft">
        {preset.sentence}
      </Text>
    </View>
  );
}

/** The one that is taken, the others behind a press. */
function PresetByName({ offered, preset, onPreset }: PresetProps) {
  const [choosing, setChoosing] = useState(false);
  return (
    <View>
      <Row style={styles.between}>
        <Text kind="strong" style={styles.grow}>
          {preset.name}
        </Text>
        {offered.length < 2 ? null : (
          <TextButton
            label={choosing ? 'Leave it' : 'Another'}
            describe={choosing ? 'Leave it at this preset' : 'Another handling preset'}
            onPress={() => setChoosing(!choosing)}
          />
        )}
      </Row>
      {choosing ? (
        <Choice
          label="Handling preset"
          value={preset.id}
          onChange={(id) => {
            onPreset(id);
            setChoosing(false);
          }}
          options={offered.map(({ id, name, sentence }) => ({ value: id, label: name, detail: sentence }))}
        />
      ) : (
        <Text kind="small" tone="soft">
          {preset.sentence}
        </Text>
      )}
    </View>
  );
}

function ClosingLine({ office, now, planned: { wanted, applied }, onChange }: Part) {
  const { closing } = applied;
  const words = closing.ok ? `until ${momentInWords(closing.closesAt, now, zone)}` : 'no valid closing date yet';
  const aside = closing.ok ? distanceInWords(closing.closesAt, now, zone) : undefined;
  return (
    <Fold
      label={`Closing date: ${words}${aside === undefined ? '' : `, ${aside}`}`}
      startsOpen={!closing.ok}
      head={
        <Row style={styles.between}>
          <Text tone={closing.ok ? 'ink' : 'brick'}>{closing.ok ? words : `■ ${words}`}</Text>
          {aside === undefined ? null : (
            <Text kind="small" tone="soft">
              {aside}
            </Text>
          )}
        </Row>
      }
    >
      <ClosingForm
        office={office}
        now={now}
        closing={wanted.closing}
        onChange={(next) => onChange({ closing: next })}
      />
    </Fold>
  );
}

function CheckLine({ planned: { wanted, applied }, onChange }: Part) {
  const { check, question } = applied.terms;
  const words = `${firstLower(checkWords[check])}${question && check !== 'question' ? ' and a question' : ''}`;
  return (
    <Fold label={`Readers prove who they are: ${words}`} head={<Text>{words}</Text>}>
      <IdentityForm check={wanted.check} question={wanted.question} onChange={onChange} />
    </Fold>
  );
}

const named = (rights: Rights, given: boolean): string[] =>
  RIGHTS.filter((right) => rights[right] === given).map((right) => rightWords[right]);

function RightsLine({ planned: { wanted, applied, preset }, onChange }: Part) {
  const { rights, watermark, copies } = applied.terms;
  const [may, mayNot] = [named(rights, true), named(rights, false)];
  const words = may.length === 0 ? 'may only look' : `may ${listed(may, 'and')}`;
  const soft = [
    ...(mayNot.length === 0 || may.length === 0 ? [] : [`not ${listed(mayNot, 'or')}`]),
    ...(watermark ? ['watermark'] : []),
    ...(copies ? ['copies of their own'] : []),
  ].join(' · ');
  return (
    <Fold
      label={`What they may do: ${words}${soft === '' ? '' : `, ${soft}`}`}
      head={
        <Text>
          {words}
          {soft === '' ? null : <Text tone="soft">{` · ${soft}`}</Text>}
        </Text>
      }
    >
      <RightsForm
        rights={wanted.rights}
        watermark={wanted.watermark}
        copies={wanted.copies}
        {...(preset?.terms.textOpen === true ? { textOpen: wanted.textOpen } : {})}
        onChange={onChange}
      />
      <Text kind="small" tone="soft">
        What is switched off is not offered, and printing, saving and forwarding are refused here. Copying is only
        discouraged; nobody can rule out a photo of a screen.
      </Text>
    </Fold>
  );
}

function AudienceLine({ planned: { wanted, applied }, onChange }: Part) {
  const words = audienceWords[applied.terms.audience];
  return (
    <Fold label={`For whom: ${words}`} head={<Text>{`for ${words.toLowerCase()}`}</Text>}>
      <Choice
        label="For whom"
        value={wanted.audience}
        onChange={(audience) => onChange({ audience })}
        options={(['anyone', 'outsiders', 'staff'] as const).map((value) => ({ value, label: audienceWords[value] }))}
      />
    </Fold>
  );
}

/** What would let it leave open. */
const waysOpen = (active: Writing['presets'], verdict: Writing['planned']['verdict']): OpenWay[] => [
  ...active.filter(({ terms }) => terms.clear).map(({ id, name, sentence }) => ({ presetId: id, name, sentence })),
  ...(verdict?.acted ?? []).flatMap(({ rule: { name, sentence } }) =>
    verdict!.openBy.includes(name) ? [{ presetId: undefined, name, sentence }] : [],
  ),
];

export function HandlingLines({ draft, desk, presets, because, set, ...writing }: Writing) {
  const { preset } = writing.planned;
  // As it was just chosen: the plan comes a moment behind, and what is chosen next changes this.
  const wanted = draft.terms ?? writing.planned.wanted;
  const active = presets.filter((one) => one.active && !one.others);
  const offered = active.filter(({ terms }) => !terms.clear);
  const { applied, verdict, openByRule } = writing.planned;
  const open = applied.terms.clear;
  const ways = waysOpen(active, verdict);
  const openedBy = openByRule ? undefined : preset?.id;
  const part = {
    ...writing,
    planned: { ...writing.planned, wanted },
    onChange: (change: Partial<WantedTerms>) => set({ terms: { ...wanted, ...change } }),
  };
  return (
    <Stack style={styles.handling}>
      {preset === undefined || open ? null : (
        <PresetLine
          offered={offered}
          preset={preset}
          onPreset={(presetId) => desk.change(({ terms: _, ...before }) => ({ ...before, presetId }))}
        />
      )}
      {open ? null : (
        <View>
          <ClosingLine {...part} />
          <CheckLine {...part} />
          <RightsLine {...part} />
          <AudienceLine {...part} />
        </View>
      )}
      {draft.terms !== undefined && preset !== undefined ? (
        <TextButton label="Leave it at the preset’s" onPress={() => desk.change(({ terms: _, ...before }) => before)} />
      ) : null}
      {because.map((one) => (
        <Banner key={one} tone="amber">
          {one}
        </Banner>
      ))}
      <SendOpen
        ways={ways}
        chosen={open ? ways.find(({ presetId }) => presetId === openedBy) : undefined}
        reason={draft.openReason}
        asked={writing.openAsked}
        onAsk={writing.askOpen}
        onOpen={(presetId, openReason) =>
          desk.change(({ terms: _, ...before }) => ({ ...before, ...defined({ presetId }), openReason }))
        }
        onLock={() =>
          desk.change(({ terms: _, presetId: id, openReason: __, ...before }) =>
            openByRule ? { ...before, ...defined({ presetId: id }) } : before,
          )
        }
      />
    </Stack>
  );
}

const styles = StyleSheet.create({
  chips: { flexDirection: 'row', flexWrap: 'wrap', columnGap: space.s },
  handling: { gap: space.s },
  between: { justifyContent: 'space-between', flexWrap: 'nowrap' },
  grow: { flex: 1, minWidth: 0 },
});
