/**
 * A preset being made or changed: its name and sentence, and every part of the handling, with what a worker may loosen.
 */
import { deletePreset, type Preset, putPreset } from '@under-lock/contract/handling';
import { CLOSING_CHOICES } from '@under-lock/core/handling/closing-choice';
import { NO_RIGHTS } from '@under-lock/core/handling/handling';
import { LOOSENABLE, type PresetTerms } from '@under-lock/core/handling/preset';
import {
  Banner,
  Button,
  Check,
  Choice,
  Dialog,
  Field,
  Line,
  Loading,
  Panel,
  Result,
  Row,
  Section,
  Text,
} from '@under-lock/ui';
import { Chip } from '@under-lock/ui/chip';
import { useState } from 'react';
import { View } from 'react-native';
import { mutate } from 'swr';
import { api } from '../api';
import { problemWords } from '../problem-words';
import { AdministratorsOnly, toOffice as back } from './AdministratorsOnly';
import { InPanel } from '../shell/InPanel';
import { Screen } from '../shell/Screen';
import { IdentityForm, RightsForm } from '../handling/HandlingForm';
import { loosenWords, presetSentence } from '../handling/preset-words';
import { usePresets } from '../handling/usePresets';
import { audienceWords, closingWords, listed } from '../handling/words';
import { departmentsOf, useColleagues } from '../session/useOffice';
import { fromHere } from '../shell/from-here';
import { toggled } from '../toggled';

const MAX_REMIND_HOURS = 720;
const OFFICE_CLOSINGS = CLOSING_CHOICES.filter((kind) => kind !== 'exact');
const newTerms: PresetTerms = {
  closing: { kind: 'two-weeks' },
  check: 'text',
  question: false,
  rights: { ...NO_RIGHTS, reply: true, copy: true },
  watermark: false,
  copies: false,
  clear: false,
  textOpen: false,
  audience: 'anyone',
  receipt: false,
  remindHours: 0,
  mayLoosen: { closing: false, identity: false, rights: false },
};

export const PresetScreen = ({ id }: { id: string }) => (
  <AdministratorsOnly title="Preset" sentence="Presets are made by the office’s administrators.">
    <OfPreset id={id} />
  </AdministratorsOnly>
);

function OfPreset({ id }: { id: string }) {
  const { data: presets, error } = usePresets();
  if (presets === undefined)
    return (
      <Screen title="Preset" back={back}>
        {error === undefined ? (
          <Loading what="Fetching the preset" />
        ) : (
          <Banner tone="brick">{problemWords(error)}</Banner>
        )}
      </Screen>
    );
  const known = presets.find((one) => one.id === id);
  if (known === undefined && id !== 'new')
    return (
      <Screen title="Not here" back={back}>
        <Text>This preset has been removed.</Text>
      </Screen>
    );
  return (
    <PresetForm known={known} taken={presets.filter((one) => one.id !== id).map(({ name }) => name.toLowerCase())} />
  );
}

/** Whose it is to choose; shown where anybody has a department. */
function ForDepartments({
  chosen,
  onChange,
}: {
  chosen: readonly string[];
  onChange: (departments: string[]) => void;
}) {
  const { data: colleagues = [] } = useColleagues();
  const known = departmentsOf([...colleagues, { departments: [...chosen] }]);
  if (known.length === 0) return null;
  return (
    <View role="group" aria-label="For whom to choose">
      <Text kind="label" tone="soft">
        For whom to choose
      </Text>
      <Row>
        {known.map((one) => (
          <Chip key={one} label={one} on={chosen.includes(one)} onPress={() => onChange(toggled(chosen, one))} />
        ))}
      </Row>
      <Text kind="small" tone="soft">
        {chosen.length === 0 ? 'Everybody here.' : `Only ${listed(chosen, 'and')}.`}
      </Text>
    </View>
  );
}

type Wrong = Partial<Record<'name' | 'sentence' | 'remind' | 'all', string>>;

interface Values {
  name: string;
  sentence: string;
  active: boolean;
  /** As it is typed; empty for none. */
  remind: string;
  terms: PresetTerms;
  alsoHeld: boolean;
}

