/** The shared question, and the account's key pair: both open for whom they are meant, and for nobody else. */
import { makeKeyPair, openFrom, sealTo, shareContext, X_WING_SUITE } from '../src/account/key-pair';
import { randomBytes, toBase64Url, utf8 } from '../src/bytes';
import {
  answerLeaks,
  answerProblem,
  answerProof,
  normaliseAnswer,
  openQuestion,
  sealQuestion,
} from '../src/identity/answer';

test.each([
  ['St. Mary’s', 'st marys'],
  ['  MV   Teal ', 'mvteal'],
  ['Café Åse', 'cafe ase'],
  ['ÅSE', 'åse'],
  ['Zoë-Anne', 'zoe anne'],
  ['№ 7', 'no 7'],
])('%j and %j are one answer', async (a, b) => {
  const share = randomBytes(32);
  expect(normaliseAnswer(a)).toBe(normaliseAnswer(b));
  expect(toBase64Url(await answerProof(a, share))).toBe(toBase64Url(await answerProof(b, share)));
});

test('another answer, and the same answer under another link, are another proof', async () => {
  const share = randomBytes(32);
  const proof = toBase64Url(await answerProof('teal', share));
  expect(toBase64Url(await answerProof('tea', share))).not.toBe(proof);
  expect(toBase64Url(await answerProof('teal', randomBytes(32)))).not.toBe(proof);
});

test('a question is read by who holds the link of that very access', async () => {
  const share = randomBytes(32);
  const sealed = await sealQuestion('Which boat?', share, 'grant-1');
  expect(await openQuestion(sealed, share, 'grant-1')).toBe('Which boat?');
  await expect(openQuestion(sealed, randomBytes(32), 'grant-1')).rejects.toMatchObject({ code: 'not-opened' });
  await expect(openQuestion(sealed, share, 'grant-2')).rejects.toMatchObject({ code: 'not-opened' });
});

test('answers of fewer than three letters are too short, and never found anywhere', () => {
  expect([answerProblem('ab'), answerProblem('a - b'), answerProblem('abc'), answerProblem('木')]).toEqual([
    'too-short',
    'too-short',
    undefined,
    'too-short',
  ]);
  expect(answerLeaks('ab', { question: 'ab', message: 'ab', name: 'ab' })).toEqual([]);
});

test('what is sealed to an account opens with its key, in its context, and in no other way', async () => {
  const maren = await makeKeyPair();
  const share = randomBytes(32);
  const sealed = await sealTo(maren, share, shareContext('g'));
  expect(sealed).toHaveLength(1 + 1120 + 32 + 16);
  expect(sealed[0]).toBe(X_WING_SUITE);
  expect(await openFrom(maren.privateKey, sealed, shareContext('g'))).toEqual(share);
  await expect(openFrom(maren.privateKey, sealed, shareContext('h'))).rejects.toMatchObject({ code: 'not-opened' });
  await expect(openFrom((await makeKeyPair()).privateKey, sealed, shareContext('g'))).rejects.toMatchObject({
    code: 'not-opened',
  });
  for (const at of [1, 500, 1121, sealed.length - 1]) {
    const altered = sealed.slice();
    altered[at]! ^= 1;
    await expect(openFrom(maren.privateKey, altered, shareContext('g'))).rejects.toMatchObject({ code: 'not-opened' });
  }
  await expect(openFrom(maren.privateKey, sealed.slice(0, 1100), 'x')).rejects.toMatchObject({ code: 'malformed' });
  await expect(sealTo({ suite: 9, publicKey: maren.publicKey }, share, 'x')).rejects.toMatchObject({
    code: 'malformed',
  });
  await expect(sealTo({ suite: X_WING_SUITE, publicKey: utf8('short') }, share, 'x')).rejects.toMatchObject({
    code: 'malformed',
  });
});
