/** A book that is brought in: opened where it is locked, and what it would change shown before it is taken. */
import {
  type BookLine,
  type BookProblem,
  compareBook,
  type LineProblem,
  readBook,
} from '@under-lock/core/passwords/book';
import { type Book } from '@under-lock/core/passwords/entry';
import { looksLikeZip } from '@under-lock/core/zip/directory';
import { Button, Check, Choice, Line, Panel, PasswordField, Row, Stack, Text } from '@under-lock/ui';
import { useState } from 'react';
import { chosenFile } from '../keys/Backup';
import { type useAttempt } from '../shell/useAttempt';
import { reading } from '../threads/keys/reading';
import { takeLines } from './take-lines';

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
const MOST_SHOWN = { problems: 10, differing: 8 } as const;
const lineWords = ({ address, direction }: BookLine): string =>
  `${address} (${direction === 'out' ? 'we send' : 'they send'})`;

interface Offer {
  /** Of this reading: what was decided about another file counts for that one. */
  id: string;
  fresh: BookLine[];
  differing: BookLine[];
  same: number;
  problems: { line: number; problem: LineProblem }[];
}

/** The file that was chosen, as far as it is opened and read. */
export function useBringing(book: Book, { say, attempt }: Pick<ReturnType<typeof useAttempt>, 'say' | 'attempt'>) {
  const [locked, setLocked] = useState<Uint8Array<ArrayBuffer> | undefined>();
  const [offer, setOffer] = useState<Offer | undefined>();
  const wrong = (text: string): void => say({ tone: 'brick', text });
  const read = (bytes: Uint8Array): void => {
    const found = readBook(new TextDecoder().decode(bytes));
    if (!found.ok) return wrong(bookProblems[found.problem]);
    setLocked(undefined);
    const values = book.map(({ value }) => value);
    return setOffer({ id: crypto.randomUUID(), ...compareBook(values, found.lines), problems: found.problems });
  };
  const choose = (): Promise<void> =>
    attempt(async () => {
      const file = await chosenFile();
      if (file === undefined) return undefined;
      if ('problem' in file) return wrong(file.problem);
      setOffer(undefined);
      setLocked(looksLikeZip(file.bytes) ? file.bytes : undefined);
      return looksLikeZip(file.bytes) ? undefined : read(file.bytes);
    });
  const unlock = (bytes: Uint8Array<ArrayBuffer>, password: string): Promise<void> =>
    attempt(async () => {
      const opened = await reading(bytes.length, (doors) => doors.file.open(bytes, [password]));
      if (opened.outcome === 'wrong-password' || opened.outcome === 'locked')
        return wrong('This password does not open it.');
      const table = opened.outcome === 'opened' ? opened.files.find(({ name }) => name.endsWith('.csv')) : undefined;
      return table === undefined
        ? wrong('There is no password book in this file. Choose the one that was saved here.')
        : read(table.bytes);
    });
  const take = (lines: BookLine[]): Promise<void> =>
    attempt(async () => {
      const taken = await takeLines(book, lines, new Date());
      setOffer(undefined);
      say({
        tone: 'sea',
        text: `Taken: ${taken} ${taken === 1 ? 'password' : 'passwords'}. What was there before is in each one’s history.`,
      });
    });
  const leave = (): void => {
    setLocked(undefined);
    setOffer(undefined);
  };
  return { locked, offer, choose, unlock, take, leave };
}

export function LockedTable({
  busy,
  onOpen,
  onLeave,
}: {
  busy: boolean;
  onOpen: (password: string) => void;
  onLeave: () => void;
}) {
  const [password, setPassword] = useState('');
  return (
    <Panel>
      <Line last>
        <Stack>
          <PasswordField
            label="Password of the file"
            value={password}
            onChangeText={setPassword}
            autoComplete="off"
            onSubmitEditing={() => onOpen(password)}
          />
          <Row>
            <Button
              kind="main"
              label="Open the file"
              onPress={() => onOpen(password)}
              busy={busy}
              disabled={password === ''}
            />
            <Button label="Leave it" describe="Leave it: bring nothing in" onPress={onLeave} />
          </Row>
        </Stack>
      </Line>
    </Panel>
  );
}

const LeftOut = ({ problems }: Pick<Offer, 'problems'>) => (
  <>
    {problems.slice(0, MOST_SHOWN.problems).map(({ line, problem }) => (
      <Text key={line} kind="small" tone="amber">{`▲ Line ${line} is left out: ${lineProblems[problem]}.`}</Text>
    ))}
    {problems.length > MOST_SHOWN.problems ? (
      <Text kind="small" tone="amber">{`▲ And ${problems.length - MOST_SHOWN.problems} more lines.`}</Text>
    ) : null}
  </>
);

type OnConflict = 'ours' | 'theirs' | 'each';

interface DifferingProps {
  differing: readonly BookLine[];
  onConflict: OnConflict;
  onChoose: (onConflict: OnConflict) => void;
  picked: ReadonlySet<BookLine>;
  onPick: (line: BookLine, takes: boolean) => void;
}

const Differing = ({ differing, onConflict, onChoose, picked, onPick }: DifferingProps) => (
  <>
    <Text
      kind="small"
      tone="soft"
    >{`Different: ${differing.slice(0, MOST_SHOWN.differing).map(lineWords).join(', ')}${differing.length > MOST_SHOWN.differing ? ' …' : ''}`}</Text>
    <Choice
      label="Where they differ"
      value={onConflict}
      onChange={onChoose}
      options={[
        { value: 'ours', label: 'Keep mine' },
        { value: 'theirs', label: 'Take those of the file', detail: 'Mine go into the history' },
        ...(differing.length > 1 && differing.length <= MAX_ONE_BY_ONE
          ? [{ value: 'each', label: 'Decide one by one' } as const]
          : []),
      ]}
    />
    {onConflict === 'each'
      ? differing.map((line) => (
          <Check
            key={lineWords(line)}
            label={`Take the file’s for ${lineWords(line)}`}
            value={picked.has(line)}
            onChange={(takes) => onPick(line, takes)}
          />
        ))
      : null}
  </>
);

interface OfferProps {
  offer: Offer;
  busy: boolean;
  onTake: (lines: BookLine[]) => void;
  onLeave: () => void;
}

export function Offered({ offer: { fresh, differing, same, problems }, busy, onTake, onLeave }: OfferProps) {
  const [onConflict, setOnConflict] = useState<OnConflict>('ours');
  const [picked, setPicked] = useState<ReadonlySet<BookLine>>(new Set());
  const taken = differing.filter((line) => onConflict === 'theirs' || (onConflict === 'each' && picked.has(line)));
  const wanted = [...fresh, ...taken];
  return (
    <Panel>
      <Line last>
        <Stack>
          <Text kind="strong">{`${fresh.length} new, ${differing.length} different from yours, ${same} the same`}</Text>
          <LeftOut problems={problems} />
          {differing.length === 0 ? null : (
            <Differing
              differing={differing}
              onConflict={onConflict}
              onChoose={setOnConflict}
              picked={picked}
              onPick={(line, takes) =>
                setPicked(new Set(takes ? [...picked, line] : [...picked].filter((one) => one !== line)))
              }
            />
          )}
          <Row>
            <Button
              kind="main"
              label="Take them"
              busy={busy}
              disabled={wanted.length === 0}
              onPress={() => onTake(wanted)}
            />
            <Button label="Leave it" describe="Leave it: take nothing of the file" onPress={onLeave} />
          </Row>
        </Stack>
      </Line>
    </Panel>
  );
}
