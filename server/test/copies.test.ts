/** Copies that leave as mails of their own: exactly as they were sealed, to each recipient once, and nothing open or in somebody else's name. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import * as messageApi from '@under-lock/contract/message';
import { isProblem } from '@under-lock/contract/problem';
import { type Bytes, utf8 } from '@under-lock/core/bytes';
import { readCertificate } from '@under-lock/core/certificate/certificate';
import { makeKeyPair, makeRequest } from '@under-lock/core/certificate/make-key';
import { sealForCertificates } from '@under-lock/core/locks/certificate/seal';
import { requestCertificate } from '@under-lock/contract/certificate';
import { purge } from '../src/message/grants';
import { demoMessage, eventually, type House, openHouse, prepare, upload, type Worker } from './house';

let house: House;
let maren: Worker;
const CLINIC = 'records@harbourclinic.example';
const DOCTOR = 'odile.brask@harbourclinic.example';
beforeAll(async () => {
  house = await openHouse();
  maren = await house.worker('maren.oduya');
  await house.world.authorities();
}, 60_000);
afterAll(() => house.stop());
afterEach(() => {
  house.world.behaviour.current = { mail: 'deliver', phone: 'deliver' };
});

const certificateOf = async (address: string) => readCertificate(new Uint8Array(Buffer.from((await house.world.authorities()).correspondent(address)!.certificate, 'base64')));
const message = (addresses: string[]) => demoMessage({ to: addresses.map((address) => ({ name: '', address })), files: [] });

let signer: Awaited<ReturnType<typeof ownSigner>> | undefined;
async function ownSigner() {
  const pair = await makeKeyPair('p-256');
  const { certificate, chain } = await maren.client(requestCertificate, { body: { request: await makeRequest(pair, { name: 'Maren Oduya', addresses: [maren.account.address] }), purpose: 'both' } });
  return { certificate: readCertificate(certificate), privateKey: pair.privateKey, chain: chain.map((one) => readCertificate(one)) };
}

const sealed = async (addresses: string[], change: Partial<ReturnType<typeof demoMessage>> = {}): Promise<Bytes> =>
  sealForCertificates({ message: { ...message(addresses), ...change }, signer: (signer ??= await ownSigner()), recipients: await Promise.all(addresses.map(async (address) => ({ certificate: await certificateOf(address) }))), neutralSubject: 'A confidential message' });

/** Uploads a copy and dispatches it, beside accesses in the room for `room`. */
async function sendCopy(raw: Bytes, addresses: string[], { copies = true, room = [] as string[], id = undefined as string | undefined } = {}) {
  const prepared = await prepare(message([...addresses, ...room]), { addresses: room, terms: { copies } });
  await upload(maren.client, prepared.contentBlobId, prepared.content);
  const blobId = crypto.randomUUID();
  await upload(maren.client, blobId, raw);
  const copy = { id: crypto.randomUUID(), lock: 'certificate' as const, blobId, recipients: addresses.map((address) => ({ id: crypto.randomUUID(), address, name: '', role: 'to' as const })) };
  const dispatch = { ...prepared.dispatch, copies: [copy] };
  await maren.client(messageApi.dispatchMessage, { params: { id: id ?? prepared.id }, body: dispatch });
  return { id: id ?? prepared.id, copy, dispatch };
}
const sentOf = (id: string) => maren.client(messageApi.getSent, { params: { id } });
const settled = (id: string) => eventually(async () => {
  const found = await sentOf(id);
  return found.copies.every(({ state }) => state !== 'waiting') ? found : undefined;
});
const inMailbox = (address: string): Buffer[] => house.world.store.mails.filter(({ mailbox }) => mailbox === address).map(({ raw }) => Buffer.from(raw, 'base64'));
const codeOf = (promise: Promise<unknown>): Promise<string> => promise.then(() => 'done', (error: unknown) => (isProblem(error) ? `${error.code}: ${error.details.detail ?? error.details.title}` : String(error)));

test('what leaves is what was sealed, byte for byte; OpenSSL opens it with the recipient’s key and finds the signature right', async () => {
  const raw = await sealed([CLINIC, DOCTOR]);
  const { id } = await sendCopy(raw, [CLINIC, DOCTOR]);
  const sent = await settled(id);
  expect(sent.copies.map(({ address, state }) => [address, state])).toEqual([[CLINIC, 'accepted'], [DOCTOR, 'accepted']]);
  expect(sent.grants).toEqual([]);
  expect(sent.events.map(({ kind }) => kind).sort()).toEqual(['copy-accepted', 'copy-accepted', 'dispatched']);
  const folder = mkdtempSync(join(tmpdir(), 'under-lock-copies-'));
  const { office, correspondent } = await house.world.authorities();
  const file = (name: string, bytes: Uint8Array): string => {
    writeFileSync(join(folder, name), bytes);
    return name;
  };
  const openssl = (...args: string[]): string => execFileSync('openssl', args, { cwd: folder, stdio: ['ignore', 'pipe', 'pipe'] }).toString();
  openssl('x509', '-inform', 'DER', '-in', file('root.cer', office.rootCertificate), '-out', 'root.pem');
  for (const address of [CLINIC, DOCTOR]) {
    const [mail] = inMailbox(address) as [Buffer];
    // Our DKIM signature stands before it; nothing else is added or changed.
    expect(Buffer.compare(mail.subarray(mail.length - raw.length), raw)).toBe(0);
    expect(mail.subarray(0, mail.length - raw.length).toString()).toMatch(/^DKIM-Signature: [^\n]*\r\n(?:[ \t][^\n]*\r\n)*$/);
    const holder = correspondent(address)!;
    openssl('pkey', '-inform', 'DER', '-in', file('key.der', Buffer.from(holder.key, 'base64')), '-out', 'key.pem');
    openssl('x509', '-inform', 'DER', '-in', file('cert.der', Buffer.from(holder.certificate, 'base64')), '-out', 'cert.pem');
    openssl('cms', '-decrypt', '-in', file('mail.eml', mail), '-recip', 'cert.pem', '-inkey', 'key.pem', '-out', 'signed.eml');
    openssl('cms', '-verify', '-in', 'signed.eml', '-CAfile', 'root.pem', '-purpose', 'smimesign', '-signer', 'signer.pem', '-out', 'content.eml');
    expect(openssl('x509', '-in', 'signer.pem', '-noout', '-email').trim()).toBe(maren.account.address);
  }
});

