/** What the office knows of people is known at the door, once a member has let it in: mail leaves without another press. */
import * as bookApi from '@under-lock/contract/office-book';
import { listSent } from '@under-lock/contract/outgoing';
import { listHanded } from '@under-lock/contract/submission';
import { DOOR_IN_BOOK, sealToMember } from '@under-lock/core/office-book/key';
import { type Bytes, randomBytes, toBase64Url } from '@under-lock/core/bytes';
import { readSecretKey } from '@under-lock/core/openpgp/key';
import { type Rule } from '@under-lock/core/rules/rule';
import { openedOutside } from '@under-lock/standins/mail-program';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import PostalMime from 'postal-mime';
import { codeOf, eventually, giveKeyPair, linkFromMail, type Worker } from '../../server/test/house';
import { trustOutside } from '../../server/src/demo/trust';
import { beginBook, person, type TestBook } from './book';
import {
  type Correspondent,
  correspondent,
  type DoorHouse,
  makeRule,
  openDoorHouse,
  papersPreset,
  python,
  whysOf,
} from './mail-programs';

const MAREN = 'maren.oduya@larkmoor.example';
let house: DoorHouse;
let maren: Correspondent;
let admin: Worker;
let book: TestBook;

beforeAll(async () => {
  house = await openDoorHouse();
  maren = await correspondent(house, 'maren.oduya');
  admin = await house.worker('ines.varga', 'administrator');
  book = await beginBook(admin, maren);
  await trustOutside(house.server.context);
  await book.put('book-person', person('Pell Anders', 'pell.anders@postbox.example', { phone: '+447700900417' }));
}, 120_000);
afterAll(() => house.stop());

const handIn = (to: string[], head: string, body: string): Promise<{ code: number; out: string }> =>
  python(house, [
    "s.ehlo('here'); s.starttls(context=c); s.ehlo('here')",
    `s.login('${MAREN}', '${maren.password}')`,
    `s.sendmail('${MAREN}', ${JSON.stringify(to)}, ${JSON.stringify(`From: ${MAREN}\r\n${head}\r\n\r\n${body}`)})`,
  ]);

test('before a member has let it in, the door knows nobody: what is sent waits', async () => {
  await handIn(['pell.anders@postbox.example'], 'To: pell.anders@postbox.example\r\nSubject: First', 'Text.');
  await house.door.idle();
  expect((await maren.client(listHanded)).mails).toHaveLength(1);
});

test('only a member lets it in, and only with the key it has', async () => {
  const tobias = await house.worker('tobias.quill');
  await giveKeyPair(tobias);
  const sealedKey = await sealToMember(maren.key, randomBytes(32), 1, DOOR_IN_BOOK);
  const body = { epoch: 1, sealedKey, publicKey: maren.key.publicKey };
  expect(await codeOf(tobias.client(bookApi.letDoorIn, { body }))).toBe('not-member');
  expect(await codeOf(maren.client(bookApi.letDoorIn, { body }))).toBe('conflict');
  await book.letDoorIn();
  expect((await maren.client(bookApi.getOfficeBook)).door?.letIn).toBeDefined();
});

test('whose phone the office knows is told at once; who is unseen stays so', async () => {
  await book.put('book-person', person('Wren Ashby', 'wren.ashby@postbox.example', { phone: '+447700900418' }));
  await handIn(
    ['pell.anders@postbox.example', 'wren.ashby@postbox.example'],
    'To: Pell Anders <pell.anders@postbox.example>\r\nSubject: =?utf-8?q?Pr=C3=BCfung?=\r\nMIME-Version: 1.0\r\nContent-Type: multipart/mixed; boundary=b',
    '--b\r\nContent-Type: text/plain\r\n\r\nSee the paper.\r\n--b\r\nContent-Type: text/plain\r\nContent-Disposition: attachment; filename="paper.txt"\r\n\r\nFit for duty.\r\n--b--\r\n',
  );
  await house.door.idle();
  const [sent] = (await maren.client(listSent)).messages;
  expect(sent!.grants.map(({ address, role }) => [address, role])).toEqual([
    ['pell.anders@postbox.example', 'to'],
    ['wren.ashby@postbox.example', 'bcc'],
  ]);
  await linkFromMail(house, 'pell.anders@postbox.example');
  await linkFromMail(house, 'wren.ashby@postbox.example');
  const notices = house.world.store.mails.map(({ raw }) => Buffer.from(raw, 'base64').toString());
  for (const notice of notices) expect(notice).not.toContain('Fit for duty');
});

