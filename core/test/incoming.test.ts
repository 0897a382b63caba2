/** Mail that came in: its head as a list shows it, and sealed so that one account alone opens it. */
import fc from 'fast-check';
import { makeKeyPair } from '../src/account/key-pair';
import { type Bytes, concat, utf8 } from '../src/bytes';
import { buildMessage } from '../src/message/build';
import { type MessageContent } from '../src/message/content';
import {
  type IncomingSummary,
  LOOKED_AT,
  makeIncomingKey,
  openIncomingKey,
  openIncomingSummary,
  openIncomingWords,
  readableWords,
  readHead,
  sealIncomingSummary,
  sealIncomingWords,
} from '../src/incoming/incoming';
import { readMessage } from '../src/message/read';

const mail = (over: Partial<MessageContent> = {}): MessageContent => ({
  messageId: 'a@postbox.example',
  from: { name: 'Pell Anders', address: 'pell.anders@postbox.example' },
  to: [{ name: '', address: 'maren.oduya@larkmoor.example' }],
  cc: [],
  subject: 'Łódź, winter',
  date: new Date('2026-11-24T09:00:00Z'),
  reference: '',
  text: 'Hello.',
  html: '',
  files: [],
  ...over,
});
const head = (raw: string): ReturnType<typeof readHead> => readHead(utf8(raw), 'envelope@postbox.example');
const FROM = 'From: Pell <pell@postbox.example>\r\n';

test('the head is read as it stands outside', async () => {
  const raw = buildMessage(mail({ answers: ['one@larkmoor.example', 'two@larkmoor.example'] }));
  expect(await readHead(raw, 'x@y.example')).toEqual({
    subject: 'Łódź, winter',
    from: { name: 'Pell Anders', address: 'pell.anders@postbox.example' },
    lock: 'none',
    messageId: 'a@postbox.example',
    answers: ['one@larkmoor.example', 'two@larkmoor.example'],
    brings: false,
  });
});

test('what it answers is written as RFC 5322 has it, and read back', async () => {
  const raw = buildMessage(mail({ answers: ['one@larkmoor.example', 'two@larkmoor.example'] }));
  const text = new TextDecoder().decode(raw);
  expect(text).toContain('In-Reply-To: <two@larkmoor.example>\r\n');
  expect(text).toContain('References: <one@larkmoor.example>\r\n <two@larkmoor.example>\r\n');
  expect((await readMessage(raw)).answers).toEqual(['one@larkmoor.example', 'two@larkmoor.example']);
  expect(await readMessage(buildMessage(mail()))).not.toHaveProperty('answers');
  expect(() => buildMessage(mail({ answers: ['x>\r\nBcc: <y@z.example'] }))).toThrow(/References/);
});

test.each([
  ['application/pkcs7-mime; smime-type=enveloped-data', 'encrypted'],
  ['application/x-pkcs7-mime', 'encrypted'],
  ['application/pkcs7-mime; smime-type="signed-data"', 'signed'],
  ['multipart/signed; protocol="application/pkcs7-signature"; boundary=b', 'signed'],
  ['multipart/encrypted; protocol="application/pgp-encrypted"; boundary=b', 'encrypted'],
  ['text/html', 'none'],
  ['multipart/mixed; boundary=b', 'none'],
])('%s says it is %s', async (type, lock) =>
  expect((await head(`${FROM}Content-Type: ${type}\r\n\r\nx`)).lock).toBe(lock),
);

test.each([
  ['nothing', ''],
  ['no head', 'just words'],
  ['bytes of no text', '\u0000\u0001\u0002'],
  ['a head without end', `X: ${'a'.repeat(300_000)}`],
  ['a thousand and more fields', `${'X: y\r\n'.repeat(2000)}\r\n`],
])('%s is kept under who handed it over', async (_, raw) => {
  const read = await head(raw);
  expect([read.from.address, read.lock]).toEqual(['envelope@postbox.example', 'none']);
});

test('without a sender in its head the envelope speaks; names and subjects of any length are cut', async () => {
  expect((await head('Subject: x\r\n\r\ny')).from).toEqual({ name: '', address: 'envelope@postbox.example' });
  const long = await head(
    `From: "${'n'.repeat(5000)}" <pell@postbox.example>\r\nSubject: ${'s'.repeat(5000)}\r\n\r\ny`,
  );
  expect([long.from.name.length, long.subject.length]).toEqual([200, 300]);
  expect(
    (
      await head(
        `${FROM}References: ${'<a@b.example> '.repeat(10)}${Array.from({ length: 500 }, (__, index) => `<${index}@b.example>`).join(' ')}\r\n\r\n`,
      )
    ).answers,
  ).toHaveLength(50);
});

