/**
 * A program without any page sends one message under all five locks; everybody opens what they got, each in the way
 * their lock asks, and finds the same text and the same file.
 */
import { getSent } from '@under-lock/contract/outgoing';
import { partCount } from '@under-lock/contract/blob';
import { requestCertificate } from '@under-lock/contract/certificate';
import * as roomApi from '@under-lock/contract/room';
import { type Bytes, concat, toBase64Url, utf8 } from '@under-lock/core/bytes';
import { makeKeyPair as makeCertificateKey, makeRequest } from '@under-lock/core/certificate/make-key';
import { carriedLock } from '@under-lock/core/locks/carried/index';
import { type Carried, readCarried } from '@under-lock/core/locks/carried/read';
import { type SealingMeans } from '@under-lock/core/locks/lock';
import { joinKey, shareFromFragment, shareProof } from '@under-lock/core/locks/room/grant';
import { roomLock } from '@under-lock/core/locks/room/index';
import { readSecretKey } from '@under-lock/core/openpgp/key';
import { makeOpenPgpKey } from '@under-lock/core/openpgp/make-key';
import { type Draft, emptyDraft } from '@under-lock/core/outgoing/draft';
import { type Known } from '@under-lock/core/outgoing/known';
import { makeKey } from '@under-lock/core/outgoing/split';
import { openedOutside } from '@under-lock/standins/mail-program';
import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import PostalMime from 'postal-mime';
import { eventually, type House, linkFromMail, openHouse, type Worker } from './house';
import { knownTo, NO_MEANS, type Program, sendByProgram } from './program';

const PELL = 'pell.anders@postbox.example';
const WREN = 'wren.ashby@postbox.example';
const CLINIC = 'records@harbourclinic.example';
const NORTHQUAY = 'underwriting@northquay.example';
const YARD = 'office@stonewharf.example';
const PASSWORD = 'tide-harbour-lantern';
const PAPER = utf8('Fit for duty, with glasses.');

let house: House;
let maren: Worker;
beforeAll(async () => {
  house = await openHouse();
  maren = await house.worker('maren.oduya');
}, 60_000);
afterAll(() => house.stop());

/** Her own certificate and key, as they would lie in her vault. */
async function ownMeans(now: Date): Promise<SealingMeans> {
  const pair = await makeCertificateKey('p-256');
  const request = await makeRequest(pair, { name: 'Maren Oduya', addresses: [maren.account.address] });
  const { certificate, chain } = await maren.client(requestCertificate, { body: { request, purpose: 'both' } });
  const born = new Date(now.getTime() - 86_400_000);
  const holder = { name: 'Maren Oduya', addresses: [maren.account.address] };
  const { secret } = await makeOpenPgpKey('wide', holder, born);
  const noted = { purpose: 'both', madeAt: born.toISOString(), imported: false } as const;
  return {
    ...NO_MEANS,
    certificates: async () => [
      {
        value: {
          ...noted,
          kind: 'certificate',
          privateKey: toBase64Url(pair.privateKey),
          certificate: toBase64Url(certificate),
          chain: chain.map((one) => toBase64Url(one)),
        },
      },
    ],
    openPgpKeys: async () => [
      {
        value: {
          ...noted,
          kind: 'openpgp',
          secretKey: toBase64Url(secret),
          purpose: 'mail',
          carried: 'field',
          chosenFor: [],
        },
      },
    ],
  };
}

async function knownHere(now: Date): Promise<Known> {
  const clinic = (await house.world.authorities()).correspondent(CLINIC)!;
  const { secret } = (await house.world.keyring()).holder(NORTHQUAY)!;
  const northquay = (await readSecretKey(new Uint8Array(Buffer.from(secret, 'base64')))).toPublic();
  const url = (base64: string): string => Buffer.from(base64, 'base64').toString('base64url');
  const verdict = { level: 'valid' as const };
  const person = (value: Known['people'][number]['value']) => ({
    id: randomUUID(),
    revision: 1,
    updatedAt: now,
    value,
  });
  return {
    ...(await knownTo(maren)),
    people: [
      person({ name: 'Pell Anders', address: PELL, phone: '+447700900417' }),
      person({ name: 'Wren Ashby', address: WREN, phone: '+447700900418' }),
    ],
    certificates: new Map([[CLINIC, { kept: { certificate: url(clinic.certificate) }, verdict }]]),
    keys: new Map([
      [NORTHQUAY, { kept: { key: toBase64Url(northquay.write() as Bytes) }, verdict, readsNewest: false }],
    ]),
    signs: { certificate: true, openpgp: true },
  };
}

const fileId = randomUUID();
const draft: Draft = {
  ...emptyDraft,
  subject: 'Fitness papers before the winter season',
  text: 'The eyesight test is on page two.',
  html: '<p>The eyesight test is on page two.</p>',
  files: [{ blobId: fileId, name: 'paper.txt', type: 'text/plain', size: PAPER.length, key: makeKey() }],
  terms: {
    closing: { kind: 'two-weeks' },
    check: 'text',
    question: false,
    rights: { reply: true, replyAll: false, forward: false, copy: true, print: true, save: true },
    watermark: false,
    copies: true,
    clear: false,
    textOpen: false,
    audience: 'anyone',
  },
  recipients: [
    { name: '', address: PELL, role: 'to', lock: 'room' },
    { name: '', address: WREN, role: 'to', lock: 'carried' },
    { name: 'Harbour Clinic', address: CLINIC, role: 'to', lock: 'certificate' },
    { name: 'Northquay Insurance', address: NORTHQUAY, role: 'cc', lock: 'openpgp' },
    {
      name: 'Stonewharf',
      address: YARD,
      role: 'to',
      lock: 'file',
      password: { password: PASSWORD, guesses: 14, told: true, remember: true },
    },
  ],
};