const valuesOf = (known: Preset | undefined): Values => ({
  name: known?.name ?? '',
  sentence: known?.sentence ?? '',
  active: known?.active ?? true,
  remind: known === undefined || known.terms.remindHours === 0 ? '' : String(known.terms.remindHours),
  terms: known?.terms ?? newTerms,
  alsoHeld: false,
});

const hoursOf = ({ remind }: Values): number => (remind.trim() === '' ? 0 : Number(remind));

function wrongIn(values: Values, taken: readonly string[]): Wrong {
  const [name, hours] = [values.name.trim(), hoursOf(values)];
  return {
    ...(name === ''
      ? { name: 'Give it a name that says what it is for.' }
      : taken.includes(name.toLowerCase())
        ? { name: 'Another preset has this name.' }
        : {}),
    ...(values.sentence.trim() === '' ? { sentence: 'Say in one sentence what it does and when to use it.' } : {}),
    ...(Number.isInteger(hours) && hours >= 0 && hours <= MAX_REMIND_HOURS
      ? {}
      : { remind: `Whole hours, at most ${MAX_REMIND_HOURS}.` }),
  };
}

/** What stands in the form, and keeping or removing it. */
function usePresetForm(known: Preset | undefined, taken: readonly string[]) {
  const [values, setValues] = useState(() => valuesOf(known));
  const [wrong, setWrong] = useState<Wrong>({});
  const [busy, setBusy] = useState(false);
  const change = (changed: Partial<Values>): void => setValues((before) => ({ ...before, ...changed }));
  const set = (changed: Partial<PresetTerms>): void =>
    setValues((before) => ({ ...before, terms: { ...before.terms, ...changed } }));
  const act = async (does: () => Promise<unknown>): Promise<void> => {
    const goOn = fromHere();
    setBusy(true);
    try {
      await does();
      await mutate('presets');
      goOn('/office');
    } catch (problem) {
      setWrong({ all: problemWords(problem) });
      setBusy(false);
    }
  };
  const save = async (): Promise<void> => {
    const found = wrongIn(values, taken);
    setWrong(found);
    if (Object.keys(found).length > 0) return;
    const { name, sentence, terms, active, alsoHeld } = values;
    await act(() =>
      api(putPreset, {
        params: { id: known?.id ?? crypto.randomUUID() },
        body: {
          name: name.trim(),
          sentence: sentence.trim(),
          terms: { ...terms, remindHours: hoursOf(values) },
          active,
          alsoHeld,
        },
      }),
    );
  };
  const remove = (): Promise<void> => act(() => api(deletePreset, { params: { id: known!.id } }));
  return { values, wrong, busy, change, set, save, remove };
}
type Form = ReturnType<typeof usePresetForm>;

const Called = ({ values: { name, sentence, active }, wrong, change }: Form) => (
  <InPanel title="What it is called">
    <Field
      label="Name"
      value={name}
      onChangeText={(next) => change({ name: next })}
      maxLength={60}
      error={wrong.name}
    />
    <Field
      label="One sentence"
      value={sentence}
      onChangeText={(next) => change({ sentence: next.replace(/[\r\n]+/g, ' ') })}
      maxLength={240}
      multiline
      hint="What it does and when to use it; workers read it when they choose."
      error={wrong.sentence}
    />
    <Check
      label="In use"
      detail="Switched off, it is kept and offered to nobody"
      value={active}
      onChange={(next) => change({ active: next })}
    />
  </InPanel>
);

const WhomAndUntilWhen = ({ values: { terms }, set }: Form) => (
  <InPanel title="For whom and until when">
    <Choice
      label="For whom"
      value={terms.audience}
      onChange={(audience) => set({ audience })}
      options={(['anyone', 'outsiders', 'staff'] as const).map((value) => ({ value, label: audienceWords[value] }))}
    />
    <ForDepartments chosen={terms.departments ?? []} onChange={(departments) => set({ departments })} />
    <Choice
      label="Closes at the latest"
      value={terms.closing.kind}
      onChange={(kind) => set({ closing: { kind } })}
      options={OFFICE_CLOSINGS.map((value) => ({ value, label: closingWords[value] }))}
    />
  </InPanel>
);

