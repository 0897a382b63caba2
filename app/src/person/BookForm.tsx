/** A person of the office book, to be written or changed. */
import { type BookPerson } from '@under-lock/core/office-book/person';
import { type Kept } from '@under-lock/core/vault/kept';
import { Banner, Button, Field, OnEnter, Row, Stack } from '@under-lock/ui';
import { useState } from 'react';
import { PersonFields } from './PersonFields';
import { type PersonErrors, personTyped, typedOf } from '../people/person-typed';
import { useOpenSession } from '../session/session';
import { fromHere } from '../shell/from-here';
import { useActing } from '../office-book/useActing';
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

export function BookForm({ known, people, onKept }: Props) {
  const { account } = useOpenSession();
  const [typed, setTyped] = useState(() => typedOf(known?.value));
  const [firm, setFirm] = useState(known?.value.firm ?? '');
  const [note, setNote] = useState(known?.value.note ?? '');
  const [errors, setErrors] = useState<PersonErrors>({});
  const { busy, failed, act } = useActing();
  const save = async (): Promise<void> => {
    const checked = personTyped(typed, known, people, account);
    setErrors('errors' in checked ? checked.errors : {});
    if ('errors' in checked) return;
    const goOn = fromHere();
    let id = known?.id;
    const kept = await act(async () => {
      id = await keepInBook(
        checked.person.address,
        (before) => {
          const {
            changes: _,
            firm: _firm,
            note: _note,
            phone: _phone,
            secondAddress: _second,
            language: _language,
            ...rest
          } = before ?? { changes: [] };
          const next = {
            ...rest,
            ...checked.person,
            firm: filled(firm, MOST_SIGNS.firm),
            note: filled(note, MOST_SIGNS.note),
          };
          return Object.fromEntries(Object.entries(next).filter(([, value]) => value !== undefined)) as typeof next;
        },
        { by: { id: account.id, name: account.name }, what: 'changed' },
        known?.id,
      );
    });
    if (kept) onKept(id!, goOn);
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
        {failed === undefined ? null : <Banner tone="brick">{failed}</Banner>}
        <Row>
          <Button kind="main" label="Keep" onPress={() => void save()} busy={busy} />
        </Row>
      </Stack>
    </OnEnter>
  );
}
