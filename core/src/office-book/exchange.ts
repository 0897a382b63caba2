/**
 * People of the office book as files that other programs take, and back: a table (RFC 4180) or vCard 4 (RFC 6350; 3.0 is
 * read, too); and people as a directory has them. What is read is checked one by one, and nothing of it is taken in
 * silence. Certificates and OpenPGP keys are in cards and directories; passwords are nowhere.
 */
import ICAL from 'ical.js';
import Papa from 'papaparse';
import { guardedCell, unguardedCell } from '../csv-cell';
import { defined } from '../defined';
import { type Language, languageOf, LANGUAGES, OWN_NAMES } from '../language';
import { decodeText } from '../message/charset';
import { type Bytes, fromBase64, fromBase64Url, toBase64 } from '../bytes';
import { addressKey, checkAddress, cleanName } from '../people/address';
import { checkPhone, type CountryCode } from '../people/phone';
import { MOST_EXCHANGED, MOST_OCTETS } from './limits';
import { inUse } from '../people/in-use';
import { type BookPerson } from './person';

export type Exchanged = Pick<
  BookPerson,
  'name' | 'address' | 'firm' | 'phone' | 'secondAddress' | 'language' | 'note' | 'certificates' | 'keys'
>;
/** With certificates and keys that came along as octets: nobody has looked into them yet (`./means`). */
export type Brought = Exchanged & { given?: Bytes[] };

const COLUMNS = ['name', 'address', 'firm', 'phone', 'second address', 'language', 'note'] as const;
type Column = (typeof COLUMNS)[number];
/** What the columns of other programs' tables are called, in lower case. */
const CALLED: Record<Column, readonly string[]> = {
  name: ['name', 'full name', 'display name', 'fn'],
  address: ['address', 'e-mail', 'email', 'e-mail address', 'email address', 'mail'],
  firm: ['firm', 'company', 'organisation', 'organization', 'org'],
  phone: ['phone', 'mobile', 'mobile phone', 'telephone', 'cell'],
  'second address': ['second address', 'e-mail 2 address', 'email 2', 'other email'],
  language: ['language', 'lang'],
  note: ['note', 'notes', 'remark', 'remarks'],
};

const MOST_SIGNS = 2_000;

export type PersonProblem = 'address' | 'second-address' | 'phone' | 'twice';
export type FileProblem = 'no-people' | 'not-a-table' | 'columns-missing' | 'too-large';
export type ReadPeople =
  | {
      ok: true;
      people: Brought[];
      /** By line of a table, its heading being the first, or by place in a file of cards, from 1. */
      problems: { at: number; problem: PersonProblem; said: string }[];
    }
  | { ok: false; problem: FileProblem };

export const peopleAsCsv = (people: readonly Exchanged[]): string =>
  `${Papa.unparse(
    {
      fields: [...COLUMNS],
      data: people.map(({ name, address, firm, phone, secondAddress, language, note }) =>
        [name, address, firm, phone, secondAddress, language, note].map((value) => guardedCell(value ?? '')),
      ),
    },
    { newline: '\r\n', quotes: true },
  )}\r\n`;

/** RFC 6350, 6.8.1: what a key lies in. */
const [CERTIFICATE_TYPE, KEY_TYPE] = ['application/pkix-cert', 'application/pgp-keys'];

/** RFC 6350: one card a person; the first address is the preferred one. */
export const peopleAsVcard = (people: readonly Exchanged[]): string =>
  people
    .map(({ name, address, firm, phone, secondAddress, language, note, certificates, keys }) => {
      const card = new ICAL.Component(['vcard', [], []]);
      const put = (property: string, value: string | undefined, parameters: Record<string, string> = {}): void => {
        if (value === undefined) return;
        const made = card.addPropertyWithValue(property, value);
        for (const [key, said] of Object.entries(parameters)) made.setParameter(key, said);
      };
      put('version', '4.0');
      put('fn', name || address);
      put('email', address, { pref: '1' });
      put('email', secondAddress, { pref: '2' });
      put('org', firm);
      put('note', note);
      put('lang', language);
      for (const [type, octets] of [
        [CERTIFICATE_TYPE, inUse(certificates)?.certificate],
        [KEY_TYPE, inUse(keys)?.key],
      ] as const)
        if (octets !== undefined)
          card.addProperty(
            new ICAL.Property(['key', {}, 'uri', `data:${type};base64,${toBase64(fromBase64Url(octets))}`]),
          );
      if (phone !== undefined)
        card.addProperty(new ICAL.Property(['tel', { type: 'cell', value: 'uri' }, 'uri', `tel:${phone}`]));
      return `${card.toString()}\r\n`;
    })
    .join('');