const Handling = ({ values: { terms }, set }: Form) => (
  <>
    <InPanel title="Identity check">
      <IdentityForm check={terms.check} question={terms.question} onChange={set} />
    </InPanel>
    <InPanel title="What readers may do">
      <RightsForm
        rights={terms.rights}
        watermark={terms.watermark}
        copies={terms.copies}
        clear={terms.clear}
        textOpen={terms.textOpen}
        onChange={set}
      />
    </InPanel>
    <Section title="What a worker may loosen">
      <Panel>
        <Line last>
          {LOOSENABLE.map((part) => (
            <Check
              key={part}
              label={loosenWords[part].label}
              detail={loosenWords[part].detail}
              value={terms.mayLoosen[part]}
              onChange={(value) => set({ mayLoosen: { ...terms.mayLoosen, [part]: value } })}
            />
          ))}
        </Line>
      </Panel>
    </Section>
  </>
);

const ComesBack = ({ values: { terms, remind }, wrong, set, change }: Form) => (
  <InPanel title="What comes back">
    <Check
      label="Receipt to the sender"
      detail="A mail when a reader opens it for the first time; it says who and when, nothing of the content"
      value={terms.receipt}
      onChange={(receipt) => set({ receipt })}
    />
    <Check
      label="Readers confirm that they have read it"
      detail="They are asked to press a button below the message; that is kept with the message and stands in its statement of delivery"
      value={terms.confirm === true}
      onChange={(confirm) => set({ confirm })}
    />
    <Check
      label="Readers may choose how we write to them"
      detail="Below the message they say how they want what comes next: here, as a locked file, or to a certificate or key. It goes into the office book; a handling that asks for more still decides"
      value={terms.choose === true}
      onChange={(choose) => set({ choose })}
    />
    <Field
      label="Remind hours before closing"
      value={remind}
      onChangeText={(next) => change({ remind: next })}
      inputMode="numeric"
      code
      hint="Whoever has not opened it gets one more mail; leave it empty for none."
      error={wrong.remind}
    />
  </InPanel>
);

const SentBefore = ({ values: { alsoHeld }, change }: Form) => (
  <InPanel title="What was sent before">
    <Check
      label="Also for what is held"
      detail={
        alsoHeld
          ? 'From now on, moving a closing date or letting somebody else read follows this version, whenever the message was sent'
          : 'Messages sent before keep to the preset as it was when they were sent'
      }
      value={alsoHeld}
      onChange={(next) => change({ alsoHeld: next })}
    />
  </InPanel>
);

function RemoveDialog({
  name,
  open,
  onRemove,
  onClose,
}: {
  name: string;
  open: boolean;
  onRemove: () => void;
  onClose: () => void;
}) {
  return (
    <Dialog
      title={`Remove “${name}”?`}
      open={open}
      onClose={onClose}
      actions={
        <>
          <Button kind="stop" label="Remove" onPress={onRemove} />
          <Button label="Keep" onPress={onClose} />
        </>
      }
    >
      <Text>Messages sent under it stay as they are and keep to it. Drafts that chose it go back to the default.</Text>
    </Dialog>
  );
}

function PresetForm({ known, taken }: { known: Preset | undefined; taken: string[] }) {
  const form = usePresetForm(known, taken);
  const [removing, setRemoving] = useState(false);
  const { values, wrong, busy, save, remove } = form;
  const hours = hoursOf(values);
  return (
    <Screen title={known === undefined ? 'New preset' : known.name} back={back}>
      <Text kind="small" tone="soft">
        {presetSentence({ ...values.terms, remindHours: Number.isInteger(hours) && hours > 0 ? hours : 0 })}
      </Text>
      <Called {...form} />
      <WhomAndUntilWhen {...form} />
      <Handling {...form} />
      <ComesBack {...form} />
      {known === undefined ? null : <SentBefore {...form} />}
      <Result said={wrong.all} />
      <Row>
        <Button kind="main" label="Keep the preset" onPress={() => void save()} busy={busy} />
        {known === undefined ? null : <Button kind="stop" label="Remove it" onPress={() => setRemoving(true)} />}
      </Row>
      <RemoveDialog
        name={values.name}
        open={removing}
        onRemove={() => {
          setRemoving(false);
          void remove();
        }}
        onClose={() => setRemoving(false)}
      />
    </Screen>
  );
}
