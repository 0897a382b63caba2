/** The mail slot's computation: work, codes, and what is left. */
import { makeKeyPair } from '../../src/account/key-pair';
import { randomBytes } from '../../src/bytes';
import { openIncomingKey, openIncomingSummary } from '../../src/incoming/incoming';
import { openContent } from '../../src/locks/room/content';
import { HeaderInjectionError } from '../../src/message/build';
import { readMessage } from '../../src/message/read';
import { SealError } from '../../src/sealing';
import { makeAnswerCode, makeReceiptNumber } from '../../src/slot/answer-code';
import { openForTheAnswer, openSlotProof, sealFor, sealLeft, sealSlotProof, type ToLeave } from '../../src/slot/left';
import { slotFooter } from '../../src/slot/footer';
import { isSolved, solve } from '../../src/slot/work';
import { createHash } from 'node:crypto';

const mail: ToLeave = {
  from: { name: 'Lene Hjort', address: 'lene.hjort@pilots.example' },
  to: { name: 'Crew records', address: 'slot@larkmoor.example' },
  subject: 'Pilot’s licence, renewal',
  text: 'Here is the renewed licence with the medical page.',
  files: [{ name: 'licence.pdf', type: 'application/pdf', bytes: randomBytes(3000) }],
  date: new Date('2026-11-28T10:00:00Z'),
};

describe('work', () => {
  const puzzles = { challenge: randomBytes(56), rounds: 4, bits: 8 };

  test('is seen to be done, as another program counts', () => {
    const solution = solve(puzzles);
    expect(isSolved(puzzles, solution)).toBe(true);
    for (let round = 0; round < puzzles.rounds; round++) {
      const digest = createHash('sha256')
        .update(createHash('sha256').update(puzzles.challenge).digest())
        .update(Uint8Array.of(round))
        .update(solution.subarray(round * 4, round * 4 + 4))
        .digest();
      expect(digest[0]).toBe(0);
    }
  });

  test('is not done for another challenge, another order, or a part of it', () => {
    const solution = solve(puzzles);
    expect(isSolved({ ...puzzles, challenge: randomBytes(56) }, solution)).toBe(false);
    expect(isSolved({ ...puzzles, bits: 24 }, solution)).toBe(false);
    expect(isSolved(puzzles, solution.subarray(4))).toBe(false);
    expect(isSolved(puzzles, new Uint8Array(0))).toBe(false);
  });
});

test('codes can be read out, have no letters that are taken for one another, and are never twice', () => {
  const codes = Array.from({ length: 500 }, () => makeAnswerCode());
  for (const code of codes) expect(code).toMatch(/^[0-9A-HJKMNP-TV-Z]{5}-[0-9A-HJKMNP-TV-Z]{5}$/);
  expect(new Set(codes).size).toBe(500);
  expect(makeReceiptNumber()).toMatch(/^[0-9A-Z]{4}-[0-9A-Z]{4}$/);
});

describe('what is left', () => {
  const ids = [crypto.randomUUID(), crypto.randomUUID()] as const;

  async function left() {
    const pairs = [await makeKeyPair(), await makeKeyPair()] as const;
    const sealed = await sealLeft(mail);
    const answer = { code: makeAnswerCode(), phone: '+4915550100' };
    const behind = pairs.map(({ suite, publicKey }, index) => ({ suite, publicKey, id: ids[index]! }));
    return { pairs, sealed, answer, each: await sealFor(sealed, answer, behind) };
  }

  test('opens for everybody behind the slot as mail that came in, and for nobody else', async () => {
    const { pairs, sealed, answer, each } = await left();
    for (const [index, { id, sealedKey, sealedSummary, sealedAnswer }] of each.entries()) {
      const key = await openIncomingKey(pairs[index]!.privateKey, sealedKey, id);
      const opened = await readMessage(await openContent(sealed.content, key));
      expect(opened).toMatchObject({
        subject: mail.subject,
        from: mail.from,
        text: expect.stringContaining(mail.text),
      });
      expect(opened.files.map(({ name, bytes }) => [name, bytes])).toEqual([['licence.pdf', mail.files[0]!.bytes]]);
      expect(await openIncomingSummary(sealedSummary, key, id)).toMatchObject({
        subject: mail.subject,
        from: mail.from,
      });
      expect(await openForTheAnswer(sealedAnswer, key, id)).toEqual(answer);
      await expect(openIncomingKey(pairs[1 - index]!.privateKey, sealedKey, id)).rejects.toThrow(SealError);
      // What was sealed under one number is nothing under another.
      await expect(openForTheAnswer(sealedAnswer, key, ids[1 - index]!)).rejects.toThrow(SealError);
    }
  });

  test('what the server knows of its sender is sealed to the account, and can’t be put beside another mail', async () => {
    const { privateKey, ...key } = await makeKeyPair();
    const proof = { slot: 'Crew records', number: '7H2K-9QX4', address: mail.from.address, proved: true };
    const sealed = await sealSlotProof(proof, key, ids[0]);
    expect(await openSlotProof(privateKey, sealed, ids[0])).toEqual(proof);
    await expect(openSlotProof(privateKey, sealed, ids[1])).rejects.toThrow(SealError);
    await expect(openSlotProof((await makeKeyPair()).privateKey, sealed, ids[0])).rejects.toThrow(SealError);
  });

  test.each(['subject', 'name', 'address'])('a line break in the %s makes no header', async (where) => {
    const evil = 'a\r\nBcc: spy@elsewhere.example';
    const changed =
      where === 'subject'
        ? { ...mail, subject: evil }
        : { ...mail, from: { ...mail.from, [where]: where === 'name' ? evil : `${evil}` } };
    await expect(sealLeft(changed)).rejects.toThrow(HeaderInjectionError);
  });
});

test('the footer has one link and no markup of its own', () => {
  const { text, html } = slotFooter('https://room.larkmoor.example/slot/Vq6zfUgbNO-D_FLp', 'ours');
  expect(text).toBe('To send us something under lock:\nhttps://room.larkmoor.example/slot/Vq6zfUgbNO-D_FLp');
  expect(html.match(/<[^>]+>/g)).toEqual([
    '<p>',
    '<a href="https://room.larkmoor.example/slot/Vq6zfUgbNO-D_FLp">',
    '</a>',
    '</p>',
  ]);
});

/** Names that were made to be something else than a name: markup, other directions, other alphabets, controls. */
const HOSTILE_NAMES = [
  ...[
    '<b>',
    '"><script>',
    "' OR 1=1 --",
    '${7*7}',
    '{{7*7}}',
    '%00',
    '%0d%0a',
    '&lt;',
    '=cmd|x!A1',
    '../..',
    '\\\\host',
  ],
  ...['\u202Eevil', '\u2066a\u2069', '\u200B', '\u0430dmin', 'ﷺ', '👩‍👩‍👧‍👦', '文字', 'שלום', 'مرحبا', 'Ω'.repeat(90)],
  ...['=?utf-8?B?PGI+?=', '"quoted" <a@b.example>', 'a,b;c:d', '(comment)', '\\', '"', '<>', '@', '.', '  spaced  '],
];
test.each(HOSTILE_NAMES)('the name %j comes out as it went in, and the mail has one sender', async (name) => {
  const { key, content } = await sealLeft({ ...mail, from: { ...mail.from, name }, subject: name, text: name });
  const opened = await readMessage(await openContent(content, key));
  expect(opened.from.address).toBe(mail.from.address);
  expect(opened.from.name.trim()).toBe(name.trim());
  expect(opened.subject.trim()).toBe(name.trim());
  expect(opened.text).toContain(name);
});
