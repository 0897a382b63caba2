/**
 * The carried page: read again as it was made, through what mail and browsers do to it; opened by another program with
 * both halves; and when the plan offers it.
 */
import { createHash } from 'node:crypto';
import { decrypt, readMessage as readArmoured } from 'openpgp';
import { type Bytes, concat, fromUtf8, randomBytes, utf8 } from '../src/bytes';
import { LOOSEST_TERMS } from '../src/handling/handling';
import { carriedLock } from '../src/locks/carried/index';
import { CARRIER_SCRIPT, CARRIER_STYLE, carriedPage, SCRIPT_HASH, STYLE_HASH } from '../src/locks/carried/page';
import { readCarried, readHeld } from '../src/locks/carried/read';
import { lockKinds } from '../src/locks/list';
import { type AssessmentContext, type PlannedHandling, type Recipient } from '../src/locks/lock';
import { sealContent } from '../src/locks/room/content';
import { joinKey, noticeLink } from '../src/locks/room/grant';
import { splitKey } from '../src/locks/room/split';
import { buildMessage } from '../src/message/build';
import { readMessage } from '../src/message/read';
import { buildNotice } from '../src/locks/carried/notice';
import { type Notice, noticeText } from '../src/notice/notice';
import { noticeWords } from '../src/notice/words';
import { LANGUAGES } from '../src/language';
import { planDelivery } from '../src/outgoing/delivery-plan';
import { readDamaged } from './mutations';

const ROOM = 'https://room.larkmoor.example';
const GRANT = '6f1b2c3d-4e5f-4a6b-8c7d-0123456789ab';
const share = randomBytes(32);
const carriedLink = (room: string, grant: string, some?: Uint8Array): string => noticeLink(room, grant, some, true);
const contentKey = { key: randomBytes(32), salt: randomBytes(32) };
const content = buildMessage({
  messageId: 'x@larkmoor.example',
  from: { name: 'Maren Oduya', address: 'maren.oduya@larkmoor.example' },
  to: [{ name: '', address: 'pell@postbox.example' }],
  cc: [],
  subject: 'Fitness certificate',
  date: new Date('2026-11-25T10:00:00Z'),
  reference: '',
  text: 'Fit for duty.',
  html: '',
  files: [],
});
const sealed = (): Promise<Bytes> => sealContent(content, contentKey);
const page = async (over: Partial<Parameters<typeof carriedPage>[0]> = {}): Promise<Bytes> =>
  carriedPage({
    senderName: 'Maren Oduya',
    officeName: 'Larkmoor Ferries',
    link: carriedLink(ROOM, GRANT, share),
    sealed: await sealed(),
    words: noticeWords('en'),
    ...over,
  });

test('its policy names its own script and style, and nothing else may run or be fetched', async () => {
  const hash = (text: string): string => `sha256-${createHash('sha256').update(text).digest('base64')}`;
  expect([SCRIPT_HASH, STYLE_HASH]).toEqual([hash(CARRIER_SCRIPT), hash(CARRIER_STYLE)]);
  const html = fromUtf8(await page());
  expect(html).toContain(
    `content="default-src 'none'; script-src '${SCRIPT_HASH}'; style-src '${STYLE_HASH}'; base-uri 'none'; form-action 'none'"`,
  );
  expect(html).toContain(`<script>${CARRIER_SCRIPT}</script>`);
  expect(html.match(/<script(?! type="text\/plain")/g)).toHaveLength(1);
});

test('the link keeps the share behind the #, and leads to a page of its own', () => {
  expect(carriedLink(ROOM, GRANT, share)).toBe(noticeLink(ROOM, GRANT, share).replace('#', '/carried#'));
  expect(carriedLink(ROOM, GRANT)).toBe(`${ROOM}/room/${GRANT}/carried`);
});