test('beside accesses in the room, in one message; told again after an answer that got lost, nothing happens twice', async () => {
  const before = inMailbox(CLINIC).length;
  const { id, dispatch } = await sendCopy(await sealed([CLINIC]), [CLINIC], { room: ['pell.anders@postbox.example'] });
  // A second try seals anew and uploads under another number.
  const blobId = crypto.randomUUID();
  await upload(maren.client, blobId, await sealed([CLINIC]));
  expect(await maren.client(messageApi.dispatchMessage, { params: { id }, body: { ...dispatch, copies: dispatch.copies.map((one) => ({ ...one, blobId })) } })).toMatchObject({ already: true });
  const sent = await settled(id);
  expect([sent.grants.length, sent.copies.length]).toEqual([1, 1]);
  await new Promise((done) => setTimeout(done, 1500));
  expect(inMailbox(CLINIC)).toHaveLength(before + 1);
});

test.each([
  ['a handling without copies', async () => sendCopy(await sealed([CLINIC]), [CLINIC], { copies: false }), /below-preset/],
  ['mail that is open', async () => sendCopy(utf8(`From: <${maren.account.address}>\r\nTo: <${CLINIC}>\r\nSubject: x\r\n\r\nOpen.`), [CLINIC]), /neither encrypted nor signed/],
  ['another’s address in From', async () => sendCopy(await sealed([CLINIC], { from: { name: 'Director', address: 'director@larkmoor.example' } }), [CLINIC]), /not come from your address/],
  ['two From lines', async () => sendCopy(utf8(`From: <${maren.account.address}>\r\n${Buffer.from(await sealed([CLINIC])).toString('latin1')}`), [CLINIC]), /not come from your address/],
  ['somebody the head does not name', async () => sendCopy(await sealed([CLINIC]), [CLINIC, DOCTOR]), /not among the recipients/],
  ['nobody at all', async () => {
    const prepared = await prepare(message([CLINIC]), { addresses: [] });
    await upload(maren.client, prepared.contentBlobId, prepared.content);
    return maren.client(messageApi.dispatchMessage, { params: { id: prepared.id }, body: prepared.dispatch });
  }, /needs a recipient/],
] as const)('%s is refused', async (_, act, said) => expect(await codeOf(act())).toMatch(said));

test('refused and returned copies are told, and the others go all the same', async () => {
  house.world.behaviour.current = { mail: 'refuse', phone: 'deliver' };
  const { id } = await sendCopy(await sealed([CLINIC]), [CLINIC]);
  const sent = await settled(id);
  expect(sent.copies[0]).toMatchObject({ state: 'refused', answer: expect.stringContaining('550') });
  expect(sent.events.find(({ kind }) => kind === 'copy-refused')).toMatchObject({ address: CLINIC });
  const { copyBounced } = await import('../src/message/copies');
  house.world.behaviour.current = { mail: 'deliver', phone: 'deliver' };
  const other = await sendCopy(await sealed([CLINIC]), [CLINIC]);
  await settled(other.id);
  await copyBounced(house.server.context, other.copy.recipients[0]!.id, '550 moved');
  await copyBounced(house.server.context, crypto.randomUUID(), '550 moved');
  expect((await sentOf(other.id)).copies[0]).toMatchObject({ state: 'bounced', answer: '550 moved' });
});

test('once delivered the mail itself is not kept; the sender’s own sealed copy is, as long as the office keeps things', async () => {
  const { id, copy } = await sendCopy(await sealed([CLINIC]), [CLINIC]);
  await settled(id);
  const blobs = async () => (await house.server.context.db.query('SELECT id FROM blobs'))[0].map((row) => (row as { id: string }).id);
  expect(await blobs()).not.toContain(copy.blobId);
  await purge(house.server.context);
  expect((await sentOf(id)).contentBlobId).toBeDefined();
  Object.assign(house.clock, { real: false, now: new Date(Date.now() + 40 * 86_400_000) });
  await purge(house.server.context);
  house.clock.real = true;
  expect((await sentOf(id)).contentBlobId).toBeUndefined();
});

test('a copy waits with its message and is taken back with it', async () => {
  const prepared = await prepare(message([CLINIC]), { addresses: [], terms: { copies: true } });
  await upload(maren.client, prepared.contentBlobId, prepared.content);
  const blobId = crypto.randomUUID();
  await upload(maren.client, blobId, await sealed([CLINIC]));
  const before = inMailbox(CLINIC).length;
  const leavesAt = new Date(Date.now() + 3600_000);
  await maren.client(messageApi.dispatchMessage, { params: { id: prepared.id }, body: { ...prepared.dispatch, leavesAt, copies: [{ id: crypto.randomUUID(), lock: 'certificate', blobId, recipients: [{ id: crypto.randomUUID(), address: CLINIC, name: '', role: 'to' }] }] } });
  await maren.client(messageApi.takeBack, { params: { id: prepared.id } });
  expect(inMailbox(CLINIC)).toHaveLength(before);
  expect(await codeOf(sentOf(prepared.id))).toContain('not-found');
});