const mailTo = (address: string): Promise<Bytes> =>
  eventually(() => {
    const mail = house.world.store.mails.find(({ mailbox }) => mailbox === address);
    return mail === undefined ? undefined : new Uint8Array(Buffer.from(mail.raw, 'base64'));
  });

/** Proves who they are by the passcode that was texted to them, and takes the content's key. */
async function released(grantId: string, share: Bytes, phone: string) {
  const reader = house.visitor();
  const proof = await shareProof(share);
  await reader(roomApi.sendPasscode, { params: { id: grantId }, body: { proof } });
  const text = house.world.store.texts.findLast(({ number }) => number === phone)!.text;
  await reader(roomApi.enterPasscode, {
    params: { id: grantId },
    body: { proof, passcode: /^(\d{6})/.exec(text)![1]! },
  });
  const open = await reader(roomApi.openRoom, { params: { id: grantId } });
  const key = await joinKey(share, open, { grantId, messageId: open.messageId });
  return { reader, key, size: open.size };
}

const saysAll = ({ text, files }: { text: string; files: readonly { name: string; bytes: Uint8Array }[] }) => {
  expect(text.trim()).toBe(draft.text);
  expect(files.map(({ name, bytes }) => [name, Buffer.from(bytes).toString()])).toEqual([
    ['paper.txt', Buffer.from(PAPER).toString()],
  ]);
};

describe('one message under five locks', () => {
  let sent: Awaited<ReturnType<typeof sendByProgram>>;
  beforeAll(async () => {
    const now = new Date();
    const program: Program = { files: new Map([[fileId, PAPER]]), means: await ownMeans(now) };
    sent = await sendByProgram(maren, draft, await knownHere(now), program);
  }, 60_000);

  test('it goes to each by the lock that was chosen, and the sender’s page tells of all of them', async () => {
    expect([...sent.locks.values()]).toEqual(['room', 'carried', 'certificate', 'openpgp', 'file']);
    const { grants, copies } = await maren.client(getSent, { params: { id: sent.messageId } });
    expect(grants.map(({ address, carried }) => [address, carried])).toEqual([
      [PELL, false],
      [WREN, true],
    ]);
    expect(copies.map(({ address, lock }) => [address, lock]).sort()).toEqual(
      [
        [YARD, 'file'],
        [CLINIC, 'certificate'],
        [NORTHQUAY, 'openpgp'],
      ].sort(),
    );
  });

  test('the room opens after the passcode', async () => {
    const { grantId, fragment } = await linkFromMail(house, PELL);
    const { reader, key, size } = await released(grantId, shareFromFragment(fragment)!, '+447700900417');
    const parts: Bytes[] = [];
    for (let index = 0; index < partCount(size); index++)
      parts.push(await reader(roomApi.getRoomPart, { params: { id: grantId, index } }));
    saysAll(await roomLock.open({ content: concat(...parts), key }));
  });

  test('the carried page opens from its file, with the half that the house keeps', async () => {
    const { attachments } = await PostalMime.parse(await mailTo(WREN));
    const { grantId, share, sealed }: Carried = readCarried(new Uint8Array(attachments[0]!.content as ArrayBuffer))!;
    const { key } = await released(grantId, share!, '+447700900418');
    saysAll(await carriedLock.open({ content: sealed, key }));
  });

  test.each([
    ['certificate', CLINIC],
    ['openpgp', NORTHQUAY],
  ] as const)('the %s copy opens in the recipient’s own program, signed by the sender', async (lock, address) => {
    const found = (await openedOutside(await mailTo(address), address, house.world))!;
    expect(found).toMatchObject({ by: lock, encrypted: true });
    expect(found.signedBy).toHaveLength(1);
    saysAll(found.opened.message);
  });

  test('the locked file opens in 7-Zip with its password, and not with another', async () => {
    const { attachments } = await PostalMime.parse(await mailTo(YARD));
    const folder = mkdtempSync(join(tmpdir(), 'under-lock-five-'));
    writeFileSync(join(folder, 'locked.zip'), new Uint8Array(attachments[0]!.content as ArrayBuffer));
    const unpack = (password: string, name: string): string =>
      execFileSync('7zz', ['x', '-so', `-p${password}`, join(folder, 'locked.zip'), name], {
        stdio: ['ignore', 'pipe', 'pipe'],
      }).toString();
    expect(unpack(PASSWORD, 'paper.txt')).toBe(Buffer.from(PAPER).toString());
    expect(() => unpack('another', 'paper.txt')).toThrow();
  });

  test('the same draft sent again finds its earlier try and makes nothing new', async () => {
    const now = new Date();
    const program: Program = { files: new Map([[fileId, PAPER]]), means: await ownMeans(now) };
    const again = await sendByProgram(maren, { ...draft, attempt: sent.attempt }, await knownHere(now), program).catch(
      (error: unknown) => error,
    );
    expect(again).toMatchObject({ messageId: sent.messageId });
    expect((await maren.client(getSent, { params: { id: sent.messageId } })).grants).toHaveLength(2);
  });
});
