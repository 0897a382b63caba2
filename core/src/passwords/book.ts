/**
 * The password book as a table for other programs (RFC 4180), and back: what is read is checked line by line, and
 * nothing of it is taken in silence.
 */
import Papa from 'papaparse';
import { guardedCell, unguardedCell } from '../csv-cell';
import { addressKey, checkAddress } from '../people/address';

export interface BookLine {
  address: string;
  /** `out`: for what we send; `in`: for what they send. */
  direction: 'out' | 'in';
  password: string;
  note: string;
}

const COLUMNS = ['address', 'direction', 'password', 'note'] as const;
const DIRECTION_WORDS = { out: 'we send', in: 'they send' } as const;
/** No office has agreed more; and nobody waits for more to be compared. */
export const MAX_LINES = 5_000;
export const MAX_BOOK_BYTES = 2_000_000;
const MAX_PASSWORD = 200;
const MAX_NOTE = 500;

export const bookAsCsv = (lines: readonly BookLine[]): string =>
  `${Papa.unparse({ fields: [...COLUMNS], data: lines.map(({ address, direction, password, note }) => [guardedCell(address), DIRECTION_WORDS[direction], guardedCell(password), guardedCell(note)]) }, { newline: '\r\n', quotes: true })}\r\n`;

export type LineProblem = 'address' | 'direction' | 'no-password' | 'too-long' | 'twice';
export type BookProblem = 'not-a-table' | 'columns-missing' | 'too-large';
export type ReadBook =
  | {
      ok: true;
      lines: BookLine[];
      /** By line of the file, the heading being the first. */ problems: { line: number; problem: LineProblem }[];
    }
  | { ok: false; problem: BookProblem };

function directionOf(text: string): BookLine['direction'] | undefined {
  const word = text.trim().toLowerCase();
  if (word === '' || word === DIRECTION_WORDS.out || word === 'out') return 'out';
  return word === DIRECTION_WORDS.in || word === 'in' ? 'in' : undefined;
}

/**
 * Columns by their names, in any order, parted by comma, semicolon or tab; without a direction it is for what we send.
 */
export function readBook(text: string): ReadBook {
  if (text.length > MAX_BOOK_BYTES) return { ok: false, problem: 'too-large' };
  const { data: rows, errors } = Papa.parse<string[]>(text.replace(/^\ufeff/, ''), {
    skipEmptyLines: 'greedy',
    preview: MAX_LINES + 2,
  });
  if (errors.some(({ type }) => type === 'Quotes')) return { ok: false, problem: 'not-a-table' };
  const [heading = [], ...data] = rows;
  const columns = heading.map((name) => name.trim().toLowerCase());
  if (!columns.includes('address') || !columns.includes('password')) return { ok: false, problem: 'columns-missing' };
  if (data.length > MAX_LINES) return { ok: false, problem: 'too-large' };
  const cell = (row: readonly string[], name: (typeof COLUMNS)[number]): string =>
    unguardedCell(row[columns.indexOf(name)] ?? '');
  const lines: BookLine[] = [];
  const problems: { line: number; problem: LineProblem }[] = [];
  const taken = new Set<string>();
  for (const [index, row] of data.entries()) {
    const found = lineOf((name) => cell(row, name));
    const key = typeof found === 'string' ? '' : `${found.direction} ${addressKey(found.address)}`;
    const problem = typeof found === 'string' ? found : taken.has(key) ? 'twice' : undefined;
    if (problem !== undefined) problems.push({ line: index + 2, problem });
    else {
      taken.add(key);
      lines.push(found as BookLine);
    }
  }
  return { ok: true, lines, problems };
}

function lineOf(cell: (name: (typeof COLUMNS)[number]) => string): BookLine | LineProblem {
  const checked = checkAddress(cell('address'));
  const direction = directionOf(cell('direction'));
  const password = cell('password').normalize('NFC');
  const note = cell('note').slice(0, MAX_NOTE);
  if (!checked.ok) return 'address';
  if (direction === undefined) return 'direction';
  if (password === '') return 'no-password';
  return password.length > MAX_PASSWORD ? 'too-long' : { address: checked.address, direction, password, note };
}

export interface Compared {
  fresh: BookLine[];
  same: number;
  /** Of what is known under another password. */ differing: BookLine[];
}

/** What a table would change of the book. Pure. */
export function compareBook(
  known: readonly Pick<BookLine, 'address' | 'direction' | 'password'>[],
  lines: readonly BookLine[],
): Compared {
  const keyOf = ({ address, direction }: Pick<BookLine, 'address' | 'direction'>): string =>
    `${direction} ${addressKey(address)}`;
  const by = new Map(known.map((one) => [keyOf(one), one.password]));
  const differs = (line: BookLine): boolean => by.has(keyOf(line)) && by.get(keyOf(line)) !== line.password;
  return {
    fresh: lines.filter((line) => !by.has(keyOf(line))),
    same: lines.filter((line) => by.get(keyOf(line)) === line.password).length,
    differing: lines.filter(differs),
  };
}
