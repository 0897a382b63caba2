/** Finding messages among all that a vault opens. */
import { fold, marksIn, type Mark, wordsAsked } from './fold';

/** What a message is found by, as it is kept. */
export interface SearchRecord {
  id: string;
  kind: 'sent' | 'held' | 'mail';
  /** Milliseconds since 1970: when it was sent or came. */
  at: number;
  subject: string;
  /** Whom it went to, or whom it came from. */
  people: { name: string; address: string }[];
  reference: string;
  files: readonly string[];
  text: string;
  /** Its words are here, or there are none. */
  worded: boolean;
  /** Of what is held for this account: when its text goes. */
  closesAt?: number | undefined;
}

interface Prepared {
  record: SearchRecord;
  head: string;
  text: string;
}

export interface Asked {
  query: string;
  kinds?: readonly SearchRecord['kind'][] | undefined;
  /** An address, or a domain after an "@". */
  person?: string | undefined;
  from?: number | undefined;
  /** Not any more. */
  until?: number | undefined;
  /** Only these. */
  ids?: ReadonlySet<string> | undefined;
}

export interface Hit {
  id: string;
  kind: SearchRecord['kind'];
  at: number;
  subject: string;
  people: SearchRecord['people'];
  reference: string;
  /** Where the words stand in the subject. */
  marks: Mark[];
  /** Around the first place in the text, or the name of a file, when the head alone does not hold every word. */
  excerpt?: { text: string; marks: Mark[] };
}

export interface Found {
  total: number;
  hits: Hit[];
}

export interface Index {
  readonly size: number;
  /** In its place when it is there already. */
  put(record: SearchRecord): void;
  get(id: string): SearchRecord | undefined;
  drop(id: string): void;
  all(): Iterable<SearchRecord>;
  /** Newest first. */
  find(asked: Asked, page: { offset: number; limit: number }): Found;
}

const prepared = (record: SearchRecord): Prepared => {
  const people = record.people.map(({ name, address }) => `${name} ${address}`).join(' ');
  return {
    record,
    head: fold(`${record.subject} ${people} ${record.reference} ${record.files.join(' ')}`),
    text: record.text === '' ? ' ' : fold(record.text),
  };
};

/** Whether a word of it begins so. The letters alone are looked for: a space at the front would stop at each word. */
function begins(folded: string, word: string): boolean {
  for (let at = folded.indexOf(word); at >= 0; at = folded.indexOf(word, at + 1))
    if (folded.charCodeAt(at - 1) === 32) return true;
  return false;
}

const BEFORE = 40;
const LENGTH = 160;

/** Where the first of the words stands, with what is around it; else a file’s name that has one. */
export function excerptOf(
  { text, files }: Pick<SearchRecord, 'text' | 'files'>,
  words: readonly string[],
): Hit['excerpt'] {
  const [first] = marksIn(text, words, 1);
  if (first === undefined) {
    const file = files.find((name) => marksIn(name, words, 1).length > 0);
    return file === undefined ? undefined : { text: file, marks: marksIn(file, words) };
  }
  const start = first.from <= BEFORE ? 0 : text.indexOf(' ', first.from - BEFORE) + 1 || first.from;
  const from = Math.min(start, first.from);
  const shown = `${from > 0 ? '… ' : ''}${text.slice(from, from + LENGTH).replace(/\s+/g, ' ')}`;
  return { text: from + LENGTH < text.length ? `${shown} …` : shown, marks: marksIn(shown, words) };
}

function hitOf({ record, head }: Prepared, words: readonly string[]): Hit {
  const { id, kind, at, subject, people, reference } = record;
  const hit: Hit = { id, kind, at, subject, people, reference, marks: marksIn(subject, words) };
  const inHead = words.every((word) => begins(head, word));
  const excerpt = words.length === 0 || (inHead && hit.marks.length > 0) ? undefined : excerptOf(record, words);
  return excerpt === undefined ? hit : { ...hit, excerpt };
}

const isWith = ({ people }: SearchRecord, person: string): boolean =>
  people.some(({ address }) =>
    person.startsWith('@') ? address.toLowerCase().endsWith(person) : address.toLowerCase() === person,
  );

export function makeIndex(records: Iterable<SearchRecord> = []): Index {
  const byId = new Map<string, Prepared>();
  let ordered: Prepared[] | undefined;
  const put = (record: SearchRecord): void => {
    byId.set(record.id, prepared(record));
    ordered = undefined;
  };
  for (const record of records) put(record);
  return {
    get size() {
      return byId.size;
    },
    put,
    get: (id) => byId.get(id)?.record,
    drop(id) {
      if (byId.delete(id)) ordered = undefined;
    },
    *all() {
      for (const { record } of byId.values()) yield record;
    },
    find({ query, kinds, person, from = -Infinity, until = Infinity, ids }, { offset, limit }) {
      ordered ??= [...byId.values()].sort((a, b) => b.record.at - a.record.at || (a.record.id < b.record.id ? 1 : -1));
      const words = wordsAsked(query);
      const address = person?.toLowerCase();
      const found = ordered.filter(
        ({ record, head, text }) =>
          record.at >= from &&
          record.at < until &&
          (kinds === undefined || kinds.includes(record.kind)) &&
          (ids === undefined || ids.has(record.id)) &&
          (address === undefined || isWith(record, address)) &&
          words.every((word) => begins(head, word) || begins(text, word)),
      );
      return { total: found.length, hits: found.slice(offset, offset + limit).map((one) => hitOf(one, words)) };
    },
  };
}
