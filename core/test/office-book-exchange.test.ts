/** People out and in again, as tables and as cards; Python's own readers and writers of both judge. */
import fc from 'fast-check';
import { execFileSync } from 'node:child_process';
import { type Bytes, toBase64Url, utf8 } from '../src/bytes';
import { withMeans } from '../src/office-book/means';
import { withBroughtIn } from '../src/office-book/person';
import { Openssl } from './certificate/openssl';
import { type Exchanged, peopleAsCsv, peopleAsVcard, readPeople } from '../src/office-book/exchange';
import { readDamaged } from './mutations';

const python = (program: string, input: string): string =>
  execFileSync('/usr/bin/python3', ['-c', program], { input, encoding: 'utf8' });

const PEOPLE: Exchanged[] = [
  {
    name: 'Linde Brandt; von der Höhe',
    address: 'linde@northquay.example',
    firm: 'North Quay, Ltd.',
    phone: '+447700900821',
    secondAddress: 'linde@other.example',
    language: 'de',
    note: 'Asks for the blue form.\nNever on Mondays; "really"',
  },
  { name: '=HYPERLINK("x")', address: 'ros@northquay.example' },
  { name: '', address: 'office@cala.example', firm: 'Porto de Calá' },
];

const back = (text: string) => readPeople(utf8(text), 'GB');

test('a table comes back as it went, and opens in Python with nothing that is a formula', () => {
  const csv = peopleAsCsv(PEOPLE);
  expect(back(csv)).toEqual({ ok: true, people: PEOPLE, problems: [] });
  const read = JSON.parse(
    python(
      'import csv,json,sys,io; print(json.dumps(list(csv.DictReader(io.StringIO(sys.stdin.read(), newline="")))))',
      csv,
    ),
  ) as Record<string, string>[];
  expect(read[0]).toMatchObject({
    name: 'Linde Brandt; von der Höhe',
    firm: 'North Quay, Ltd.',
    note: PEOPLE[0]!.note,
  });
  expect(read[1]!['name']).toBe(`'=HYPERLINK("x")`);
});

test('cards come back as they went, and Python’s reader of cards reads the same', () => {
  const cards = peopleAsVcard(PEOPLE);
  const named = PEOPLE.map((one) => ({ ...one, name: one.name || one.address }));
  expect(back(cards)).toEqual({ ok: true, people: named, problems: [] });
  // RFC 6350 § 6.4.1: a number is text unless it is said to be a URI.
  expect(cards).toContain('TEL;TYPE=cell;VALUE=uri:tel:+447700900821');
  const read = JSON.parse(
    python(
      'import vobject,json,sys; print(json.dumps([[c.fn.value, c.email.value, [e.value for e in c.contents.get("email",[])], c.org.value if "org" in c.contents else None, c.note.value if "note" in c.contents else None] for c in vobject.readComponents(sys.stdin.read())]))',
      cards,
    ),
  ) as unknown[][];
  expect(read[0]).toEqual([
    'Linde Brandt; von der Höhe',
    'linde@northquay.example',
    ['linde@northquay.example', 'linde@other.example'],
    ['North Quay, Ltd.'],
    PEOPLE[0]!.note,
  ]);
  expect(read.length).toBe(3);
});

test('what Python’s writers made is read: cards of version 3, and a table parted by semicolons', () => {
  const cards = python(
    `
import vobject
for name, mail, tel, org in (('Bo Märsh', 'bo@yard.example', '07700 900124', 'Yard'), ('Ada', 'ada@yard.example', '', None)):
    card = vobject.vCard()
    card.add('n'); card.n.value = vobject.vcard.Name(family=name)
    card.add('fn').value = name
    card.add('email').value = mail
    if tel: card.add('tel').value = tel
    if org: card.add('org').value = [org]
    print(card.serialize(), end='')
`,
    '',
  );
  expect(back(cards)).toEqual({
    ok: true,
    people: [
      { name: 'Bo Märsh', address: 'bo@yard.example', phone: '+447700900124', firm: 'Yard' },
      { name: 'Ada', address: 'ada@yard.example' },
    ],
    problems: [],
  });
  const table = python(
    `
import csv, sys
out = csv.writer(sys.stdout, delimiter=';')
out.writerows([['E-mail Address', 'Company', 'Full name', 'Mobile'], ['bo@yard.example', 'Yard; north', 'Bo', '+44 7700 900124']])
`,
    '',
  );
  expect(back(table)).toEqual({
    ok: true,
    people: [{ name: 'Bo', address: 'bo@yard.example', firm: 'Yard; north', phone: '+447700900124' }],
    problems: [],
  });
});

test('what can’t be taken is said with its place, and the rest is taken', () => {
  expect(
    back(
      'Name,Address,Phone,Second address\nA,a@x.example,,\nB,no address,,\nC,c@x.example,12,\nD,A@x.example,,\nE,e@x.example,,e@x.example\n',
    ),
  ).toEqual({
    ok: true,
    people: [{ name: 'A', address: 'a@x.example' }],
    problems: [
      { at: 3, problem: 'address', said: 'no address' },
      { at: 4, problem: 'phone', said: '12' },
      { at: 5, problem: 'twice', said: 'A@x.example' },
      { at: 6, problem: 'second-address', said: 'e@x.example' },
    ],
  });
  expect(back('')).toEqual({ ok: false, problem: 'columns-missing' });
  expect(back('Name,Address\n')).toEqual({ ok: false, problem: 'no-people' });
  expect(back('a"b","c\nd')).toMatchObject({ ok: false });
  expect(back('BEGIN:VCARD\nVERSION:4.0\nFN:X\nEND:VCARD\nBEGIN:VCARD\nnonsense')).toMatchObject({
    ok: true,
    people: [],
    problems: [
      { at: 1, problem: 'address' },
      { at: 2, problem: 'address' },
    ],
  });
});

