/**
 * What about a draft may be a mistake of whom it goes to or of what goes with it. None of it stops anything: it is asked
 * about, and settled by one press.
 */
import { flat } from '../scan/near';
import { addressKey, type Correspondent, hostOf as hostIn, localPartOf } from '../people/address';
import { oneAt } from '../people/find';
import { TextWords } from '../scan/text-words';
import { isNearly } from './alike';
import { isMeant, SHORTEST_NAME } from './named';

export type Doubt =
  /** Its domain is nearly one that is known. */
  | { code: 'domain-alike'; address: string; known: string }
  /** The same name under another ending. */
  | { code: 'other-ending'; address: string; known: string }
  /** A colleague's name at an address that is not the office's. */
  | { code: 'private-mailbox'; address: string; colleague: string }
  /** Never written to, while one that is nearly the same, or the same person's, is known. */
  | { code: 'address-alike'; address: string; known: string }
  /** A file is called after somebody who does not get it. */
  | { code: 'names-another'; file: string; name: string }
  /** A file speaks of somebody who does not get it, and of nobody who does. */
  | { code: 'speaks-of-another'; file: string; name: string }
  /** It speaks of something attached, and nothing is. */
  | { code: 'nothing-attached'; word: string }
  | { code: 'many-answered'; count: number }
  /** Written to before, and never together with any of the others, who were. */
  | { code: 'never-together'; address: string; name: string };

export interface ToDoubt {
  recipients: readonly Correspondent[];
  /** Whom the sender has written to or kept. */
  known: readonly Correspondent[];
  colleagues: readonly Correspondent[];
  /** The office's own. */
  mailDomain: string;
  subject: string;
  text: string;
  /** With whom each speaks of instead of those that get it (`otherNamed`), as far as that is known. */
  files: readonly { name: string; speaksOf?: Correspondent | undefined }[];
  isAnswer: boolean;
  /** By the keys of the addresses: who of them was in one message with another of them; undefined until that is known. */
  together: ReadonlySet<string> | undefined;
}

/** To be told apart from others of the same draft, and remembered. */
export const doubtKey = (doubt: Doubt): string => `doubt ${Object.values(doubt).join(' ')}`.slice(0, 100);

const hostOf = (address: string): string => hostIn(addressKey(address));
const nameOf = (host: string): string => host.slice(0, host.lastIndexOf('.'));
const wordsIn = (text: string): string[] => flat(text).match(/[a-z]{2,}/g) ?? [];
const asName = (text: string): string => wordsIn(text).sort().join(' ');

/** More than this many at once are not answered by habit. */
const MANY = 10;

function aboutDomain(address: string, hosts: ReadonlySet<string>): Doubt | undefined {
  const host = hostOf(address);
  if (hosts.has(host)) return undefined;
  for (const known of hosts) {
    if (nameOf(known) === nameOf(host) && nameOf(host) !== '') return { code: 'other-ending', address, known };
    if (isNearly(host, known)) return { code: 'domain-alike', address, known };
  }
  return undefined;
}

/** Somebody as they are compared: there may be thousands of them, and hundreds to compare with each. */
interface Comparable {
  one: Correspondent;
  key: string;
  host: string;
  local: string;
  /** The words of their name in one order. */
  name: string;
}

function comparable(one: Correspondent): Comparable {
  const key = addressKey(one.address);
  return { one, key, host: hostIn(key), local: localPartOf(key), name: asName(one.name) };
}

/** Whom addresses are compared with, by whatever they are compared by. */
class Acquaintances {
  private readonly keys = new Set<string>();
  private readonly byHost = new Map<string, (Comparable & { place: number })[]>();
  /** By two words at least: a single one many share. */
  private readonly byName = new Map<string, Comparable & { place: number }>();

  constructor(people: readonly Correspondent[]) {
    people.forEach((one, place) => {
      const each = { ...comparable(one), place };
      this.keys.add(each.key);
      const there = this.byHost.get(each.host);
      if (there === undefined) this.byHost.set(each.host, [each]);
      else there.push(each);
      if (each.name.includes(' ') && !this.byName.has(each.name)) this.byName.set(each.name, each);
    });
  }

  get hosts(): Iterable<string> {
    return this.byHost.keys();
  }

  has(key: string): boolean {
    return this.keys.has(key);
  }

  named(name: string): Correspondent | undefined {
    return this.byName.get(name)?.one;
  }

  /** The first of them that is nearly the same, or the same person. */
  alike({ host, local }: Comparable, name: string): Correspondent | undefined {
    const near = this.byHost.get(host)?.find((each) => isNearly(local, each.local));
    const same = this.byName.get(name);
    const [first] = [near, same].flatMap((each) => each ?? []).sort((a, b) => a.place - b.place);
    return first?.one;
  }
}

function aboutAddress(
  whom: Correspondent,
  { known, colleagues, mailDomain }: { known: Acquaintances; colleagues: Acquaintances; mailDomain: string },
): Doubt | undefined {
  const { address } = whom;
  const each = comparable(whom);
  const local = asName(each.local);
  const colleague =
    each.host === mailDomain.toLowerCase() ? undefined : (colleagues.named(local) ?? colleagues.named(each.name));
  if (colleague !== undefined) return { code: 'private-mailbox', address, colleague: colleague.name };
  if (known.has(each.key)) return undefined;
  const alike = known.alike(each, each.name || local);
  return alike === undefined ? undefined : { code: 'address-alike', address, known: alike.address };
}