/** What one line or card says, as text, and what lies in it of certificates and keys. */
type Said = Record<Column, string> & { given?: Bytes[] };

/** A tag, or a name as those who speak it call it. */
const languageSaid = (text: string): Language | undefined =>
  languageOf(text) ?? LANGUAGES.find((one) => OWN_NAMES[one].toLowerCase() === text.trim().toLowerCase());

function checked(said: Said, country: CountryCode): Brought | { problem: PersonProblem; said: string } {
  const first = checkAddress(said.address);
  if (!first.ok) return { problem: 'address', said: said.address };
  const second = said['second address'].trim();
  const other = second === '' ? undefined : checkAddress(second);
  if (other !== undefined && (!other.ok || addressKey(other.address) === addressKey(first.address)))
    return { problem: 'second-address', said: second };
  const phone = said.phone.trim() === '' ? undefined : checkPhone(said.phone, country);
  if (phone?.ok === false) return { problem: 'phone', said: said.phone };
  const filled = (text: string, most: number): string | undefined => text.trim().slice(0, most) || undefined;
  const spoken = languageSaid(said.language);
  return {
    name: cleanName(said.name),
    address: first.address,
    ...defined({
      firm: filled(said.firm, 200),
      phone: phone?.e164,
      secondAddress: other?.ok === true ? other.address : undefined,
      language: spoken === 'en' ? undefined : spoken,
      note: filled(said.note, MOST_SIGNS),
      given: said.given === undefined || said.given.length === 0 ? undefined : said.given,
    }),
  };
}

function taken(lines: readonly { at: number; said: Said }[], country: CountryCode): ReadPeople {
  const people: Brought[] = [];
  const problems: { at: number; problem: PersonProblem; said: string }[] = [];
  const there = new Set<string>();
  for (const { at, said } of lines) {
    const one = checked(said, country);
    if ('problem' in one) problems.push({ at, ...one, said: one.said.slice(0, 100) });
    else if (there.has(addressKey(one.address))) problems.push({ at, problem: 'twice', said: one.address });
    else {
      there.add(addressKey(one.address));
      people.push(one);
    }
  }
  return people.length + problems.length === 0 ? { ok: false, problem: 'no-people' } : { ok: true, people, problems };
}

function readTable(text: string, country: CountryCode): ReadPeople {
  const { data: rows, errors } = Papa.parse<string[]>(text, { skipEmptyLines: 'greedy', preview: MOST_EXCHANGED + 2 });
  if (errors.some(({ type }) => type === 'Quotes')) return { ok: false, problem: 'not-a-table' };
  const [heading = [], ...data] = rows;
  const heads = heading.map((head) => head.trim().toLowerCase());
  const columnOf = (column: Column): number => heads.findIndex((head) => CALLED[column].includes(head));
  const places = COLUMNS.map((column) => [column, columnOf(column)] as const);
  if (columnOf('address') === -1) return { ok: false, problem: 'columns-missing' };
  if (data.length > MOST_EXCHANGED) return { ok: false, problem: 'too-large' };
  const lines = data.map((row, index) => ({
    at: index + 2,
    said: Object.fromEntries(places.map(([column, place]) => [column, unguardedCell(row[place] ?? '')])) as Record<
      Column,
      string
    >,
  }));
  return taken(lines, country);
}

