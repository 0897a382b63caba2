/** How a person gets locked files, and the passwords agreed with them. */
import { wayFor } from '@under-lock/core/locks/file/rules';
import { Banner, Button, Line, Loading, Panel, Result, Row, Stack, StateMark, Text } from '@under-lock/ui';
import { router } from 'expo-router';
import { useState } from 'react';
import { FileWayForm } from '../passwords/FileWayForm';
import { useFileRules } from '../passwords/useFileRules';
import { entryFor } from '@under-lock/core/passwords/entry';
import { usePasswords } from '../passwords/usePasswords';
import { waySentence } from '../passwords/words';
import { problemWords } from '../problem-words';
import { type Person } from '@under-lock/core/people/kept-person';
import { useAttempt } from '../shell/useAttempt';

function PasswordsHeld({ book, address }: { book: Parameters<typeof entryFor>[0]; address: string }) {
  const [out, back] = [entryFor(book, address, 'out'), entryFor(book, address, 'in')];
  return (
    <Row>
      {out === undefined ? (
        <StateMark tone="over" word="no password for what we send" />
      ) : (
        <StateMark
          tone={out.value.toldAt === undefined ? 'wants' : 'done'}
          word={out.value.toldAt === undefined ? 'password not told yet' : 'password for what we send'}
        />
      )}
      {back === undefined ? null : <StateMark tone="done" word="password for what they send" />}
    </Row>
  );
}

export function PersonFiles({
  person,
  onChange,
}: {
  person: Person;
  onChange: (change: Pick<Person, 'fileWay'>) => Promise<void>;
}) {
  const { data: rules, error: rulesError } = useFileRules();
  const { data: book, error: bookError } = usePasswords();
  const [open, setOpen] = useState(false);
  const { said, attempt } = useAttempt();
  if (rules === undefined || book === undefined) {
    const missing: unknown = rulesError ?? bookError;
    return (
      <Stack>
        {missing === undefined ? (
          <Loading what="Opening the password book" />
        ) : (
          <Banner tone="brick">{problemWords(missing)}</Banner>
        )}
      </Stack>
    );
  }
  const way = wayFor(rules, person.address, person.fileWay);
  return (
    <Stack>
      <Panel>
        <Line last>
          <Stack>
            <Text>{`${waySentence(way)}.`}</Text>
            <PasswordsHeld book={book} address={person.address} />
            {person.fileWay === undefined ? (
              <Text kind="small" tone="soft">
                The office’s usual way.
              </Text>
            ) : null}
            {open ? (
              <FileWayForm
                way={way}
                legacyAllowed={rules.legacyAllowed}
                onChange={(fileWay) => void attempt(() => onChange({ fileWay }))}
              />
            ) : null}
            <Result said={said} />
            <Row>
              <Button
                label={open ? 'Done' : 'Change'}
                describe={`${open ? 'Done changing' : 'Change'} how they get locked files`}
                expanded={open}
                onPress={() => setOpen(!open)}
              />
              {person.fileWay === undefined ? null : (
                <Button
                  kind="quiet"
                  label="The office’s usual way"
                  describe="The office’s usual way for their locked files"
                  onPress={() => void attempt(() => onChange({ fileWay: undefined }))}
                />
              )}
              <Button
                kind="quiet"
                label="Password book"
                describe="Password book, all passwords"
                onPress={() => router.push('/keys/passwords' as never)}
              />
            </Row>
          </Stack>
        </Line>
      </Panel>
    </Stack>
  );
}
