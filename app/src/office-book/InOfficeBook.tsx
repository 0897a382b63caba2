/** A person of one's own and the office book: sharing them, and both sides of a difference. */
import { differences, onlyIn, shared, type BookField, type BookPerson } from '@under-lock/core/office-book/person';
import { defined } from '@under-lock/core/defined';
import { entryFor, type PasswordEntry } from '@under-lock/core/passwords/entry';
import { personAt } from '@under-lock/core/people/find';
import { type Person } from '@under-lock/core/people/kept-person';
import { type Kept } from '@under-lock/core/vault/kept';
import { Button, Check, Result, Row, Section, Stack, Text } from '@under-lock/ui';
import { router } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { languageWords } from '../people/words';
import { rememberPerson, usePeople } from '../people/person';
import { usePasswords } from '../passwords/usePasswords';
import { useOpenSession } from '../session/session';
import { useAttempt } from '../shell/useAttempt';
import { isIn, keepInBook, useBookPeople, useBookStand } from './useBook';
import { fieldWords, listed } from './words';

/** What stands there, short enough for a line. */
function inWords(field: BookField, person: Person | BookPerson): string {
  const value = (person as Partial<Record<BookField, unknown>>)[field];
  if (field === 'certificates' || field === 'keys') return `${(value as unknown[]).length} kept`;
  if (field === 'language') return languageWords[value as keyof typeof languageWords];
  return typeof value === 'string' ? value : 'another one';
}

export function InOfficeBook({ own }: { own: Person }) {
  const { data: stand } = useBookStand();
  const { data: book } = useBookPeople();
  if (!isIn(stand) || book === undefined) return null;
  const known = personAt(book, own.address) as Kept<BookPerson> | undefined;
  return (
    <Section title="Office book">
      {known === undefined ? <Share own={own} /> : <Both own={own} known={known} />}
    </Section>
  );
}

/** Of an entry of one's own password book, what the office is told. */
const agreedIn = ({ password, guesses, since, toldAt }: PasswordEntry): BookPerson['password'] => ({
  password,
  guesses,
  since,
  ...defined({ toldAt }),
});

function useShare(own: Person) {
  const { account } = useOpenSession();
  const { data: passwords = [] } = usePasswords();
  const entry = entryFor(passwords, own.address, 'out')?.value;
  return {
    entry,
    share: (withPassword: boolean) =>
      keepInBook(
        own.address,
        (before) => ({
          ...shared(own, before),
          ...(withPassword && entry !== undefined ? { password: agreedIn(entry) } : {}),
        }),
        { by: { id: account.id, name: account.name }, what: 'shared' },
      ),
  };
}

function Share({ own }: { own: Person }) {
  const { entry, share } = useShare(own);
  const [withPassword, setWithPassword] = useState(true);
  const { busy, said, attempt } = useAttempt();
  return (
    <Stack>
      <Text kind="small" tone="soft">
        Colleagues don’t know this person yet. Sharing gives them the name, addresses, phone, certificates and keys that
        you keep; what is yours stays yours.
      </Text>
      {entry === undefined ? null : (
        <Check label="With the agreed password for locked files" value={withPassword} onChange={setWithPassword} />
      )}
      <Row>
        <Button
          label="Share with the office"
          busy={busy}
          onPress={() => void attempt(() => share(entry !== undefined && withPassword))}
        />
      </Row>
      <Result said={said} />
    </Stack>
  );
}

/** Field by field where they say something else; what only one side knows in a line each. */
function Both({ own, known: { id, value } }: { own: Person; known: Kept<BookPerson> }) {
  const { share } = useShare(own);
  const { data: people = [] } = usePeople();
  const { account } = useOpenSession();
  const { busy, said, attempt } = useAttempt();
  const other = differences(own, value);
  const [mine, theirs] = [onlyIn(own, value), onlyIn(value, own)];
  const take = (field: BookField): Promise<unknown> =>
    rememberPerson(people, { ...own, [field]: value[field] } as Person);
  const give = (field: BookField): Promise<unknown> =>
    keepInBook(
      own.address,
      (before) => ({ ...(before ?? shared(own, undefined)), [field]: own[field as keyof Person] }),
      {
        by: { id: account.id, name: account.name },
        what: 'changed',
      },
    );
  return (
    <Stack>
      {other.length + mine.length + theirs.length === 0 ? (
        <Text kind="small" tone="soft">
          The office book says the same.
        </Text>
      ) : null}
      {other.map((field) => (
        <View key={field}>
          <Text kind="small">
            {`You keep the ${fieldWords[field]} `}
            <Text kind="strong">{inWords(field, own)}</Text>
            {', the office book '}
            <Text kind="strong">{inWords(field, value)}</Text>.
          </Text>
          <Row>
            <Button
              kind="quiet"
              label="Take the office’s"
              describe={`Take the office’s ${fieldWords[field]}`}
              busy={busy}
              onPress={() => void attempt(() => take(field))}
            />
            <Button
              kind="quiet"
              label="Give it mine"
              describe={`Give it mine: ${fieldWords[field]}`}
              busy={busy}
              onPress={() => void attempt(() => give(field))}
            />
          </Row>
        </View>
      ))}
      {theirs.length === 0 ? null : (
        <Text
          kind="small"
          tone="soft"
        >{`The office book knows beside it: ${listed(theirs)}. Your plans use that.`}</Text>
      )}
      {mine.length === 0 ? null : (
        <Row>
          <Text kind="small" tone="soft">{`Only you know: ${listed(mine)}.`}</Text>
          <Button kind="quiet" label="Share that, too" busy={busy} onPress={() => void attempt(() => share(false))} />
        </Row>
      )}
      <Row>
        <Button
          kind="quiet"
          label="Their page in the office book"
          onPress={() => router.push(`/people/office/${id}` as never)}
        />
      </Row>
      <Result said={said} />
    </Stack>
  );
}