/** Cards one by one: a damaged one costs only itself. */
function* cardsIn(text: string): Generator<string> {
  const BEGIN = /^BEGIN:VCARD[ \t]*$/gim;
  const starts = [...text.matchAll(BEGIN)].map(({ index }) => index);
  for (const [place, from] of starts.entries()) yield text.slice(from, starts[place + 1] ?? text.length);
}

const firstText = (value: unknown): string =>
  Array.isArray(value)
    ? firstText(value[0])
    : typeof value === 'string'
      ? value
      : value instanceof ICAL.Binary
        ? value.value
        : '';

const MOST_GIVEN = 5;
const MOST_KEY_SIGNS = 100_000;
/** Of a `data:` address, or of bare base64 as version 3 has it; what lies elsewhere is not fetched. */
function octetsOf(said: string): Bytes[] {
  if (said.length > MOST_KEY_SIGNS) return [];
  const packed = /^data:[^,]{0,100};base64,([A-Za-z0-9+/=\s]+)$/.exec(said)?.[1] ?? said;
  if (!/^[A-Za-z0-9+/=\s]+$/.test(packed)) return [];
  try {
    return [fromBase64(packed.replace(/\s/g, ''))];
  } catch {
    return [];
  }
}

function saidByCard(text: string): Said | undefined {
  try {
    const parsed = ICAL.parse(text) as unknown[];
    const card = new ICAL.Component(
      (Array.isArray(parsed[0]) ? parsed[0] : parsed) as ConstructorParameters<typeof ICAL.Component>[0],
    );
    const all = (property: string): string[] =>
      card
        .getAllProperties(property)
        .sort(
          (one, other) =>
            Number(firstText(one.getParameter('pref')) || 101) - Number(firstText(other.getParameter('pref')) || 101),
        )
        .map((one) => firstText(one.getFirstValue()))
        .filter((value) => value !== '');
    const [address = '', second = ''] = all('email');
    return {
      name: all('fn')[0] ?? '',
      address,
      'second address': second,
      firm: all('org')[0] ?? '',
      phone: (all('tel')[0] ?? '').replace(/^tel:/i, '').split(';')[0]!,
      language: all('lang')[0] ?? '',
      note: all('note').join('\n'),
      given: all('key').slice(0, MOST_GIVEN).flatMap(octetsOf),
    };
  } catch {
    return undefined;
  }
}

const NOTHING: Said = { name: '', address: '', firm: '', phone: '', 'second address': '', language: '', note: '' };

function readCards(text: string, country: CountryCode): ReadPeople {
  const lines: { at: number; said: Said }[] = [];
  for (const card of cardsIn(text)) {
    if (lines.length >= MOST_EXCHANGED) return { ok: false, problem: 'too-large' };
    lines.push({ at: lines.length + 1, said: saidByCard(card) ?? NOTHING });
  }
  return taken(lines, country);
}

/** @param country Whose national numbers are meant where a phone has no country of its own. */
export function readPeople(bytes: Bytes, country: CountryCode): ReadPeople {
  if (bytes.length > MOST_OCTETS) return { ok: false, problem: 'too-large' };
  const text = decodeText(bytes, undefined).replace(/^\ufeff/, '');
  return /^\s*BEGIN:VCARD/i.test(text) ? readCards(text, country) : readTable(text, country);
}

/** Somebody as a directory has them: whatever stood there. */
export interface DirectoryEntry {
  name: string;
  addresses: string[];
  firm: string;
  phones: string[];
  language: string;
  certificates: Bytes[];
}

/** Of several addresses the first is meant, of phones the first that is one: a directory has extensions, too. */
export const peopleOfDirectory = (entries: readonly DirectoryEntry[], country: CountryCode): ReadPeople =>
  taken(
    entries.map(({ name, addresses, firm, phones, language, certificates }, index) => ({
      at: index + 1,
      said: {
        ...NOTHING,
        name,
        address: addresses[0] ?? '',
        firm,
        phone: phones.find((phone) => checkPhone(phone, country).ok) ?? '',
        language,
        given: certificates,
      },
    })),
    country,
  );
