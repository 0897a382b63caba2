/** What a worker has let the door sign with: copies carry their signature, marked as their mail program's. */
import { requestCertificate, revokeCertificate } from '@under-lock/contract/certificate';
import { listSent } from '@under-lock/contract/outgoing';
import { dropSigner, listSigners, putSigner } from '@under-lock/contract/submission';
import { fromBase64Url, sha256, toBase64Url, toHex } from '@under-lock/core/bytes';
import { makeKeyPair, makeRequest } from '@under-lock/core/certificate/make-key';
import { makeOpenPgpKey } from '@under-lock/core/openpgp/make-key';
import { readSecretKey } from '@under-lock/core/openpgp/key';
import { sealSigner, type Signer, signingOnly, markedName } from '@under-lock/core/submission/signer';
import { openedOutside } from '@under-lock/standins/mail-program';
import { trustOutside } from '../../server/src/demo/trust';
import { codeOf, eventually, type Worker } from '../../server/test/house';
import { beginBook, type TestBook } from './book';
import {
  type Correspondent,
  correspondent,
  type DoorHouse,
  handIn,
  openDoorHouse,
  papersPreset,
} from './mail-programs';

const MAREN = 'maren.oduya@larkmoor.example';
const TO = { certificate: 'odile.brask@harbourclinic.example', openpgp: 'underwriting@northquay.example' } as const;
let house: DoorHouse;
let maren: Correspondent;
let admin: Worker;
let book: TestBook;

beforeAll(async () => {
  house = await openDoorHouse();
  maren = await correspondent(house, 'maren.oduya');
  admin = await house.worker('ines.varga', 'administrator');
  book = await beginBook(admin, maren);
  await book.letDoorIn();
  await trustOutside(house.server.context);
  await papersPreset(admin, { copies: true });
}, 120_000);
afterAll(() => house.stop());

const madeAt = new Date().toISOString();

async function made(kind: Signer['kind']): Promise<Signer> {
  const name = markedName('Maren Oduya');
  if (kind === 'openpgp') {
    const { secret, revocation } = await makeOpenPgpKey('wide', { name, addresses: [MAREN] }, new Date());
    const value = { kind, secretKey: toBase64Url(secret), revocation, purpose: 'mail' as const, madeAt };
    return signingOnly({ ...value, imported: false, carried: 'field', chosenFor: [] });
  }
  const pair = await makeKeyPair('p-256');
  const { certificate, chain } = await maren.client(requestCertificate, {
    body: { request: await makeRequest(pair, { name, addresses: [MAREN] }), purpose: 'sign' },
  });
  return {
    kind,
    privateKey: toBase64Url(pair.privateKey),
    certificate: toBase64Url(certificate),
    chain: chain.map((one) => toBase64Url(one)),
    purpose: 'sign',
    madeAt,
    imported: false,
  };
}

/** As it is named where it is revoked. */
const fingerprintOf = async (signer: Signer): Promise<string> =>
  signer.kind === 'certificate'
    ? toHex(await sha256(fromBase64Url(signer.certificate!)))
    : (await readSecretKey(fromBase64Url(signer.secretKey))).getFingerprint();

async function lend(signer: Signer): Promise<void> {
  const { door } = await maren.client(listSigners);
  await maren.client(putSigner, {
    params: { kind: signer.kind },
    body: {
      publicKey: door!.publicKey,
      sealed: await sealSigner(door!, maren.account.id, signer),
      fingerprint: await fingerprintOf(signer),
    },
  });
}

/** How the other side finds it. */
async function sentTo(kind: Signer['kind'], subject: string) {
  const before = house.world.store.mails.filter(({ mailbox }) => mailbox === TO[kind]).length;
  await handIn(house, maren, `From: ${MAREN}\r\nTo: ${TO[kind]}\r\nSubject: ${subject}\r\n\r\nAs agreed.\r\n`, [
    TO[kind],
  ]);
  const [sent] = (await maren.client(listSent)).messages;
  expect(sent!.copies).toMatchObject([{ address: TO[kind], lock: kind }]);
  const mail = await eventually(() => house.world.store.mails.filter(({ mailbox }) => mailbox === TO[kind]).at(before));
  return (await openedOutside(new Uint8Array(Buffer.from(mail.raw, 'base64')), TO[kind], house.world))!;
}

test.each(['certificate', 'openpgp'] as const)(
  'with a %s lent to the door, what leaves is signed and marked; without it, and once it is taken back, it is not',
  async (kind) => {
    expect((await sentTo(kind, 'Before')).signedBy).toEqual([]);
    await lend(await made(kind));
    const { signedBy } = await sentTo(kind, 'Lent');
    expect(signedBy).toHaveLength(1);
    expect(JSON.stringify(signedBy)).toMatch(/maren\.oduya@larkmoor\.example|by mail program/);
    await maren.client(dropSigner, { params: { kind } });
    expect((await sentTo(kind, 'Taken back')).signedBy).toEqual([]);
  },
);

test('a certificate that is revoked is lent no more', async () => {
  const signer = await made('certificate');
  await lend(signer);
  await maren.client(revokeCertificate, { body: { fingerprint: await fingerprintOf(signer), reason: 'superseded' } });
  expect((await maren.client(listSigners)).signers).toEqual([]);
  expect((await sentTo('certificate', 'Revoked')).signedBy).toEqual([]);
});

test('what is lent opens no mail', async () => {
  const signer = await made('openpgp');
  const key = await readSecretKey(
    new Uint8Array(Buffer.from((signer as { secretKey: string }).secretKey, 'base64url')),
  );
  expect(key.subkeys).toEqual([]);
  expect(signer).not.toHaveProperty('revocation');
});

test('nobody lends to another door, or another account’s key; what is sealed to a door of before signs nothing', async () => {
  const signer = await made('openpgp');
  const { door } = await maren.client(listSigners);
  const body = { sealed: await sealSigner(door!, maren.account.id, signer), fingerprint: 'a'.repeat(40) };
  expect(
    await codeOf(
      maren.client(putSigner, { params: { kind: 'openpgp' }, body: { ...body, publicKey: maren.key.publicKey } }),
    ),
  ).toBe('conflict');
  // Sealed for somebody else: the door finds nothing in it, and sends unsigned.
  const theirs = await sealSigner(door!, admin.account.id, signer);
  await maren.client(putSigner, {
    params: { kind: 'openpgp' },
    body: { ...body, sealed: theirs, publicKey: door!.publicKey },
  });
  expect((await sentTo('openpgp', 'Somebody else’s')).signedBy).toEqual([]);
});
