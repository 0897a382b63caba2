/** A person's details, to be changed; the whole of the page for a new one. */
import { LANGUAGES } from '@under-lock/core/language';
import { type Person } from '@under-lock/core/people/kept-person';
import { type Kept } from '@under-lock/core/vault/kept';
import { Banner, Button, Choice, Field, OnEnter, Row, Stack } from '@under-lock/ui';
import { useState } from 'react';
import { problemWords } from '../problem-words';
import { useOpenSession } from '../session/session';
import { offerUndo } from '../shell/Undo';
import { keepItem } from '../vault/useVault';
import { forgetPerson } from '../people/person';
import { type PersonErrors, personTyped, typedOf } from '../people/person-typed';
import { PhoneInput } from '../phone/PhoneInput';
import { languageWords } from '../people/words';
import { fromHere } from '../shell/from-here';

interface Props {
  known: Kept<Person> | undefined;
  people: Kept<Person>[];
  /** With the number they are kept under, and the way to go on. */
  onKept: (id: string, goOn: (href: string) => void) => void;
}

export function PersonForm({ known, people, onKept }: Props) {
  const { account } = useOpenSession();
  const [typed, setTyped] = useState(() => typedOf(known?.value));
  const [errors, setErrors] = useState<PersonErrors & { all?: string }>({});
  const [busy, setBusy] = useState(false);
  const set = (change: Partial<typeof typed>): void => setTyped((before) => ({ ...before, ...change }));
  const save = async (): Promise<void> => {
    const checked = personTyped(typed, known, people, account);
    setErrors('errors' in checked ? checked.errors : {});
    if ('errors' in checked) return;
    const goOn = fromHere();
    setBusy(true);
    try {
      const id = known?.id ?? crypto.randomUUID();
      await keepItem('person', id, known?.revision ?? 0, checked.person);
      onKept(id, goOn);
    } catch (error) {
      setErrors({ all: problemWords(error) });
    }
    setBusy(false);
  };
  return (
    <OnEnter does={busy ? undefined : () => void save()}>
      <Stack>
        <Field label="Name" value={typed.name} onChangeText={(name) => set({ name })} autoComplete="off" />
        <Field
          label="Address"
          value={typed.address}
          onChangeText={(address) => set({ address })}
          inputMode="email"
          autoCapitalize="none"
          autoComplete="off"
          error={errors.address}
        />
        <PhoneInput
          label="Phone for passcodes"
          value={typed.phone}
          onChange={(phone) => set({ phone })}
          error={errors.phone}
        />
        <Field
          label="Second address for passcodes"
          value={typed.second}
          onChangeText={(second) => set({ second })}
          inputMode="email"
          autoCapitalize="none"
          autoComplete="off"
          hint="Another mailbox of the same person, not one that shares a password with the first."
          error={errors.second}
        />
        <Choice
          label="Language of notices"
          value={typed.language}
          onChange={(language) => set({ language })}
          row
          options={LANGUAGES.map((value) => ({ value, label: languageWords[value] }))}
        />
        {errors.all === undefined ? null : <Banner tone="brick">{errors.all}</Banner>}
        <Row>
          <Button kind="main" label="Keep" onPress={() => void save()} busy={busy} />
          {known === undefined ? null : <Forget known={known} />}
        </Row>
      </Stack>
    </OnEnter>
  );
}

/** At once: it can be had back. Messages already sent stay readable for them until they close. */
function Forget({ known: { id, value } }: { known: Kept<Person> }) {
  const [failed, setFailed] = useState<string | undefined>();
  const forget = async (): Promise<void> => {
    const goOn = fromHere();
    try {
      await forgetPerson(id);
      offerUndo(`${value.name || value.address} is forgotten.`, () => keepItem('person', id, 0, value));
      goOn('/people');
    } catch (problem) {
      setFailed(problemWords(problem));
    }
  };
  return (
    <>
      <Button kind="stop" label="Forget this person" onPress={() => void forget()} />
      {failed === undefined ? null : <Banner tone="brick">{failed}</Banner>}
    </>
  );
}
