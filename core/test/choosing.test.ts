/** Choices: sealed and opened, taken into the book, what has to be looked at first, and what a check is enough for. */
import { makeKeyPair } from '../src/account/key-pair';
import { toBase64Url } from '../src/bytes';
import { type Choice } from '../src/choosing/choice';
import { openChoice, sealChoice } from '../src/choosing/sealed';
import { IDENTITY_CHECKS } from '../src/handling/handling';
import { withChoice, withOffered } from '../src/office-book/choice';
import { type BookPerson, changedPerson, withBook } from '../src/office-book/person';
import { withOffice } from '../src/office-book/planned';
import { type PasswordEntry } from '../src/passwords/entry';
import { type Kept } from '../src/vault/kept';
import { choiceSuffices } from '../src/ways/chose';

const lene = { name: 'Lene Hjort', address: 'Lene@Postbox.example' };
const chooser = { ...lene, language: 'de' as const, at: new Date('2026-11-20T10:00:00Z'), check: 'text' as const };
const file: Choice = { way: 'file', container: 'pdf', password: 'seven lamps over', guesses: 14 };
const key = (fingerprint: string): Choice => ({
  way: 'openpgp',
  key: 'AAAA',
  fingerprint,
  keyIds: ['1234567890abcdef'],
});
const book = (choice: Choice, before?: BookPerson): BookPerson =>
  changedPerson(before, withChoice(before, chooser, choice), {
    by: { id: '1', name: 'Maren Oduya' },
    at: new Date('2026-11-20T10:01:00Z'),
    what: 'chosen',
  })!;
const kept = <T>(value: T, id = '1'): Kept<T> => ({ id, revision: 1, value, updatedAt: new Date() });

describe('what is sealed', () => {
  test('opens with the book’s secret, under its epoch and its number, and nowhere else', async () => {
    const { suite, publicKey, privateKey } = await makeKeyPair();
    const sealed = await sealChoice({ suite, publicKey }, 3, 'a', file);
    expect(await openChoice(privateKey, 3, 'a', sealed)).toEqual(file);
    await expect(openChoice(privateKey, 4, 'a', sealed)).rejects.toMatchObject({ code: 'not-opened' });
    await expect(openChoice(privateKey, 3, 'b', sealed)).rejects.toMatchObject({ code: 'not-opened' });
    await expect(openChoice((await makeKeyPair()).privateKey, 3, 'a', sealed)).rejects.toMatchObject({
      code: 'not-opened',
    });
  });

  test('is no choice when its shape is another, whoever sealed it', async () => {
    const { suite, publicKey, privateKey } = await makeKeyPair();
    for (const wrong of [
      { way: 'moon' },
      { way: 'file', container: 'pdf' },
      { ...file, password: 'x'.repeat(65) },
      null,
      'file',
    ]) {
      const sealed = await sealChoice({ suite, publicKey }, 1, 'a', wrong as Choice);
      await expect(openChoice(privateKey, 1, 'a', sealed)).rejects.toMatchObject({ code: 'malformed' });
    }
  });
});

describe('in the office book', () => {
  test('somebody new comes into being by it, and is told apart from what colleagues changed', () => {
    const made = book(file);
    expect(made).toMatchObject({
      name: 'Lene Hjort',
      address: 'lene@postbox.example',
      language: 'de',
      chose: { lock: 'file', check: 'text' },
      fileWay: { container: 'pdf', telling: 'agreed', eachTime: false },
      password: { password: 'seven lamps over', toldAt: '2026-11-20T10:00:00.000Z' },
      changes: [{ what: 'chosen' }],
    });
  });

  test('what the office knows stays; another way replaces the wish, and taken back there is none', () => {
    const known: BookPerson = { ...book(file), name: 'Lene H.', phone: '+447700900841', note: 'Blue form.' };
    const next = book({ way: 'room' }, known);
    expect(next).toMatchObject({
      name: 'Lene H.',
      phone: '+447700900841',
      note: 'Blue form.',
      chose: { lock: 'room' },
    });
    expect(next.password).toEqual(known.password);
    expect(book({ way: 'none' }, next).chose).toBeUndefined();
  });

  test('a first key is taken; another lies beside until somebody has compared it', () => {
    const first = book(key('aa'));
    expect(first).toMatchObject({ chose: { lock: 'openpgp' }, keys: [{ fingerprint: 'aa', from: 'choice' }] });
    const second = book(key('bb'), first);
    expect(second.keys).toHaveLength(1);
    expect(second).toMatchObject({ chose: first.chose, offered: { choice: { fingerprint: 'bb' } } });
    const compared = withOffered(second, 'Maren Oduya', new Date('2026-11-21T09:00:00Z'));
    expect(compared.keys).toMatchObject([
      { fingerprint: 'bb', checked: { by: 'Maren Oduya' } },
      { fingerprint: 'aa', replacedAt: '2026-11-20T10:00:00.000Z' },
    ]);
    expect(compared).not.toHaveProperty('offered');
    // The same once more is nothing to look at.
    expect(withChoice(first, chooser, key('aa'))).not.toHaveProperty('offered');
  });

  test('a certificate likewise', () => {
    const certificate = (text: string): Choice => ({
      way: 'certificate',
      certificate: toBase64Url(new TextEncoder().encode(text)),
      chain: [],
      notAfter: '2027-01-01T00:00:00Z',
    });
    const first = book(certificate('one'));
    expect(first.certificates).toMatchObject([{ from: 'choice' }]);
    const second = book(certificate('two'), first);
    expect(second.certificates).toHaveLength(1);
    expect(withOffered(second, 'Ines', new Date()).certificates).toHaveLength(2);
  });
});

describe('in a plan', () => {
  test('their own choice of a file goes before what a worker agreed earlier, and not before what was agreed later', () => {
    const own = { name: 'Lene', address: 'lene@postbox.example', phone: '+447700900841' };
    const entry = (since: string): Kept<PasswordEntry> =>
      kept({
        address: own.address,
        direction: 'out' as const,
        password: 'agreed long ago',
        guesses: 12,
        since,
        before: [],
        note: '',
      });
    const passwordIn = (since: string): string =>
      withOffice([kept(own)], [entry(since)], [kept(book(file))]).passwords[0]!.value.password;
    expect(passwordIn('2026-11-01T00:00:00.000Z')).toBe('seven lamps over');
    expect(passwordIn('2026-11-22T00:00:00.000Z')).toBe('agreed long ago');
    const planned = withBook({ ...own, fileWay: { ...book(file).fileWay!, container: 'zip' } }, book(file))!;
    expect(planned.person).toMatchObject({ phone: own.phone, chose: { lock: 'file' }, fileWay: { container: 'pdf' } });
    expect(planned.fromBook).toEqual(expect.arrayContaining(['chose', 'fileWay']));
  });

  test('a choice is only as good as the check it was made under; the room is open to any', () => {
    for (const [made, asked] of IDENTITY_CHECKS.flatMap((one) =>
      IDENTITY_CHECKS.map((other) => [one, other] as const),
    )) {
      expect(choiceSuffices({ lock: 'file', check: made }, asked)).toBe(
        IDENTITY_CHECKS.indexOf(made) >= IDENTITY_CHECKS.indexOf(asked),
      );
      expect(choiceSuffices({ lock: 'room', check: made }, asked)).toBe(true);
    }
  });
});