describe('read again', () => {
  test.each([
    ['as it was made', (html: string) => html],
    ['with the line ends of another system', (html: string) => html.replace(/\r\n/g, '\n')],
    ['with line ends put in', (html: string) => html.replace(/(?<!\r)\n/g, '\r\n')],
    ['saved with a mark of its encoding', (html: string) => `\ufeff${html}`],
  ])('%s', async (_, change) => {
    expect(readCarried(utf8(change(fromUtf8(await page()))))).toEqual({
      origin: ROOM,
      grantId: GRANT,
      share,
      sealed: await sealed(),
    });
  });

  test('without a share, for who has an account', async () =>
    expect(readCarried(await page({ link: carriedLink(ROOM, GRANT) }))).toMatchObject({
      grantId: GRANT,
      share: undefined,
    }));
  test('by the page it opens: what stands in the element, and nothing else', async () => {
    const [, held] = /id="held">([^<]*)</.exec(fromUtf8(await page())) ?? [];
    expect(readHeld(held!.replace(/\r\n/g, '\n'))).toEqual(await sealed());
    expect([readHeld(''), readHeld('x'.repeat(1000)), readHeld(`${held}\nmore`)]).toEqual([
      undefined,
      undefined,
      undefined,
    ]);
  });

  test.each([
    ['cut off in the middle', async () => (await page()).slice(0, 2_000)],
    ['cut off before the end of the block', async () => utf8(fromUtf8(await page()).replace(/-----END[\s\S]*/, ''))],
    ['a page of somebody else', async () => utf8('<!doctype html><a id="open" href="https://x.example/">x</a>')],
    ['a link that is none', async () => utf8(fromUtf8(await page()).replace(ROOM, 'no link'))],
    ['a link to another page', async () => utf8(fromUtf8(await page()).replace('/carried', '/other'))],
    ['nothing', async () => new Uint8Array(0)],
    ['a picture', async () => Uint8Array.of(0xff, 0xd8, 0xff, 0xe0)],
  ])('%s is none', async (_, file) => expect(readCarried(await file())).toBeUndefined());

  test('damaged in thousands of ways it is none, or what it says; nothing is thrown', async () =>
    readDamaged(await page(), 5_000, readCarried, []));
});

test('a name is words, whatever it is made of', async () => {
  const html = fromUtf8(await page({ senderName: '</title><script>alert(1)</script>"' }));
  expect(html).not.toContain('<script>alert');
  expect(readCarried(utf8(html))).toMatchObject({ grantId: GRANT });
});

test('another program opens what it carries once both halves are joined, and nothing with one', async () => {
  const identity = { grantId: GRANT, messageId: 'a7a2f9c0-0000-4000-8000-000000000001' };
  const split = await splitKey(contentKey.key, identity);
  const carried = readCarried(await page({ link: carriedLink(ROOM, GRANT, split.readerShare) }))!;
  const key = await joinKey(carried.share!, split.house, identity);
  const html = fromUtf8(await page({ link: carriedLink(ROOM, GRANT, split.readerShare) }));
  const block = html.slice(html.indexOf('-----BEGIN'), html.indexOf('</script>', html.indexOf('-----BEGIN')));
  const open = async (data: Uint8Array): Promise<Uint8Array> =>
    (
      await decrypt({
        message: await readArmoured({ armoredMessage: block }),
        sessionKeys: [{ data, algorithm: 'aes256', aeadAlgorithm: 'gcm' } as never],
        format: 'binary',
      })
    ).data as Uint8Array;
  expect(Buffer.compare(await open(key), content)).toBe(0);
  await expect(open(carried.share!)).rejects.toThrow();
  await expect(open(split.house.houseShare)).rejects.toThrow();
});

