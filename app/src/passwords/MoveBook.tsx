/**
 * The book out of the vault and back: as a table for other programs, or locked; what would change is shown before it is
 * taken.
 */
import {
  bookAsCsv,
  type BookLine,
  type BookProblem,
  compareBook,
  type LineProblem,
  readBook,
} from '@under-lock/core/passwords/book';
import { utf8 } from '@under-lock/core/bytes';
import { type PasswordPair } from '@under-lock/core/account/password-rules';
import {
  Banner,
  Button,
  Check,
  Choice,
  Dialog,
  Line,
  Panel,
  PasswordField,
  Row,
  Section,
  Stack,
  Text,
} from '@under-lock/ui';
import { useState } from 'react';
import { chosenFile } from '../keys/Backup';
import { useAttempt } from '../shell/useAttempt';
import { exported } from '../exported';
import { saveFile } from '../save-file';
import { NewPassword, passwordProblem } from '../session/NewPassword';
import { useOpenSession } from '../session/session';
import { keysDoor } from '../threads/keys/door';
import { reading } from '../threads/keys/reading';
import { takeLines } from './take-lines';
import { type Book } from '@under-lock/core/passwords/entry';

const FILE = 'password-book.csv';

const bookProblems: Record<BookProblem, string> = {
  'not-a-table': 'This table can’t be read: a quotation mark in it is never closed. Nothing was changed.',
  'columns-missing': 'There are no columns called “address” and “password” in its first line. Nothing was changed.',
  'too-large': 'This table is larger than any password book. Nothing was changed.',
};
const lineProblems: Record<LineProblem, string> = {
  address: 'no mail address',
  direction: 'a direction that is neither “we send” nor “they send”',
  'no-password': 'no password',
  'too-long': 'too long a password',
  twice: 'the same person and direction a second time',
};

/** More than anybody decides about singly. */
const MAX_ONE_BY_ONE = 100;
const lineWords = ({ address, direction }: BookLine): string =>
  `${address} (${direction === 'out' ? 'we send' : 'they send'})`;

interface Offer {
  fresh: BookLine[];
  differing: BookLine[];
  same: number;
  problems: { line: number; problem: LineProblem }[];
}

