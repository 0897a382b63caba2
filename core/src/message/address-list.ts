/**
 * Address lists of header fields (RFC 5322 §3.4), read in one walk. Only what stands between angle brackets, or alone,
 * is an address: a name that looks like one never is. More patient than the standard where old programs are, never
 * generous: two addresses in one place stay two.
 */
import { type Correspondent } from '../people/address';
import { decodeWords } from './encoded-words';
import { afterComment, quotedString } from './parameters';

export const MAX_ADDRESSES = 5000;

class Entry {
  private readonly words: string[] = [];
  private readonly comments: string[] = [];
  /** Of quoted strings: never an address, whatever they say. */
  private hasQuoted = false;
  readonly angled: string[] = [];

  word(text: string, quoted: boolean): void {
    if (text === '') return;
    this.words.push(text);
    this.hasQuoted ||= quoted;
  }
  comment(text: string): void {
    this.comments.push(text);
  }

  /** Empty for nothing; a name without an address where there is none. */
  correspondents(): Correspondent[] {
    const phrase = this.words.join(' ').trim();
    const said = decodeWords(this.comments.join(' ').trim());
    if (this.angled.length > 0) {
      const name = clean(decodeWords(phrase) || said);
      return this.angled.map((address) => ({ name, address: unspaced(address) }));
    }
    if (phrase === '') return [];
    // A quoted local part stands alone: "quoted local"@postbox.example.
    const isAddress = phrase.includes('@') && (!this.hasQuoted || /"@[^"]*$/.test(phrase.slice(-260)));
    return [
      isAddress ? { name: clean(said), address: unspaced(phrase) } : { name: clean(decodeWords(phrase)), address: '' },
    ];
  }
}

const clean = (name: string): string =>
  name
    .replace(/\s+/g, ' ')
    .replace(/\p{Cc}/gu, '')
    .trim();
/**
 * Blanks around the dots and the sign (obsolete, §4.4) are no part of it; any other is left for who checks the address.
 */
const unspaced = (address: string): string => address.trim().replace(/ ?([.@]) ?/g, '$1');

function afterQuoted(value: string, at: number, entry: Entry): number {
  const { said, end } = quotedString(value, at);
  // A quoted local part keeps its quotes: they belong to the address.
  if (value[end] === '@') {
    const stop = afterDomain(value, end + 1);
    entry.word(value.slice(at, stop), true);
    return stop;
  }
  entry.word(said, true);
  return end;
}

function afterRemark(value: string, at: number, entry: Entry): number {
  const end = afterComment(value, at);
  entry.comment(value.slice(at + 1, Math.max(at + 1, end - 1)));
  return end;
}

function afterAngled(value: string, at: number, entry: Entry): number {
  const end = endOfAngle(value, at + 1);
  // An old route before the address says nothing to us (§4.4).
  const inside = value.slice(at + 1, end);
  const route = inside.trimStart().startsWith('@') ? inside.lastIndexOf(':') : -1;
  if (entry.angled.length < MAX_ADDRESSES) entry.angled.push(inside.slice(route + 1));
  return value[end] === '>' ? end + 1 : end;
}

/** Everybody in an address list, groups taken apart; whoever can't be read comes with an empty address. */
export function readAddressList(value: string): Correspondent[] {
  const found: Correspondent[] = [];
  let entry = new Entry();
  let from = 0;
  let index = 0;
  const word = (): void => entry.word(value.slice(from, index).trim(), false);
  const next = (): void => {
    found.push(...entry.correspondents());
    entry = new Entry();
  };
  const step = (character: string): number => {
    switch (character) {
      case '"':
        return afterQuoted(value, index, entry);
      case '(':
        return afterRemark(value, index, entry);
      case '<':
        return afterAngled(value, index, entry);
      case ':':
        // What stood before is a group's name.
        entry = new Entry();
        return index + 1;
      default:
        next();
        return index + 1;
    }
  };
  while (index < value.length && found.length < MAX_ADDRESSES) {
    const character = value[index]!;
    if (!'"(<:,;'.includes(character)) {
      index += 1;
      continue;
    }
    word();
    index = step(character);
    from = index;
  }
  index = value.length;
  word();
  next();
  return found.slice(0, MAX_ADDRESSES);
}

/** Where the domain that begins at `at` ends. */
function afterDomain(value: string, at: number): number {
  let end = at;
  while (end < value.length && !' \t\r\n,;<>()":'.includes(value[end]!)) end += 1;
  return end;
}

/**
 * The `>` that ends what began before `at`; without one the next comma, or the end. A quoted local part may hold
 * either.
 */
function endOfAngle(value: string, at: number): number {
  let end = at;
  while (end < value.length && value[end] !== '>' && value[end] !== '<')
    end = value[end] === '"' ? quotedString(value, end).end : end + 1;
  return Math.min(end, value.length);
}
