/** A person of the office book, to be written or changed. */
import { defined } from '@under-lock/core/defined';
import { type BookPerson } from '@under-lock/core/office-book/person';
import { type Kept } from '@under-lock/core/vault/kept';
import { Button, Field, OnEnter, Result, Row, Stack } from '@under-lock/ui';
import { useState } from 'react';
import { PersonFields } from './PersonFields';
import { type PersonErrors, personTyped, typedOf } from '../people/person-typed';
import { useOpenSession } from '../session/session';
import { fromHere } from '../shell/from-here';
import { useAttempt } from '../shell/useAttempt';
import { keepInBook } from '../office-book/useBook';

interface Props {
  known: Kept<BookPerson> | undefined;
  people: readonly Kept<BookPerson>[];
  onKept: (id: string, goOn: (href: string) => void) => void;
}

const MOST_SIGNS = { firm: 200, note: 2_000 };

/** What was left empty is not there. */
const filled = (typed: string, most: number): string | undefined => {
  const text = typed.trim().slice(0, most);
  return text === '' ? undefined : text;
};

/** What the form does not show. */
function withoutShown(before: BookPerson | undefined): Partial<BookPerson> {
  if (before === undefined) return {};
  const {
    changes: _changes,
    firm: _firm,
    note: _note,
    phone: _phone,
    secondAddress: _second,
    language: _language,
    ...rest
  } = before;
  return rest;
}

export function BookForm({ known, people, onKept }: Props) {
  const { account } = useOpenSession();
  const [typed, setTyped] = useState(() => typedOf(known?.value));
  const [firm, setFirm] = useState(known?.value.firm ?? '');
  const [note, setNote] = useState(known?.value.note ?? '');
  const [errors, setErrors] = useState<PersonErrors>({});
  const { busy, said, attempt } = useAttempt();
  const save = async (): Promise<void> => {
    // Only what stands in the form: the rest is taken as the book has it then, whoever has written since.
    const shown = known && { ...known, value: { name: '', address: known.value.address } };
    const checked = personTyped(typed, shown, people, account);
    setErrors('errors' in checked ? checked.errors : {});
    if ('errors' in checked) return;
    const goOn = fromHere();
    await attempt(async () => {
      const id = await keepInBook(
        checked.person.address,
        (before) => ({
          ...withoutShown(before),
          ...checked.person,
          ...defined({ firm: filled(firm, MOST_SIGNS.firm), note: filled(note, MOST_SIGNS.note) }),
        }),
        { by: { id: account.id, name: account.name }, what: 'changed' },
        known?.id,
      );
      onKept(id, goOn);
    });
  };
  return (
    <OnEnter does={busy ? undefined : () => void save()}>
      <Stack>
        <PersonFields
          typed={typed}
          errors={errors}
          onChange={(change) => setTyped((before) => ({ ...before, ...change }))}
        />
        <Field label="Firm" value={firm} onChangeText={setFirm} autoComplete="off" />
        <Field label="Note for colleagues" value={note} onChangeText={setNote} multiline />
        <Result said={said} />
        <Row>
          <Button kind="main" label="Keep" onPress={() => void save()} busy={busy} />
        </Row>
      </Stack>
    </OnEnter>
  );
}