export function MoveBook({ book }: { book: Book }) {
  const { account } = useOpenSession();
  const { busy, said, say, attempt } = useAttempt();
  const [asking, setAsking] = useState<'plain' | 'locked' | undefined>();
  const [pair, setPair] = useState<PasswordPair>({ first: '', second: '' });
  const [pairError, setPairError] = useState<string | undefined>();
  const [locked, setLocked] = useState<Uint8Array<ArrayBuffer> | undefined>();
  const [password, setPassword] = useState('');
  const [offer, setOffer] = useState<Offer | undefined>();
  const [onConflict, setOnConflict] = useState<'ours' | 'theirs' | 'each'>('ours');
  const [picked, setPicked] = useState<ReadonlySet<BookLine>>(new Set());
  const wanted =
    offer === undefined
      ? []
      : [
          ...offer.fresh,
          ...offer.differing.filter((line) => onConflict === 'theirs' || (onConflict === 'each' && picked.has(line))),
        ];
  const csv = (): Uint8Array<ArrayBuffer> =>
    utf8(
      bookAsCsv(
        book.map(({ value: { address, direction, password: secret, note } }) => ({
          address,
          direction,
          password: secret,
          note,
        })),
      ),
    );

  const read = (bytes: Uint8Array): void => {
    const found = readBook(new TextDecoder().decode(bytes));
    if (!found.ok) return say({ tone: 'brick', text: bookProblems[found.problem] });
    setLocked(undefined);
    setPassword('');
    setOnConflict('ours');
    setPicked(new Set());
    setOffer({
      ...compareBook(
        book.map(({ value }) => value),
        found.lines,
      ),
      problems: found.problems,
    });
    return undefined;
  };
  const choose = (): Promise<void> =>
    attempt(async () => {
      const file = await chosenFile();
      if (file === undefined) return undefined;
      if ('problem' in file) return say({ tone: 'brick', text: file.problem });
      setOffer(undefined);
      const isLocked = file.bytes[0] === 0x50 && file.bytes[1] === 0x4b;
      setLocked(isLocked ? file.bytes : undefined);
      return isLocked ? undefined : read(file.bytes);
    });
  const unlock = (): Promise<void> =>
    attempt(async () => {
      const opened = await reading(locked!.length, (doors) => doors.file.open(locked!, [password]));
      if (opened.outcome === 'wrong-password' || opened.outcome === 'locked')
        return say({ tone: 'brick', text: 'This password does not open it.' });
      const table = opened.outcome === 'opened' ? opened.files.find(({ name }) => name.endsWith('.csv')) : undefined;
      if (table === undefined)
        return say({
          tone: 'brick',
          text: 'There is no password book in this file. Choose the one that was saved here.',
        });
      return read(table.bytes);
    });
  const take = (): Promise<void> =>
    attempt(async () => {
      const taken = await takeLines(book, wanted, new Date());
      setOffer(undefined);
      say({
        tone: 'sea',
        text: `Taken: ${taken} ${taken === 1 ? 'password' : 'passwords'}. What was there before is in each one’s history.`,
      });
    });
  const saveLocked = (): Promise<void> =>
    attempt(async () => {
      const problem = passwordProblem(pair, account.address);
      setPairError(problem);
      if (problem !== undefined) return;
      saveFile(
        await keysDoor().file.lockedTable(FILE, csv(), pair.first, new Date()),
        'password-book.zip',
        'application/zip',
      );
      exported('password-book');
      setAsking(undefined);
      setPair({ first: '', second: '' });
    });

  return (
    <Section title="Take it with you">
      <Text kind="small" tone="soft">
        As a locked file (a ZIP with AES-256, any unpacking program opens it) for another vault, or as a plain table for
        another program.
      </Text>
      <Row>
        <Button label="Save it locked" onPress={() => setAsking('locked')} disabled={book.length === 0} />
        <Button
          kind="quiet"
          label="Save it as a table"
          onPress={() => setAsking('plain')}
          disabled={book.length === 0}
        />
        <Button label="Bring one in" busy={busy} onPress={() => void choose()} />
      </Row>
      {said === undefined ? null : <Banner tone={said.tone}>{said.text}</Banner>}
      {locked === undefined ? null : (
        <Panel>
          <Line last>
            <Stack>
              <PasswordField
                label="Password of the file"
                value={password}
                onChangeText={setPassword}
                autoComplete="off"
                onSubmitEditing={() => void unlock()}
              />
              <Row>
                <Button
                  kind="main"
                  label="Open the file"
                  onPress={() => void unlock()}
                  busy={busy}
                  disabled={password === ''}
                />
                <Button label="Leave it" describe="Leave it: bring nothing in" onPress={() => setLocked(undefined)} />
              </Row>
            </Stack>
          </Line>
        </Panel>
      )}
      {offer === undefined ? null : (
        <Panel>
          <Line last>
            <Stack>
              <Text kind="strong">{`${offer.fresh.length} new, ${offer.differing.length} different from yours, ${offer.same} the same`}</Text>
              {offer.problems.slice(0, 10).map(({ line, problem }) => (
                <Text
                  key={line}
                  kind="small"
                  tone="amber"
                >{`▲ Line ${line} is left out: ${lineProblems[problem]}.`}</Text>
              ))}
              {offer.problems.length > 10 ? (
                <Text kind="small" tone="amber">{`▲ And ${offer.problems.length - 10} more lines.`}</Text>
              ) : null}
              {offer.differing.length === 0 ? null : (
                <>
                  <Text
                    kind="small"
                    tone="soft"
                  >{`Different: ${offer.differing.slice(0, 8).map(lineWords).join(', ')}${offer.differing.length > 8 ? ' …' : ''}`}</Text>
                  <Choice
                    label="Where they differ"
                    value={onConflict}
                    onChange={setOnConflict}
                    options={[
                      { value: 'ours', label: 'Keep mine' },
                      { value: 'theirs', label: 'Take those of the file', detail: 'Mine go into the history' },
                      ...(offer.differing.length > 1 && offer.differing.length <= MAX_ONE_BY_ONE
                        ? [{ value: 'each', label: 'Decide one by one' } as const]
                        : []),
                    ]}
                  />
                  {onConflict === 'each'
                    ? offer.differing.map((line) => (
                        <Check
                          key={lineWords(line)}
                          label={`Take the file’s for ${lineWords(line)}`}
                          value={picked.has(line)}
                          onChange={(takes) =>
                            setPicked(new Set(takes ? [...picked, line] : [...picked].filter((one) => one !== line)))
                          }
                        />
                      ))
                    : null}
                </>
              )}
              <Row>
                <Button
                  kind="main"
                  label="Take them"
                  busy={busy}
                  disabled={wanted.length === 0}
                  onPress={() => void take()}
                />
                <Button
                  label="Leave it"
                  describe="Leave it: take nothing of the file"
                  onPress={() => setOffer(undefined)}
                />
              </Row>
            </Stack>
          </Line>
        </Panel>
      )}
      <Dialog
        title="Save the passwords readable?"
        open={asking === 'plain'}
        onClose={() => setAsking(undefined)}
        actions={
          <>
            <Button
              kind="stop"
              label="Save it readable"
              onPress={() => {
                saveFile(csv(), FILE, 'text/csv');
                exported('password-book');
                setAsking(undefined);
              }}
            />
            <Button label="Leave it" onPress={() => setAsking(undefined)} />
          </>
        }
      >
        <Text>Whoever finds the file reads every password. Delete it as soon as the other program has it.</Text>
      </Dialog>
      <Dialog
        title="Save the book locked"
        open={asking === 'locked'}
        onClose={() => setAsking(undefined)}
        actions={
          <>
            <Button kind="main" label="Save the file" busy={busy} onPress={() => void saveLocked()} />
            <Button label="Not now" onPress={() => setAsking(undefined)} />
          </>
        }
      >
        <NewPassword pair={pair} onChange={setPair} error={pairError} />
      </Dialog>
    </Section>
  );
}