test('with an agreed password of the office book it goes as a locked file, which 7-Zip opens', async () => {
  const password = 'tide-harbour-lantern-seven';
  await book.put(
    'book-person',
    person('Stonewharf', 'office@stonewharf.example', {
      password: { password, guesses: 20, since: new Date().toISOString() },
    }),
  );
  await book.put('book-firm', { domain: 'stonewharf.example', lock: 'file', changes: [] });
  // Under it whoever has an agreed password may get a copy of their own.
  await papersPreset(admin, { copies: true });
  await handIn(
    ['office@stonewharf.example'],
    'To: office@stonewharf.example\r\nSubject: Papers\r\nMIME-Version: 1.0\r\nContent-Type: multipart/mixed; boundary=b',
    '--b\r\nContent-Type: text/plain\r\n\r\nAs agreed.\r\n--b\r\nContent-Type: text/plain\r\nContent-Disposition: attachment; filename="paper.txt"\r\n\r\nFit for duty.\r\n--b--\r\n',
  );
  await house.door.idle();
  const [sent] = (await maren.client(listSent)).messages;
  expect(sent!.copies).toMatchObject([{ address: 'office@stonewharf.example', lock: 'file' }]);
  const mail = await eventually(() =>
    house.world.store.mails.find(({ mailbox }) => mailbox === 'office@stonewharf.example'),
  );
  const { attachments } = await PostalMime.parse(Buffer.from(mail.raw, 'base64'));
  const folder = mkdtempSync(join(tmpdir(), 'under-lock-door-'));
  writeFileSync(join(folder, 'locked.zip'), new Uint8Array(attachments[0]!.content as ArrayBuffer));
  expect(execFileSync('7zz', ['x', '-so', `-p${password}`, join(folder, 'locked.zip'), 'paper.txt']).toString()).toBe(
    'Fit for duty.',
  );
});

describe('what is published for somebody of whom the office keeps nothing', () => {
  const outcomeFor = async (address: string): Promise<string[]> => {
    await handIn([address], `To: ${address}\r\nSubject: Found ${address}`, 'As agreed by phone.');
    await house.door.idle();
    const latest = (await maren.client(listSent)).messages.find((one) =>
      one.copies.some((copy) => copy.address === address),
    );
    return latest === undefined
      ? (await whysOf(maren)).find(({ subject }) => subject === `Found ${address}`)!.sentences
      : latest.copies.map(({ lock }) => lock);
  };

  test.each([
    ['odile.brask@harbourclinic.example', 'certificate'],
    ['underwriting@northquay.example', 'openpgp'],
  ])('%s gets it encrypted: the office trusts whoever vouches for their %s', async (address, lock) => {
    expect(await outcomeFor(address)).toEqual([lock]);
    const mail = await eventually(() => house.world.store.mails.find(({ mailbox }) => mailbox === address));
    const found = await openedOutside(new Uint8Array(Buffer.from(mail.raw, 'base64')), address, house.world);
    expect(found!.opened.message.text).toContain('As agreed by phone.');
  });

  test.each([
    ['wards@harbourclinic.example', 'is revoked'],
    ['desk@quayarchive.example', 'is too weak'],
    ['una.pike@skerryfreight.example', 'is nobody’s word but the key’s own'],
  ])('%s does not: what they publish %s', async (address) => {
    expect(await outcomeFor(address)).toEqual([`${address}: phone number for the passcode missing`]);
  });
});

