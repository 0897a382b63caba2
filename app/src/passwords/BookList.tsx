/** The password book: what has been agreed with whom, for which direction. A list and a page for each entry. */
import { type PasswordEntry } from '@under-lock/core/passwords/entry';
import { type Kept } from '@under-lock/core/vault/kept';
import { Button, Empty, Field, StateMark, Text } from '@under-lock/ui';
import { LockShape } from '@under-lock/ui/lock-shape';
import { router } from 'expo-router';
import { later } from '@under-lock/ui/later';
import { type ReactNode, useState } from 'react';
import { Listed } from '../shell/Listed';
import { ListIndex } from '../shell/ListAndPage';
import { ListLine } from '../shell/ListLine';
import { ListRow, ListScreen } from '../shell/ListScreen';
import { useInParts } from '../shell/useInParts';
import { Screen } from '../shell/Screen';
import { WayLink } from '../shell/WayLink';
import { useNameOf } from './useNameOf';
import { useFileRules } from './useFileRules';
import { usePasswords } from './usePasswords';
import { directionWords, strengthWords } from './words';

const FEW = 6;

// What reads and writes tables comes after the list.
const MoveBook = later(async () => (await import('./MoveBook')).MoveBook);

export function BookList({ children }: { children?: ReactNode }) {
  const { data: book, error } = usePasswords();
  const { data: rules } = useFileRules();
  const nameOf = useNameOf();
  const [search, setSearch] = useState('');
  const wanted = search.trim().toLowerCase();
  const shown = book
    ?.filter(({ value }) => `${nameOf(value.address)} ${value.address} ${value.note}`.toLowerCase().includes(wanted))
    .sort(
      (a, b) =>
        nameOf(a.value.address).localeCompare(nameOf(b.value.address)) ||
        b.value.direction.localeCompare(a.value.direction),
    );
  const { part, foot } = useInParts(shown, wanted);
  return (
    <ListScreen
      title="Password book"
      back={<WayLink href="/keys" label="Keys" />}
      aside={<Button label="Add a password" onPress={() => router.push('/keys/passwords/new' as never)} />}
    >
      {(book?.length ?? 0) > FEW ? (
        <ListRow>
          <Field label="Find a password" value={search} onChangeText={setSearch} hint="By name, address or note" />
        </ListRow>
      ) : null}
      <Listed
        items={rules === undefined ? undefined : part}
        error={error}
        fetching="Opening the password book"
        empty={wanted === '' ? <NoPasswords /> : <Empty title="No match">{`Nothing here fits “${search}”.`}</Empty>}
      >
        {(entry, last) => (
          <EntryLine
            key={entry.id}
            entry={entry}
            who={nameOf(entry.value.address)}
            leastGuesses={rules!.leastGuesses}
            last={last}
          />
        )}
      </Listed>
      {foot}
      {children}
    </ListScreen>
  );
}

const NoPasswords = () => (
  <Empty title="None yet">A password you use for a locked file is kept here, unless you say otherwise.</Empty>
);

interface LineProps {
  entry: Kept<PasswordEntry>;
  who: string;
  leastGuesses: number;
  last: boolean;
}

function EntryLine({ entry: { id, value }, who, leastGuesses, last }: LineProps) {
  const isOurs = value.direction === 'out';
  const strength = strengthWords(value.guesses, leastGuesses);
  return (
    <ListLine
      href={`/keys/passwords/${id}`}
      label={`${who}, ${directionWords[value.direction]}`}
      title={who}
      shapes={<LockShape shape="sheet" state={isOurs && value.toldAt === undefined ? 'outline' : 'filled'} />}
      about={directionWords[value.direction]}
      mark={
        !isOurs ? null : value.toldAt === undefined ? (
          <StateMark tone="wants" word="Not told yet" />
        ) : (
          <StateMark tone="done" word="They know it" />
        )
      }
      last={last}
    >
      {isOurs && strength.tone === 'amber' ? <Text kind="small" tone="amber">{`▲ ${strength.text}`}</Text> : null}
    </ListLine>
  );
}

/** What concerns the whole book: what it is, and taking it in and out. */
export function BookIndex() {
  const { data: book } = usePasswords();
  const move = book === undefined ? null : <MoveBook book={book} />;
  return (
    <ListIndex list={<BookList>{move}</BookList>}>
      <Screen title="The book as a whole">
        <Text tone="soft">
          What you have agreed with others for locked files: one password for what you send them, one for what they send
          you. Sealed in your vault; it never goes by mail.
        </Text>
        {move}
      </Screen>
    </ListIndex>
  );
}
