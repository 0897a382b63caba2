/**
 * The words near a place in a text: what stands before and behind it on its line and around, and the head of its column
 * where it stands in a table. Everything is made once for a text, so that asking costs the same wherever one asks.
 */
import { type Span } from './finding';
import { lastBegun } from './last-begun';

const BEFORE = 60; // characters
const AFTER = 40;
/** Longer lines are no table: counting their columns for each place would be quadratic. */
const LONGEST_ROW = 4_000;
const DELIMITERS = ['\t', ';', '|', ','] as const;
const APART: Record<string, string> = { ø: 'o', ł: 'l', đ: 'd', ı: 'i', æ: 'a', œ: 'o', ß: 's' };

/** Lower case without accents, each character in the place it had. */
export function flat(text: string): string {
  if (!/[^\0-\x7f]/.test(text)) return text.toLowerCase();
  const lower = text.replace(/\u0130/g, 'i').toLowerCase();
  return lower.length === text.length ? plainLettersOf(lower) : text;
}

/** Latin letters with something above, below or through them. */
const isMarked = (code: number): boolean => code >= 0xdf && (code <= 0x24f || (code >= 0x1e00 && code <= 0x1eff));

/** By hand: a pattern of these two ranges takes twice as long. */
function plainLettersOf(lower: string): string {
  const parts: string[] = [];
  let done = 0;
  for (let at = 0; at < lower.length; at += 1) {
    if (!isMarked(lower.charCodeAt(at))) continue;
    const letter = lower[at]!;
    parts.push(lower.slice(done, at), APART[letter] ?? letter.normalize('NFD').charAt(0));
    done = at + 1;
  }
  return done === 0 ? lower : parts.join('') + lower.slice(done);
}

interface Table extends Span {
  delimiter: string;
  heads: string[];
}

const columnsOf = (row: string, delimiter: string): string[] => row.split(delimiter).map((cell) => cell.trim());

/** Names of columns are short and hold no numbers; prose has commas, too, but rarely two short parts in a row. */
const isHead = (row: string, heads: readonly string[], delimiter: string): boolean =>
  !/\d{4}/.test(row) && heads.every(({ length }) => length <= 40) && (delimiter !== ',' || heads.length >= 3);

function columnCount(row: string, delimiter: string): number {
  if (row === '') return 0;
  let count = 1;
  for (let at = row.indexOf(delimiter); at !== -1; at = row.indexOf(delimiter, at + 1)) count += 1;
  return count;
}

const isRow = (row: string, { delimiter, heads }: Table): boolean => {
  const length = columnCount(row, delimiter);
  return length === heads.length || (delimiter === '\t' && length > 1 && length < heads.length);
};

/** Rows that follow each other with as many columns, or fewer where the last are empty, under a row of words. */
function tablesIn(text: string): Table[] {
  const tables: Table[] = [];
  let open: Table | undefined;
  let from = 0;
  while (from <= text.length) {
    const end = text.indexOf('\n', from);
    const to = end === -1 ? text.length : end;
    const row = to - from > LONGEST_ROW ? '' : text.slice(from, to);
    if (open !== undefined && isRow(row, open)) open.to = to;
    else {
      if (open !== undefined && open.to > open.from) tables.push(open);
      const delimiter = DELIMITERS.find((one) => row.includes(one));
      const heads = delimiter === undefined ? [] : columnsOf(row, delimiter);
      open = delimiter === undefined || !isHead(row, heads, delimiter) ? undefined : { from: to, to, delimiter, heads };
    }
    from = to + 1;
  }
  if (open !== undefined && open.to > open.from) tables.push(open);
  return tables;
}

const everywhere = new WeakMap<RegExp, RegExp>();
/** One for all that is asked of it: an engine translates each of them anew, which takes longer than a short text does. */
function globally(words: RegExp): RegExp {
  const known = everywhere.get(words);
  if (known !== undefined) return known;
  const made = new RegExp(words.source, 'g');
  everywhere.set(words, made);
  return made;
}

/** Where the last of these ends; minus infinity where there is none. */
function lastEndOf(pattern: RegExp, text: string): number {
  let end = Number.NEGATIVE_INFINITY;
  pattern.lastIndex = 0;
  for (let match = pattern.exec(text); match !== null; match = pattern.exec(text)) end = pattern.lastIndex;
  return end;
}

export interface Near {
  /** The text as words are looked for in it (`flat`). */
  plain: string;
  /**
   * What stands near a place, made once for all that is asked of it: how far before it (or behind it, counted double) the
   * nearest of these words ends; infinite where there is none.
   */
  at(span: Span): (words: RegExp) => number;
  /** Whether one of these words stands anywhere in the text or its head. */
  says(words: RegExp): boolean;
}

/** @param head Of the whole text, where it is a cell: its column's, its row's. */
export function nearIn(text: string, head = ''): Near {
  const plain = flat(text);
  const flatHead = flat(head);
  let tables: Table[] | undefined;

  /** The cell that it stands in: what names it is its column's head and its row's first cell. */
  function cellOf({ from }: Span): { heads: string; begins: number } | undefined {
    tables ??= tablesIn(plain);
    const all = tables;
    const table = all[lastBegun(all.length, (index) => all[index]!.from, from)];
    if (table === undefined || from > table.to) return undefined;
    const row = plain.lastIndexOf('\n', from - 1) + 1;
    const cells = plain.slice(row, from).split(table.delimiter);
    const head = table.heads[cells.length - 1] ?? '';
    const first = cells.length > 1 ? (cells[0] ?? '') : '';
    return { heads: `${head} ${first}`, begins: from - cells.at(-1)!.length };
  }

  return {
    plain,
    says: (words) => [plain, flatHead].some((one) => one.search(globally(words)) !== -1),
    at(span) {
      const cell = cellOf(span);
      // Other cells speak of themselves.
      const before = plain.slice(Math.max(cell?.begins ?? 0, span.from - BEFORE), span.from);
      const after = cell === undefined ? plain.slice(span.to, span.to + AFTER) : '';
      // A head stands beside each of its cells.
      const heads = `${flatHead}\n${cell?.heads ?? ''}`;
      return (words) => {
        const pattern = globally(words);
        let nearest = before.length - lastEndOf(pattern, before);
        const behind = after.search(pattern);
        if (behind !== -1) nearest = Math.min(nearest, 2 * behind + 8);
        return nearest > 2 && heads.search(pattern) !== -1 ? 2 : nearest;
      };
    },
  };
}