/** Firms by the first label of their domains, people by their last names. */
function namesOf({ name, address }: Correspondent): string[] {
  const [label = ''] = hostOf(address).split('.');
  const last = wordsIn(name).at(-1) ?? '';
  return [label, last].filter((one) => one.length >= SHORTEST_NAME);
}

/** Who is named in what a file is called, and does not get it. */
function namedInName({ known, recipients }: ToDoubt): (file: string) => Correspondent | undefined {
  const theirs = new Set(recipients.flatMap((one) => [...namesOf(one), ...wordsIn(one.name)]));
  const hosts = new Set(recipients.map(({ address }) => hostOf(address)));
  return (file) => {
    const words = new Set(wordsIn(file));
    return known.find(
      (one) => !hosts.has(hostOf(one.address)) && namesOf(one).some((name) => words.has(name) && !theirs.has(name)),
    );
  };
}

const writtenIn = ({ subject, text }: ToDoubt): TextWords => {
  const words = new TextWords();
  words.add(`${subject}\n${text}`);
  return words;
};

/** By its name, else by what it speaks of. */
function aboutFiles(draft: ToDoubt): Doubt[] {
  if (draft.files.length === 0) return [];
  const named = namedInName(draft);
  // Whom its writer names, too, is no mistake. Looked through at each change of the text, where it matters at all.
  const written = draft.files.some(({ speaksOf }) => speaksOf !== undefined) ? writtenIn(draft) : undefined;
  return draft.files.flatMap(({ name: file, speaksOf: of }): Doubt[] => {
    const other = named(file);
    if (other !== undefined) return [{ code: 'names-another', file, name: other.name || other.address }];
    if (of === undefined || oneAt(draft.recipients, of.address) !== undefined || isMeant(written!, of)) return [];
    return [{ code: 'speaks-of-another', file, name: of.name || of.address }];
  });
}

/** As they are written in eight languages, accents folded. */
const ATTACHED =
  /\b(?:(?:is|are|please find|see|find) (?:attached|enclosed)|(?:attached|enclosed) (?:is|are|you|please)|(?:the|my|our) attach(?:ment|ed)|anbei|im anhang|beigefugt|angehangt|em anexo|segue anexo|anexad[oa]s?|adjunt[oa]s?|ci-joint(?:e|s|es)?|en piece jointe|in allegato|allegat[oaie]|bijgevoegd|in de bijlage|vedlagt|bifogad|bifogat|w zalaczeniu|w zalaczniku)\b/;

function aboutAttached({ text, files }: ToDoubt): Doubt[] {
  if (files.length > 0) return [];
  // What is quoted of an earlier mail speaks of its own files.
  const own = text
    .slice(0, 20_000)
    .split('\n')
    .filter((line) => !line.startsWith('>'))
    .join('\n');
  const found = ATTACHED.exec(flat(own));
  return found === null
    ? []
    : [{ code: 'nothing-attached', word: own.slice(found.index, found.index + found[0].length) }];
}

type OfPeople = Pick<ToDoubt, 'recipients' | 'known' | 'colleagues' | 'mailDomain' | 'together'>;

/** Among two nobody is a stranger. */
export const LEAST_TOGETHER = 3;

/** One alone among people who belong together; several are a new circle. */
function aboutTogether({ recipients, known, together }: OfPeople): Doubt[] {
  if (together === undefined || recipients.length < LEAST_TOGETHER) return [];
  const apart = recipients.filter(({ address }) => !together.has(addressKey(address)));
  const [one, ...others] = apart;
  if (one === undefined || others.length > 0) return [];
  // Whoever is new altogether was never written to with anybody.
  const before = oneAt(known, one.address);
  return before === undefined
    ? []
    : [{ code: 'never-together', address: one.address, name: one.name || before.name || one.address }];
}

/** Of whom it goes to, whatever is written: in the order of the recipients. */
export function doubtsOfPeople(draft: OfPeople): Doubt[] {
  const [known, colleagues] = [new Acquaintances(draft.known), new Acquaintances(draft.colleagues)];
  const compared = { known, colleagues, mailDomain: draft.mailDomain };
  const hosts = new Set([...known.hosts, ...colleagues.hosts, draft.mailDomain.toLowerCase()]);
  return [
    ...draft.recipients.flatMap((one) => aboutDomain(one.address, hosts) ?? aboutAddress(one, compared) ?? []),
    ...aboutTogether(draft),
  ];
}

/** Of what goes with it: in the order of the files, then of the text. */
export function doubtsOfContent(draft: ToDoubt): Doubt[] {
  return [
    ...aboutFiles(draft),
    ...aboutAttached(draft),
    ...(draft.isAnswer && draft.recipients.length >= MANY
      ? [{ code: 'many-answered' as const, count: draft.recipients.length }]
      : []),
  ];
}

export const doubtsIn = (draft: ToDoubt): Doubt[] => [...doubtsOfPeople(draft), ...doubtsOfContent(draft)];