test('any bytes at all give a head or none, and never another error', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.uint8Array({ maxLength: 400 }),
      fc.constantFrom('', FROM, `${FROM}Content-Type: multipart/signed; boundary=b\r\n`, 'From: =?utf-8?B?'),
      async (noise, start) => {
        const read = await readHead(concat(utf8(start), new Uint8Array(noise)), 'envelope@postbox.example');
        expect(read.from.address.length).toBeGreaterThan(0);
      },
    ),
    { numRuns: 500 },
  );
});

describe('what a mail is found by', () => {
  const file = (size: number) => ({ name: 'hull.pdf', type: 'application/pdf', bytes: new Uint8Array(size).fill(7) });

  test('text and names of files, also where the files reach beyond what is looked at', async () => {
    for (const size of [100, 3_000_000]) {
      const raw = buildMessage(
        mail({ text: 'The frames are sound.', html: '<p>The frames are sound.</p>', files: [file(size)] }),
      );
      const words = await readableWords(raw.slice(0, LOOKED_AT));
      expect(words?.text.trim()).toBe('The frames are sound.');
      expect(words?.files).toEqual(['hull.pdf']);
    }
  });

  test.each([
    ['Content-Type: application/pkcs7-mime; smime-type=enveloped-data', undefined],
    ['Content-Type: application/pkcs7-mime; smime-type=signed-data', undefined],
    ['Content-Type: multipart/encrypted; boundary=b', undefined],
    ['Content-Type: text/plain', 'Hello.'],
  ])('under %s: %s', async (field, text) => {
    expect((await readableWords(utf8(`${FROM}${field}\r\n\r\nHello.`)))?.text).toBe(text);
  });

  test('any bytes at all give words or none, and never an error', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.uint8Array({ maxLength: 400 }),
        fc.constantFrom(
          '',
          FROM,
          `${FROM}Content-Type: multipart/mixed; boundary=b\r\n\r\n--b\r\n`,
          'Subject: =?utf-8?B?',
        ),
        async (noise, start) => {
          const words = await readableWords(concat(utf8(start), new Uint8Array(noise)));
          return words === undefined || words.text.length <= 24_000;
        },
      ),
      { numRuns: 500 },
    );
  });

  test('sealed under the mail’s key and number, and under no other', async () => {
    const { key } = await makeIncomingKey(await makeKeyPair(), 'a');
    const words = { text: 'The frames are sound.', files: ['hull.pdf'] };
    const sealed = await sealIncomingWords(words, key, 'a');
    expect(await openIncomingWords(sealed, key, 'a')).toEqual(words);
    await expect(openIncomingWords(sealed, key, 'b')).rejects.toMatchObject({ name: 'SealError' });
    // Neither is taken for the other.
    await expect(openIncomingSummary(sealed, key, 'a')).rejects.toMatchObject({ name: 'SealError' });
  });
});

describe('sealed to an account', () => {
  const summary: IncomingSummary = {
    subject: 'Łódź',
    from: { name: 'Pell', address: 'pell@postbox.example' },
    lock: 'signed',
  };
  let pair: Awaited<ReturnType<typeof makeKeyPair>>;
  let sealed: { key: Bytes; sealedKey: Bytes; sealedSummary: Bytes };
  const id = '0b8f7c1e-3a55-4a39-9f53-5b5a2d7c9a10';
  beforeAll(async () => {
    pair = await makeKeyPair();
    const made = await makeIncomingKey(pair, id);
    sealed = { ...made, sealedSummary: await sealIncomingSummary(summary, made.key, id) };
  });
  it('opens with its private key, and the summary with what that gives', async () => {
    const key = await openIncomingKey(pair.privateKey, sealed.sealedKey, id);
    expect(key).toEqual(sealed.key);
    expect(await openIncomingSummary(sealed.sealedSummary, key, id)).toEqual(summary);
  });
  it('opens for no other account, under no other number, and not when a bit is changed', async () => {
    const other = await makeKeyPair();
    await expect(openIncomingKey(other.privateKey, sealed.sealedKey, id)).rejects.toMatchObject({ code: 'not-opened' });
    await expect(openIncomingKey(pair.privateKey, sealed.sealedKey, crypto.randomUUID())).rejects.toMatchObject({
      code: 'not-opened',
    });
    await expect(openIncomingSummary(sealed.sealedSummary, sealed.key, crypto.randomUUID())).rejects.toMatchObject({
      name: 'SealError',
    });
    for (const which of ['sealedKey', 'sealedSummary'] as const) {
      const bent = sealed[which].slice();
      bent[bent.length - 1]! ^= 1;
      await expect(
        which === 'sealedKey' ? openIncomingKey(pair.privateKey, bent, id) : openIncomingSummary(bent, sealed.key, id),
      ).rejects.toMatchObject({ name: 'SealError' });
    }
  });
  it('a summary of another shape is none', async () => {
    await expect(
      openIncomingSummary(
        await sealIncomingSummary({ ...summary, lock: 'perhaps' as never }, sealed.key, id),
        sealed.key,
        id,
      ),
    ).rejects.toMatchObject({ code: 'malformed' });
  });
});