describe('the mail around it', () => {
  const notice: Notice = {
    messageId: 'n@larkmoor.example',
    date: new Date('2026-11-25T10:00:00Z'),
    officeName: 'Larkmoor Ferries',
    sender: { name: 'Maren Oduya', address: 'maren.oduya@larkmoor.example' },
    recipient: { name: 'Pell Anders', address: 'pell@postbox.example' },
    closesAt: new Date('2026-12-03T17:00:00Z'),
    zone: 'Europe/Lisbon',
    check: { kind: 'text', hint: '417', question: false },
    link: carriedLink(ROOM, GRANT, share),
    language: 'en',
    carried: {},
  };
  test.each(LANGUAGES)('says in %s what to do with the file, and keeps the share to it', async (language) => {
    const mail = await readMessage(buildNotice({ ...notice, language }, await sealed()));
    expect(mail.files).toHaveLength(1);
    expect(mail.files[0]).toMatchObject({ name: `${noticeWords(language).carriedName}.html` });
    expect(readCarried(mail.files[0]!.bytes)).toEqual({ origin: ROOM, grantId: GRANT, share, sealed: await sealed() });
    const fragment = carriedLink(ROOM, GRANT, share).split('#')[1]!;
    for (const said of [mail.text, mail.html]) {
      expect(said).toContain(`${ROOM}/room/${GRANT}/carried`);
      expect(said).not.toContain(fragment);
    }
  });
  test('with another ending the note says to rename it', async () => {
    const mail = await readMessage(buildNotice({ ...notice, carried: { extension: 'page' } }, await sealed()));
    expect(mail.files[0]!.name).toBe('message-under-lock.page');
    expect(mail.text).toContain('ends in “.page”');
  });
  test('the office’s own opening, which says that the message is held, is not used for it', () => {
    const texts = {
      subject: '{sender} wrote',
      greeting: 'Dear {recipient}',
      opening: 'Held here, from {sender} {address}',
      doubt: 'Ring',
      foot: '{office}',
      outer: 'x',
    };
    expect(noticeText({ ...notice, look: { colour: '#0E5A4C', texts: { en: texts } } }).text).not.toContain(
      'Held here',
    );
  });
  test('neither goes without the other', async () => {
    const { carried: _, ...plain } = notice;
    expect(() => buildNotice(notice)).toThrow();
    expect(() => buildNotice(plain, new Uint8Array(1))).toThrow();
    expect(buildNotice(notice, await sealed())).toEqual(buildNotice(notice, await sealed()));
  });
});

describe('in the plan', () => {
  const handling: PlannedHandling = {
    ...LOOSEST_TERMS,
    clear: false,
    copies: true,
    check: 'text',
    leastCheck: 'question',
  };
  const context: AssessmentContext = {
    message: 'x',
    fileCount: 1,
    size: 5_000_000,
    sender: { address: 'maren.oduya@larkmoor.example', signs: true, signsOpenPgp: true, phones: [], addresses: [] },
    others: [],
  };
  const pell: Recipient = { name: 'Pell Anders', address: 'pell@postbox.example', role: 'to', phone: '+447700900417' };
  const chosen = (recipient: Recipient, terms: Partial<PlannedHandling> = {}) =>
    planDelivery(
      {
        recipients: [recipient],
        handling: { ...handling, ...terms, closing: { ok: true, closesAt: new Date() } },
        subject: 'x',
        text: 'x',
        fileSizes: [5],
        limits: { maxBytes: 100, maxRecipients: 5 },
        context,
      },
      lockKinds,
    ).lines[0]!.chosen;

  test('it is taken only when asked for, and then keeps all that the room keeps', () => {
    expect(chosen(pell).lock).toBe('room');
    expect(chosen({ ...pell, lock: 'carried' })).toMatchObject({
      lock: 'carried',
      cannotHonour: [],
      missing: [],
      check: { kind: 'text' },
      reasons: [{ code: 'travels-as-a-file' }, { code: 'can-be-closed-and-withdrawn' }],
    });
    // No copy is allowed: this is none.
    expect(chosen({ ...pell, lock: 'carried' }, { copies: false }).lock).toBe('carried');
  });
  test('it asks what the room asks', () =>
    expect(
      carriedLock.assess({ name: '', address: 'x@postbox.example', role: 'to' }, handling, context).missing,
    ).toEqual([{ code: 'phone-missing' }]));
  test.each<[string, Recipient, Partial<PlannedHandling>]>([
    ['a colleague', { ...pell, lock: 'carried', colleague: { ready: true } }, {}],
    ['what is no secret', { ...pell, lock: 'carried' }, { clear: true }],
  ])('not for %s', (_, recipient, terms) => expect(chosen(recipient, terms).lock).not.toBe('carried'));
  test('their gateway’s limit counts', () => {
    expect(chosen({ ...pell, lock: 'carried', largest: 1_000_000 }).missing).toEqual([
      { code: 'file-too-large', limit: 1_000_000 },
    ]);
  });
});

test('the sealed content stands in no other spelling', async () => {
  const html = Buffer.from(await page());
  const secret = Buffer.from('Fit for duty.');
  for (const spelled of [secret.toString(), secret.toString('base64').slice(0, -4), secret.toString('hex')])
    expect(html.includes(spelled)).toBe(false);
  // The search would find it.
  expect(Buffer.from(concat(html, secret)).includes('Fit for duty.')).toBe(true);
});
