/** A person's details, to be changed; the whole of the page for a new one. */
import { type Person } from '@under-lock/core/people/kept-person';
import { type Kept } from '@under-lock/core/vault/kept';
import { Button, OnEnter, Result, Row, Stack } from '@under-lock/ui';
import { useState } from 'react';
import { problemWords } from '../problem-words';
import { useOpenSession } from '../session/session';
import { offerUndo } from '../shell/Undo';
import { keepItem } from '../vault/useVault';
import { forgetPerson } from '../people/person';
import { type PersonErrors, personTyped, typedOf } from '../people/person-typed';
import { PersonFields } from './PersonFields';
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
        <PersonFields typed={typed} errors={errors} onChange={set} />
        <Result said={errors.all} />
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
      <Result said={failed} />
    </>
  );
}