test.each(['certificate', 'openpgp'] as const)(
  'with a %s of theirs in the office book it goes encrypted, and opens in their own program',
  async (lock) => {
    const address = { certificate: 'records@harbourclinic.example', openpgp: 'underwriting@northquay.example' }[lock];
    const addedAt = new Date().toISOString();
    if (lock === 'certificate') {
      const authorities = await house.world.authorities();
      const { certificate } = authorities.correspondent(address)!;
      const bytes = Buffer.from(certificate, 'base64');
      await book.put(
        'book-person',
        person('Harbour Clinic', address, {
          certificates: [{ certificate: bytes.toString('base64url'), addedAt, from: 'file' }],
        }),
      );
    } else {
      const { secret: own } = (await house.world.keyring()).holder(address)!;
      const key = (await readSecretKey(new Uint8Array(Buffer.from(own, 'base64')))).toPublic();
      await book.put(
        'book-person',
        person('Northquay', address, {
          keys: [
            {
              key: toBase64Url(key.write() as Bytes),
              fingerprint: key.getFingerprint(),
              keyIds: [],
              addedAt,
              from: 'file',
            },
          ],
        }),
      );
    }
    await handIn([address], `To: ${address}\r\nSubject: Under ${lock}`, 'As agreed by phone.');
    await house.door.idle();
    const [sent] = (await maren.client(listSent)).messages;
    expect(sent!.copies).toMatchObject([{ address, lock }]);
    const mail = await eventually(() => house.world.store.mails.find(({ mailbox }) => mailbox === address));
    const raw = Buffer.from(mail.raw, 'base64');
    expect(raw.toString()).not.toContain('As agreed by phone');
    const found = await openedOutside(new Uint8Array(raw), address, house.world);
    expect(found).toMatchObject({ by: lock, encrypted: true, signedBy: [] });
    expect(found!.opened.message.text).toContain('As agreed by phone.');
  },
);

test('the office’s rules see what a mail program said in its head, at the door and at the server', async () => {
  const says = (value: string): Rule['when']['allOf'] => [{ kind: 'header-is', name: 'sensitivity', value }];
  await makeRule(admin, 'Secrets', says('company-confidential'), [
    { kind: 'stop', sentence: 'Company secrets go by courier.' },
  ]);
  await makeRule(admin, 'Private', says('private'), [{ kind: 'wait', minutes: 5 }]);
  const to = 'pell.anders@postbox.example';
  await handIn([to], `To: ${to}\r\nSubject: Plans\r\nSensitivity: Company-Confidential`, 'The plans.');
  await handIn([to], `To: ${to}\r\nSubject: Birthday\r\nSensitivity: Private`, 'On Friday.');
  await house.door.idle();
  const whys = await whysOf(maren);
  expect(whys.find(({ subject }) => subject === 'Plans')?.sentences).toEqual([
    'what the rule “Secrets” asks: it can’t go like this',
  ]);
  const [latest] = (await maren.client(listSent)).messages;
  expect(latest).toMatchObject({ rules: { acted: ['Private'] } });
  expect(latest!.sentAt.getTime() - Date.now()).toBeGreaterThan(200_000);
});

test('what belongs together by its Message-IDs is one conversation', async () => {
  const to = 'tobias.quill@larkmoor.example';
  await handIn([to], `To: ${to}\r\nMessage-ID: <first@desk.example>\r\nSubject: Berths`, 'Which ones?');
  await house.door.idle();
  await handIn(
    [to],
    `To: ${to}\r\nMessage-ID: <second@desk.example>\r\nIn-Reply-To: <first@desk.example>\r\nReferences: <other@desk.example> <first@desk.example>\r\nSubject: Re: Berths`,
    'Berth four.',
  );
  await house.door.idle();
  await handIn([to], `To: ${to}\r\nIn-Reply-To: <nobody@desk.example>\r\nSubject: Tides`, 'High.');
  await house.door.idle();
  const [tides, second, first] = (await maren.client(listSent)).messages.filter(({ grants }) =>
    grants.some(({ address }) => address === to),
  );
  expect(second!.conversationId).toBe(first!.conversationId);
  expect(tides!.conversationId).toBe(tides!.id);
});
