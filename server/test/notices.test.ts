/**
 * The office's notices on their way: in its own words, shown later as they left, signed so that a mail host's own
 * program is satisfied.
 */
import { execFileSync } from 'node:child_process';
import { createHash, randomBytes as randomBuffer } from 'node:crypto';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { getOffice, listSigningKeys, putNoticeLook, replaceSigningKey } from '@under-lock/contract/office';
import * as messageApi from '@under-lock/contract/outgoing';
import { noticeLink } from '@under-lock/core/locks/room/grant';
import { type NoticeLook, OUR_LOOK } from '@under-lock/core/notice/look';
import { buildNotice } from '@under-lock/core/locks/carried/notice';
import { ourTexts } from '@under-lock/core/notice/notice';
import { rows } from '../src/data/database';
import { ensureDkimKey } from '../src/mail/dkim';
import { demoMessage, eventually, type House, linkFromMail, openHouse, send, type Worker } from './house';

let house: House;
let ines: Worker;
let maren: Worker;
const folder = mkdtempSync(join(tmpdir(), 'under-lock-dkim-'));
beforeAll(async () => {
  house = await openHouse();
  ines = await house.worker('ines.varga', 'administrator');
  maren = await house.worker('maren.oduya');
});
afterAll(async () => {
  rmSync(folder, { recursive: true });
  await house.stop();
});

/** Debian's python3-dkim with the records the office was told to publish: true when it finds the signature right. */
async function isSigned(raw: Buffer, records?: Record<string, string>): Promise<boolean> {
  const { keys } = await ines.client(listSigningKeys);
  const published = records ?? Object.fromEntries(keys.map(({ record }) => [record.name, record.value]));
  const name = join(folder, randomBuffer(6).toString('hex'));
  writeFileSync(`${name}.eml`, raw);
  writeFileSync(`${name}.json`, JSON.stringify(published));
  const program = `import dkim, json, sys
records = json.load(open(sys.argv[2]))
print(dkim.verify(open(sys.argv[1], 'rb').read(), dnsfunc=lambda name, timeout=5: records.get(name.decode().rstrip('.'), '').encode()))`;
  return (
    execFileSync('/usr/bin/python3', ['-c', program, `${name}.eml`, `${name}.json`], {
      encoding: 'utf8',
      stdio: ['ignore', 'pipe', 'ignore'],
    }).trim() === 'True'
  );
}

async function noticeTo(address: string): Promise<{ raw: Buffer; sent: Awaited<ReturnType<typeof send>> }> {
  const sent = await send(maren, demoMessage({ files: [], to: [{ name: '', address }] }));
  await linkFromMail(house, address);
  const mail = house.world.store.mails.filter(({ mailbox }) => mailbox === address).at(-1)!;
  return { raw: Buffer.from(mail.raw, 'base64'), sent };
}

const look: NoticeLook = {
  colour: '#123456',
  texts: { en: { ...ourTexts('en'), doubt: 'Odd? Ring the pier office on the number on your contract.' } },
};

test('notices are signed with the office’s key, cover what a reader sees, and fail when a letter is changed', async () => {
  const { raw } = await noticeTo('signed@postbox.example');
  const head = raw.toString('latin1').split('\r\n\r\n')[0]!;
  expect(head).toMatch(/^DKIM-Signature: v=1; a=rsa-sha256; c=relaxed\/relaxed; d=larkmoor\.example;/i);
  expect(await isSigned(raw)).toBe(true);
  const text = raw.toString('latin1');
  for (const changed of [
    text.replace('Subject: Maren', 'Subject: Marin').replace(/Subject: maren/, 'Subject: marin'),
    text.replace(/\r\n\r\n([A-Za-z0-9+/])/, (_, first: string) => `\r\n\r\n${first === 'A' ? 'B' : 'A'}`),
    `From: Somebody <x@elsewhere.example>\r\n${text}`,
  ]) {
    expect(changed).not.toBe(text);
    expect(await isSigned(Buffer.from(changed, 'latin1'))).toBe(false);
  }
  expect(await isSigned(raw, {})).toBe(false);
});

test('a notice loads nothing, names no list to leave, and has the headers of an honest mail', async () => {
  const { raw } = await noticeTo('honest@postbox.example');
  const head = raw
    .toString('latin1')
    .split('\r\n\r\n')[0]!
    .replace(/\r\n[ \t]+/g, ' ');
  expect(head).not.toMatch(/^(List-|Precedence|X-)/im);
  for (const name of ['From', 'To', 'Subject', 'Date', 'Message-ID', 'MIME-Version'])
    expect(head.match(new RegExp(`^${name}:`, 'gim'))).toHaveLength(1);
  expect(/^Message-ID: <[^@>]+@larkmoor\.example>/im.test(head)).toBe(true);
  expect(/^From: .*@larkmoor\.example>/im.test(head)).toBe(true);
  const bodies = raw
    .toString('latin1')
    .split(/\r\n\r\n/)
    .filter((part) => /^[A-Za-z0-9+/=\r\n]+$/.test(part.split('\r\n--')[0]!))
    .map((part) => Buffer.from(part.split('\r\n--')[0]!, 'base64').toString('utf8'));
  expect(bodies).toHaveLength(2);
  for (const body of bodies)
    expect(body).not.toMatch(/<img|<link|url\(|<style|<script|<form|http[^\s"]*(?<!\/room\/[^\s"]*)\.(?:png|gif|css)/i);
});