test('whatever names and notes hold, a table brings them back', () => {
  fc.assert(
    fc.property(
      fc.array(fc.record({ firm: fc.string({ maxLength: 40 }), note: fc.string({ maxLength: 60 }) }), {
        minLength: 1,
        maxLength: 8,
      }),
      (all) => {
        const people = all.map(({ firm, note }, index) => ({ name: 'N', address: `a${index}@x.example`, firm, note }));
        const read = back(peopleAsCsv(people));
        expect(read.ok && read.people.map(({ note = '' }) => note)).toEqual(people.map(({ note }) => note.trim()));
      },
    ),
  );
});

test('damaged files end in a word', async () => {
  for (const whole of [peopleAsVcard(PEOPLE), peopleAsCsv(PEOPLE)])
    await readDamaged(utf8(whole), 3_000, (bytes) => readPeople(bytes, 'GB'), []);
});

test.each([
  ['de', 'de'],
  ['de-DE, en;q=0.5', 'de'],
  ['pt_BR', 'pt'],
  ['Deutsch', 'de'],
  ['العربية', 'ar'],
  ['en', undefined],
  ['Estonian', undefined],
  ['est', undefined],
  ['Arpitan', undefined],
  ['', undefined],
])('the language “%s” is %s: nobody is written to in one that only begins alike', (said, language) => {
  expect(back(`address,language\r\nlinde@northquay.example,"${said}"\r\n`)).toMatchObject({
    people: [
      language === undefined ? expect.not.objectContaining({ language: expect.anything() as string }) : { language },
    ],
  });
});

describe('certificates and keys in cards', () => {
  const openssl = new Openssl();
  const certificate = openssl.holder('linde', 'p256', openssl.holder('root')).certificate.bytes.slice() as Bytes;
  const address = 'linde@larkmoor.example';
  const key = new Uint8Array(
    execFileSync('/usr/bin/sqop', ['extract-cert'], {
      input: execFileSync('/usr/bin/sqop', ['generate-key', `Linde <${address}>`]),
    }),
  );
  const now = new Date();
  const person = (given: Bytes[]): Promise<Exchanged> => withMeans({ name: 'Linde', address, given }, 'file', now);

  test('those that are theirs are taken, from whatever they lie in; what is somebody else’s and damage is left', async () => {
    const taken = await person([utf8('rubbish'), certificate, key]);
    expect(taken.certificates).toMatchObject([{ certificate: toBase64Url(certificate), from: 'file' }]);
    expect(taken.keys).toMatchObject([{ from: 'file' }]);
    expect(
      await withMeans({ name: '', address: 'ros@larkmoor.example', given: [certificate, key] }, 'file', now),
    ).toEqual({
      name: '',
      address: 'ros@larkmoor.example',
    });
  });

  test('they go out in cards, Python’s reader finds them, and they come back', async () => {
    const taken = await person([certificate, key]);
    const cards = peopleAsVcard([taken]);
    const read = JSON.parse(
      python(
        'import vobject,json,sys; print(json.dumps([k.value for c in vobject.readComponents(sys.stdin.read()) for k in c.contents["key"]]))',
        cards,
      ),
    ) as string[];
    expect(read[0]).toBe(`data:application/pkix-cert;base64,${Buffer.from(certificate).toString('base64')}`);
    expect(read[1]).toMatch(/^data:application\/pgp-keys;base64,/);
    // A comma in a value is escaped (RFC 6350, 3.4); whoever has it bare is read, too.
    expect(cards).toMatch(/^KEY:data:application\/pkix-cert;base64\\,MII/m);
    expect(back(cards.replace(/base64\\,/g, 'base64,'))).toEqual(back(cards));
    const again = back(cards);
    if (!again.ok) throw new Error(again.problem);
    expect(await withMeans(again.people[0]!, 'file', now)).toEqual(taken);
  });

  test('version 3 has them bare; an address to fetch one from is not followed', () => {
    const card = (line: string): string =>
      `BEGIN:VCARD\r\nVERSION:3.0\r\nFN:Linde\r\nEMAIL:${address}\r\n${line}\r\nEND:VCARD\r\n`;
    const givenIn = (line: string) => {
      const read = back(card(line));
      return read.ok ? read.people[0]!.given : read.problem;
    };
    expect(givenIn(`KEY;TYPE=X509;ENCODING=b:${Buffer.from(certificate).toString('base64')}`)).toEqual([certificate]);
    for (const line of ['KEY:https://keys.elsewhere.example/linde', 'KEY:data:text/plain;base64,****', 'KEY:'])
      expect([line, givenIn(line)]).toEqual([line, undefined]);
  });

  test('another certificate than the book’s is never taken by a file', () => {
    const known = {
      name: 'Linde',
      address,
      certificates: [{ certificate: 'A', addedAt: '', from: 'mail' as const }],
      changes: [],
    };
    const brought = {
      name: 'L. Brandt',
      address,
      certificates: [{ certificate: 'B', addedAt: '', from: 'file' as const }],
    };
    expect(withBroughtIn(known, brought, true)).toMatchObject({
      name: 'L. Brandt',
      certificates: [{ certificate: 'A' }],
    });
    expect(withBroughtIn({ ...known, certificates: undefined }, brought, false)).toMatchObject({
      certificates: [{ certificate: 'B' }],
    });
  });
});
