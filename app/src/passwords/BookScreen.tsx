/** The password book: what has been agreed with whom, for which direction. Nothing is shown before it is asked for. */
import { checkAddress } from '@under-lock/core/people/address';
import { Banner, Button, Choice, Empty, Field, Line, Loading, Panel, Row, Section, Stack, Text } from '@under-lock/ui';
import { useState } from 'react';
import { useNow } from '../clock';
import { personAt } from '@under-lock/core/people/find';
import { usePeople } from '../people/person';
import { addressProblem } from '../people/words';
import { problemWords } from '../problem-words';
import { Screen } from '../shell/Screen';
import { WayLink } from '../shell/WayLink';
import { type Direction } from '@under-lock/core/passwords/entry';
import { EntryLine } from './EntryLine';
import { MoveBook } from './MoveBook';
import { PasswordForm } from './PasswordForm';
import { TheirPassword } from './TheirPassword';
import { useFileRules } from './useFileRules';
import { entryFor, type Book } from '@under-lock/core/passwords/entry';
import { rememberPassword, usePasswords } from './usePasswords';
import { directionWords } from './words';

export function BookScreen() {
  const now = useNow();
  const { data: book, error } = usePasswords();
  const { data: people } = usePeople();
  const { data: rules } = useFileRules();
  const [search, setSearch] = useState('');
  const [adding, setAdding] = useState(false);
  const nameOf = (address: string): string => personAt(people ?? [], address)?.value.name || address;
  const wanted = search.trim().toLowerCase();
  const shown = (book ?? [])
    .filter(({ value }) => `${nameOf(value.address)} ${value.address} ${value.note}`.toLowerCase().includes(wanted))
    .sort(
      (a, b) =>
        nameOf(a.value.address).localeCompare(nameOf(b.value.address)) ||
        b.value.direction.localeCompare(a.value.direction),
    );
  return (
    <Screen
      title="Password book"
      back={<WayLink href="/keys" label="Keys" />}
      aside={adding ? null : <Button label="Add a password" onPress={() => setAdding(true)} />}
    >
      <Text tone="soft">
        What you have agreed with others for locked files: one password for what you send them, one for what they send
        you. Sealed in your vault; it never goes by mail.
      </Text>
      {error === undefined ? null : <Banner tone="brick">{problemWords(error)}</Banner>}
      {book === undefined || rules === undefined ? (
        error === undefined ? (
          <Loading what="Opening the password book" />
        ) : null
      ) : (
        <>
          {adding ? (
            <NewEntry book={book} leastGuesses={rules.leastGuesses} nameOf={nameOf} onDone={() => setAdding(false)} />
          ) : null}
          {book.length > 6 ? (
            <Field label="Find a password" value={search} onChangeText={setSearch} hint="By name, address or note" />
          ) : null}
          <Panel>
            {book.length === 0 ? (
              <Empty title="None yet">
                A password you use for a locked file is kept here, unless you say otherwise.
              </Empty>
            ) : shown.length === 0 ? (
              <Empty title="No match">{`Nothing here fits “${search}”.`}</Empty>
            ) : (
              shown.map((entry, index) => (
                <EntryLine
                  key={entry.id}
                  entry={entry}
                  who={nameOf(entry.value.address)}
                  leastGuesses={rules.leastGuesses}
                  now={now}
                  last={index === shown.length - 1}
                />
              ))
            )}
          </Panel>
          <MoveBook book={book} />
        </>
      )}
    </Screen>
  );
}

function NewEntry({
  book,
  leastGuesses,
  nameOf,
  onDone,
}: {
  book: Book;
  leastGuesses: number;
  nameOf: (address: string) => string;
  onDone: () => void;
}) {
  const [typed, setTyped] = useState('');
  const [direction, setDirection] = useState<Direction>('out');
  const checked = checkAddress(typed);
  const address = checked.ok ? checked.address : undefined;
  const known = address === undefined ? undefined : entryFor(book, address, direction);
  const keep = async (password: string, guesses: number, told: boolean): Promise<void> => {
    await rememberPassword(
      book,
      { address: address!, direction, password, guesses, ...(told ? { toldAt: new Date().toISOString() } : {}) },
      new Date(),
    );
    onDone();
  };
  return (
    <Section title="A new password">
      <Panel>
        <Line last>
          <Stack>
            <Field
              label="Address of the person"
              value={typed}
              onChangeText={setTyped}
              inputMode="email"
              autoCapitalize="none"
              autoComplete="off"
              error={typed === '' || checked.ok ? undefined : addressProblem[checked.problem]}
            />
            <Choice
              row
              label="For"
              value={direction}
              onChange={setDirection}
              options={(['out', 'in'] as const).map((value) => ({ value, label: directionWords[value] }))}
            />
            {known === undefined ? null : (
              <Text kind="small" tone="amber">
                ▲ There is one already. It goes into the history, so that what came or went under it still opens.
              </Text>
            )}
            {address === undefined ? null : direction === 'out' ? (
              <PasswordForm
                key={address}
                who={nameOf(address)}
                known={[nameOf(address), address]}
                leastGuesses={leastGuesses}
                kind="words"
                telling="agreed"
                remember
                onUse={({ password, guesses, telling }) => keep(password, guesses, telling === 'agreed')}
              />
            ) : (
              <TheirPassword who={nameOf(address)} onKeep={(password, guesses) => keep(password, guesses, true)} />
            )}
            <Row>
              <Button kind="quiet" label="Not now" describe="Not now: no new password" onPress={onDone} />
            </Row>
          </Stack>
        </Line>
      </Panel>
    </Section>
  );
}