test('an administrator words them; what left before stays provable as it left', async () => {
  const before = await noticeTo('before@postbox.example');
  await expect(maren.client(putNoticeLook, { body: look })).rejects.toMatchObject({ code: 'not-allowed' });
  await ines.client(putNoticeLook, { body: look });
  const office = await maren.client(getOffice);
  expect(office.look).toEqual(look);
  const after = await noticeTo('after@postbox.example');
  for (const { sent, raw, expected } of [
    { ...before, expected: OUR_LOOK },
    { ...after, expected: look },
  ]) {
    const { notices, looks, grants } = await maren.client(messageApi.getSent, { params: { id: sent.id } });
    const [{ lookId, sha256, sentAt, messageId, answerThere }] = notices as [(typeof notices)[0]];
    const { readerShare, id, address } = sent.dispatch.grants[0]!;
    const used = lookId === undefined ? OUR_LOOK : looks[lookId]!;
    expect(used).toEqual(expected);
    const rebuilt = buildNotice({
      messageId,
      date: sentAt,
      officeName: office.name,
      sender: { name: maren.account.name, address: maren.account.address },
      recipient: { name: '', address },
      closesAt: grants[0]!.closesAt,
      zone: office.calendar.zone,
      check: { kind: 'text', hint: grants[0]!.check.hint, question: false },
      link: noticeLink(office.roomOrigin, id, readerShare),
      language: 'en',
      answerThere,
      look: used,
    });
    expect(createHash('sha256').update(rebuilt).digest().equals(Buffer.from(sha256))).toBe(true);
    // The signature stands before it; nothing else is different.
    expect(raw.includes(Buffer.from(rebuilt))).toBe(true);
  }
});

test.each([
  ['an unreadable colour', { ...look, colour: '#FFFFFF' }, 'colour'],
  [
    'a link of the office’s own',
    { ...look, texts: { en: { ...ourTexts('en'), doubt: 'https://x.example' } } },
    'doubt',
  ],
  [
    'a subject that names nobody',
    { ...look, texts: { pt: { ...ourTexts('pt'), subject: 'Uma mensagem' } } },
    'subject',
  ],
])('%s is refused, and the part is named', async (_, wrong, part) => {
  await expect(ines.client(putNoticeLook, { body: wrong })).rejects.toMatchObject({
    code: 'invalid-input',
    details: { detail: expect.stringContaining(part) as string },
  });
});

test('a new key signs at once, the old one stays listed for what is on its way, and neither lies readable in the database', async () => {
  const old = await noticeTo('old.key@postbox.example');
  const [first] = (await ines.client(listSigningKeys)).keys;
  await expect(maren.client(replaceSigningKey)).rejects.toMatchObject({ code: 'not-allowed' });
  await ines.client(replaceSigningKey);
  const { keys } = await ines.client(listSigningKeys);
  expect(keys.map(({ replacedAt }) => replacedAt === undefined)).toEqual([true, false]);
  expect(keys[1]!.selector).toBe(first!.selector);
  const fresh = await noticeTo('new.key@postbox.example');
  expect(fresh.raw.toString('latin1')).toContain(`s=${keys[0]!.selector}`);
  expect(await isSigned(fresh.raw)).toBe(true);
  expect(await isSigned(old.raw)).toBe(true);
  const [stored] = await rows<{ sealed_private_key: Buffer }>(
    house.server.context.db,
    'SELECT sealed_private_key FROM dkim_keys LIMIT 1',
  );
  expect(stored!.sealed_private_key.includes('PRIVATE KEY')).toBe(false);
  await Promise.all(Array.from({ length: 4 }, () => ensureDkimKey(house.server.context)));
  expect((await ines.client(listSigningKeys)).keys).toHaveLength(2);
});

test('passcodes by mail are signed too', async () => {
  const { mail } = house.server.context;
  await mail.send(
    { from: 'bounce@larkmoor.example', to: 'passcode@postbox.example' },
    Buffer.from(
      'From: <passcode@larkmoor.example>\r\nTo: <passcode@postbox.example>\r\nSubject: x\r\nDate: Tue, 24 Nov 2026 10:00:00 +0000\r\nMessage-ID: <x@larkmoor.example>\r\n\r\n482913\r\n',
    ),
  );
  const raw = await eventually(
    () => house.world.store.mails.find(({ mailbox }) => mailbox === 'passcode@postbox.example')?.raw,
  );
  expect(await isSigned(Buffer.from(raw, 'base64'))).toBe(true);
});
