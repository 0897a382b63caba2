/**
 * Registered readers: what their password is worth, what their account leaves with the server, and what a plan makes of
 * it.
 */
import { LANGUAGES } from '../src/language';
import { noticeWords } from '../src/notice/words';
import fc from 'fast-check';
import { passwordProblem } from '../src/account/password-rules';
import { makeReaderAccount, openPrivateKey, openWrittenKey, sealWrittenKey } from '../src/account/reader-account';
import { changeProtection } from '../src/account/protect';
import { passwordKeys } from '../src/account/password';
import { unwrapSecret, vaultKey } from '../src/account/secret';
import { openFrom, sealTo } from '../src/account/key-pair';
import { randomBytes, utf8 } from '../src/bytes';
import { IDENTITY_CHECKS, LOOSEST_TERMS, passwordSuffices } from '../src/handling/handling';
import { type Recipient } from '../src/locks/lock';
import { assessRoom } from '../src/locks/room/assess';
import { noticeLink } from '../src/locks/room/grant';
import { noticeText } from '../src/notice/notice';

describe('what a password is worth', () => {
  it('is what its owner has passed: never more than the strongest check, nothing without one', () => {
    const checks = fc.constantFrom(...IDENTITY_CHECKS);
    fc.assert(
      fc.property(fc.option(checks, { nil: undefined }), checks, fc.boolean(), (knownBy, check, question) => {
        const enough = passwordSuffices(knownBy, { check, question });
        if (knownBy === undefined) expect(enough).toBe(false);
        else if (question && check !== 'question') expect(enough).toBe(false);
        else expect(enough).toBe(IDENTITY_CHECKS.indexOf(knownBy) >= IDENTITY_CHECKS.indexOf(check));
      }),
    );
  });

  const assess = (recipient: Partial<Recipient>, check: (typeof IDENTITY_CHECKS)[number] = 'text', question = false) =>
    assessRoom(
      { name: 'Mira', address: 'mira@saltmarsh.example', role: 'to', ...recipient },
      { ...LOOSEST_TERMS, clear: false, check, question, leastCheck: check },
      {
        message: '',
        fileCount: 1,
        size: 1_000,
        sender: { address: 'maren@larkmoor.example', signs: true, signsOpenPgp: false, phones: [], addresses: [] },
        others: [],
      },
    );

  it.each([
    [
      'enough: no phone is asked for',
      { registered: { knownBy: 'text' } },
      'text',
      false,
      { kind: 'password', orPassword: true },
      [],
    ],
    [
      'weaker than what is asked: the passcode as for anybody',
      { registered: { knownBy: 'email' } },
      'text',
      false,
      { kind: 'text' },
      ['phone-missing'],
    ],
    [
      'reset by mail alone: worth nothing',
      { registered: {} },
      'question',
      false,
      { kind: 'question' },
      ['question-missing'],
    ],
    [
      'a question besides is always asked',
      { registered: { knownBy: 'text' } },
      'text',
      true,
      { kind: 'text', question: true },
      ['phone-missing', 'question-missing'],
    ],
    [
      'the worker’s own choice comes first',
      { registered: { knownBy: 'text' }, check: 'text', phone: '+447700900376' },
      'voice',
      false,
      { kind: 'text', orPassword: true },
      [],
    ],
    [
      'and can be taken back',
      { registered: { knownBy: 'text' }, check: 'password' },
      'voice',
      false,
      { kind: 'password' },
      [],
    ],
    [
      'chosen and not enough any more: the handling’s check',
      { registered: { knownBy: 'email' }, check: 'password', phone: '+447700900376' },
      'voice',
      false,
      { kind: 'voice' },
      [],
    ],
  ] as const)('%s', (_, recipient, check, question, expected, missing) => {
    const assessment = assess(recipient as Partial<Recipient>, check, question);
    expect(assessment.check).toMatchObject(expected);
    expect(assessment.missing.map(({ code }) => code)).toEqual(missing);
  });
});

test('an account opens with its password only, keeps its key through a change of password, and opens what was sealed to it', async () => {
  const id = crypto.randomUUID();
  const { account, unlocked } = await makeReaderAccount(id, 'seven lanterns at low tide');
  const { key, password } = account;
  const privateKey = await openPrivateKey(unlocked, key.sealedPrivateKey, id);
  await expect(openPrivateKey(unlocked, key.sealedPrivateKey, crypto.randomUUID())).rejects.toMatchObject({
    code: 'not-opened',
  });
  expect(await openFrom(privateKey, await sealTo(key, utf8('share'), 'here'), 'here')).toEqual(utf8('share'));
  await expect(changeProtection(id, password, 'six lanterns at low tide', 'x')).rejects.toMatchObject({
    code: 'not-opened',
  });
  const changed = await changeProtection(id, password, 'seven lanterns at low tide', 'eight lanterns at high tide');
  expect(changed.currentAuthKey).toEqual(password.authKey);
  expect(changed.password.authKey).not.toEqual(password.authKey);
  const keys = await passwordKeys('eight lanterns at high tide', changed.password.hashing);
  const again = await vaultKey(await unwrapSecret(keys.unlockKey, changed.password.wrappedSecret, id));
  expect(await openPrivateKey(again, key.sealedPrivateKey, id)).toEqual(privateKey);
  const contentKey = randomBytes(32);
  expect(await openWrittenKey(privateKey, await sealWrittenKey(key, contentKey, id), id)).toEqual(contentKey);
  await expect(openWrittenKey(privateKey, await sealWrittenKey(key, contentKey, id), 'another')).rejects.toMatchObject({
    code: 'not-opened',
  });
});

test.each([
  ['short', 'short', 'too-short'],
  ['x'.repeat(257), 'x'.repeat(257), 'too-long'],
  ['my mira.talvik words', 'my mira.talvik words', 'holds-address'],
  ['abababababababab', 'abababababababab', 'repeats'],
  ['seven lanterns at low tide', 'seven lanterns at low tid', 'differ'],
  ['seven lanterns at low tide', 'seven lanterns at low tide', undefined],
] as const)('the password %j typed again as %j: %s', (first, second, problem) =>
  expect(passwordProblem({ first, second }, 'mira.talvik@saltmarsh.example')).toBe(problem),
);

test.each(LANGUAGES)(
  'the notice of who has a password sends them to sign in, and its link opens nothing by itself (%s)',
  (language) => {
    const link = noticeLink('https://room.larkmoor.example', '00000000-0000-4000-8000-000000000001');
    const { text, html } = noticeText({
      messageId: 'x@larkmoor.example',
      date: new Date(0),
      officeName: 'Larkmoor Ferries',
      sender: { name: 'Maren Oduya', address: 'maren.oduya@larkmoor.example' },
      recipient: { name: 'Mira', address: 'mira@saltmarsh.example' },
      closesAt: new Date('2026-12-03T17:00:00Z'),
      zone: 'Europe/Lisbon',
      check: { kind: 'password', hint: '', question: false },
      link,
      language,
    });
    expect(text).toContain(`${link}\n`);
    expect(link).not.toContain('#');
    expect(text).toContain(noticeWords(language).checkByPassword);
    expect(text).toContain(noticeWords(language).notForYouRegistered);
    expect(text).not.toContain(noticeWords(language).notForYou);
    expect(html).toContain(link);
  },
);
