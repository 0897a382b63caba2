/**
 * Copies that leave as mails of their own: exactly as they were sealed, to each recipient once, and nothing open or in
 * somebody else's name.
 */
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import * as messageApi from '@under-lock/contract/outgoing';
import { putPart } from '@under-lock/contract/blob';
import { type Bytes, concat, utf8 } from '@under-lock/core/bytes';
import { readCertificate } from '@under-lock/core/certificate/certificate';
import { makeKeyPair, makeRequest } from '@under-lock/core/certificate/make-key';
import { putIncoming } from '@under-lock/contract/received';
import { signData } from '@under-lock/core/cms/sign';
import { requestContent } from '@under-lock/core/locks/certificate/request-mail';
import { writeLetter } from '@under-lock/standins/mail-program';
import { sealForCertificates } from '@under-lock/core/locks/certificate/seal';
import { requestCertificate } from '@under-lock/contract/certificate';
import { purge } from '../src/access/grants';
import {
  answerOf,
  demoMessage,
  eventually,
  giveKeyPair,
  type House,
  openHouse,
  prepare,
  upload,
  type Worker,
} from './house';

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

const certificateOf = async (address: string) =>
  readCertificate(
    new Uint8Array(Buffer.from((await house.world.authorities()).correspondent(address)!.certificate, 'base64')),
  );
const message = (addresses: string[]) =>
  demoMessage({ to: addresses.map((address) => ({ name: '', address })), files: [] });

let signer: Awaited<ReturnType<typeof ownSigner>> | undefined;
async function ownSigner() {
  const pair = await makeKeyPair('p-256');
  const { certificate, chain } = await maren.client(requestCertificate, {
    body: {
      request: await makeRequest(pair, { name: 'Maren Oduya', addresses: [maren.account.address] }),
      purpose: 'both',
    },
  });
  return {
    certificate: readCertificate(certificate),
    privateKey: pair.privateKey,
    chain: chain.map((one) => readCertificate(one)),
  };
}

const sealed = async (addresses: string[], change: Partial<ReturnType<typeof demoMessage>> = {}): Promise<Bytes> =>
  sealForCertificates({
    message: { ...message(addresses), ...change },
    signer: (signer ??= await ownSigner()),
    recipients: await Promise.all(addresses.map(async (address) => ({ certificate: await certificateOf(address) }))),
    neutralSubject: 'A confidential message',
  });

const signed = async (content: ReturnType<typeof demoMessage>): Promise<Bytes> =>
  sealForCertificates({ message: content, signer: (signer ??= await ownSigner()), recipients: [], neutralSubject: '' });
/** Signed and readable, in the form that looks closed, under a head that says encrypted. */
async function opaque(): Promise<Bytes> {
  const { certificate, privateKey, chain } = (signer ??= await ownSigner());
  const data = await signData({
    content: utf8('Content-Type: text/plain\r\n\r\nOpen.'),
    signers: [{ certificate, privateKey, chain }],
    detached: false,
    signingTime: new Date(),
  });
  return utf8(
    `From: <${maren.account.address}>\r\nTo: <${CLINIC}>\r\nContent-Type: application/pkcs7-mime; smime-type=enveloped-data\r\nContent-Transfer-Encoding: base64\r\n\r\n${Buffer.from(data).toString('base64').replace(/.{76}/g, '$&\r\n')}`,
  );
}

/** Uploads a copy and dispatches it, beside accesses in the room for `room`. */
async function sendCopy(
  raw: Bytes,
  addresses: string[],
  { copies = true, clear = false, room = [] as string[], id = undefined as string | undefined } = {},
) {
  const prepared = await prepare(message([...addresses, ...room]), { addresses: room, terms: { copies, clear } });
  await upload(maren.client, prepared.contentBlobId, prepared.content);
  const blobId = crypto.randomUUID();
  await upload(maren.client, blobId, raw);
  const copy = {
    id: crypto.randomUUID(),
    lock: 'certificate' as const,
    blobId,
    recipients: addresses.map((address) => ({ id: crypto.randomUUID(), address, name: '', role: 'to' as const })),
  };
  const dispatch = { ...prepared.dispatch, copies: [copy] };
  await maren.client(messageApi.dispatchMessage, { params: { id: id ?? prepared.id }, body: dispatch });
  return { id: id ?? prepared.id, copy, dispatch };
}
const sentOf = (id: string) => maren.client(messageApi.getSent, { params: { id } });
const settled = (id: string) =>
  eventually(async () => {
    const found = await sentOf(id);
    return found.copies.every(({ state }) => state !== 'waiting') ? found : undefined;
  });
const inMailbox = (address: string): Buffer[] =>
  house.world.store.mails.filter(({ mailbox }) => mailbox === address).map(({ raw }) => Buffer.from(raw, 'base64'));

test('what leaves is what was sealed, byte for byte; OpenSSL opens it with the recipient’s key and finds the signature right', async () => {
  const raw = await sealed([CLINIC, DOCTOR]);
  const { id } = await sendCopy(raw, [CLINIC, DOCTOR]);
  const sent = await settled(id);
  expect(sent.copies.map(({ address, state }) => [address, state])).toEqual([
    [CLINIC, 'accepted'],
    [DOCTOR, 'accepted'],
  ]);
  expect(sent.grants).toEqual([]);
  expect(sent.events.map(({ kind }) => kind).sort()).toEqual(['copy-accepted', 'copy-accepted', 'dispatched']);
  expect(sent.copyMails).toMatchObject([
    {
      size: raw.length,
      sha256: new Uint8Array(createHash('sha256').update(raw).digest()),
      addresses: [CLINIC, DOCTOR],
    },
  ]);
  const folder = mkdtempSync(join(tmpdir(), 'under-lock-copies-'));
  const { office, correspondent } = await house.world.authorities();
  const file = (name: string, bytes: Uint8Array): string => {
    writeFileSync(join(folder, name), bytes);
    return name;
  };
  const openssl = (...args: string[]): string =>
    execFileSync('openssl', args, { cwd: folder, stdio: ['ignore', 'pipe', 'pipe'] }).toString();
  openssl('x509', '-inform', 'DER', '-in', file('root.cer', office.rootCertificate), '-out', 'root.pem');
  for (const address of [CLINIC, DOCTOR]) {
    const [mail] = inMailbox(address) as [Buffer];
    // Our DKIM signature stands before it; nothing else is added or changed.
    expect(Buffer.compare(mail.subarray(mail.length - raw.length), raw)).toBe(0);
    expect(mail.subarray(0, mail.length - raw.length).toString()).toMatch(
      /^DKIM-Signature: [^\n]*\r\n(?:[ \t][^\n]*\r\n)*$/,
    );
    const holder = correspondent(address)!;
    openssl('pkey', '-inform', 'DER', '-in', file('key.der', Buffer.from(holder.key, 'base64')), '-out', 'key.pem');
    openssl(
      'x509',
      '-inform',
      'DER',
      '-in',
      file('cert.der', Buffer.from(holder.certificate, 'base64')),
      '-out',
      'cert.pem',
    );
    openssl(
      'cms',
      '-decrypt',
      '-in',
      file('mail.eml', mail),
      '-recip',
      'cert.pem',
      '-inkey',
      'key.pem',
      '-out',
      'signed.eml',
    );
    openssl(
      'cms',
      '-verify',
      '-in',
      'signed.eml',
      '-CAfile',
      'root.pem',
      '-purpose',
      'smimesign',
      '-signer',
      'signer.pem',
      '-out',
      'content.eml',
    );
    expect(openssl('x509', '-in', 'signer.pem', '-noout', '-email').trim()).toBe(maren.account.address);
  }
});

test('beside accesses in the room, in one message; told again after an answer that got lost, nothing happens twice', async () => {
  const before = inMailbox(CLINIC).length;
  const { id, dispatch } = await sendCopy(await sealed([CLINIC]), [CLINIC], { room: ['pell.anders@postbox.example'] });
  // A second try seals anew and uploads under another number.
  const blobId = crypto.randomUUID();
  await upload(maren.client, blobId, await sealed([CLINIC]));
  expect(
    await maren.client(messageApi.dispatchMessage, {
      params: { id },
      body: { ...dispatch, copies: dispatch.copies.map((one) => ({ ...one, blobId })) },
    }),
  ).toMatchObject({ already: true });
  const sent = await settled(id);
  expect([sent.grants.length, sent.copies.length]).toEqual([1, 1]);
  await new Promise((done) => setTimeout(done, 1500));
  expect(inMailbox(CLINIC)).toHaveLength(before + 1);
});

test.each([
  [
    'a handling without copies',
    async () => sendCopy(await sealed([CLINIC]), [CLINIC], { copies: false }),
    /below-preset/,
  ],
  [
    'what is signed only, under a handling that keeps secrets',
    async () => sendCopy(await signed(message([CLINIC])), [CLINIC]),
    /below-preset.*readable/,
  ],
  [
    'what calls itself encrypted and is signed only',
    async () => sendCopy(await opaque(), [CLINIC]),
    /below-preset.*readable/,
  ],
  [
    'what calls itself encrypted and is open',
    async () =>
      sendCopy(
        utf8(
          `From: <${maren.account.address}>\r\nTo: <${CLINIC}>\r\nContent-Type: application/pkcs7-mime; smime-type=enveloped-data\r\n\r\n${Buffer.from('Open, as everybody can see in a second').toString('base64')}`,
        ),
        [CLINIC],
      ),
    /not under the lock it is said to be under \(certificate\)/,
  ],
  [
    'mail that is open',
    async () =>
      sendCopy(utf8(`From: <${maren.account.address}>\r\nTo: <${CLINIC}>\r\nSubject: x\r\n\r\nOpen.`), [CLINIC]),
    /not under the lock it is said to be under \(certificate\)/,
  ],
  [
    'what is under another lock than it is said to be',
    async () => {
      const body = `Content-Type: application/pgp-signature\r\n\r\n-----BEGIN PGP SIGNATURE-----\r\n\r\nwsB=\r\n-----END PGP SIGNATURE-----\r\n`;
      const head = `From: <${maren.account.address}>\r\nTo: <${CLINIC}>\r\nContent-Type: multipart/signed; protocol="application/pgp-signature"; boundary=b\r\n\r\n`;
      const mail = utf8(`${head}--b\r\nContent-Type: text/plain\r\n\r\nx\r\n--b\r\n${body}--b--\r\n`);
      return sendCopy(mail, [CLINIC], { copies: true, clear: true });
    },
    /not under the lock it is said to be under \(certificate\)/,
  ],
  [
    'another’s address in From',
    async () =>
      sendCopy(await sealed([CLINIC], { from: { name: 'Director', address: 'director@larkmoor.example' } }), [CLINIC]),
    /not come from your address/,
  ],
  [
    'two From lines',
    async () =>
      sendCopy(utf8(`From: <${maren.account.address}>\r\n${Buffer.from(await sealed([CLINIC])).toString('latin1')}`), [
        CLINIC,
      ]),
    /not come from your address/,
  ],
  [
    'somebody the head does not name',
    async () => sendCopy(await sealed([CLINIC]), [CLINIC, DOCTOR]),
    /not among the recipients/,
  ],
  [
    'nobody at all',
    async () => {
      const prepared = await prepare(message([CLINIC]), { addresses: [] });
      await upload(maren.client, prepared.contentBlobId, prepared.content);
      return maren.client(messageApi.dispatchMessage, { params: { id: prepared.id }, body: prepared.dispatch });
    },
    /needs a recipient/,
  ],
] as const)('%s is refused', async (_, act, said) => expect(await answerOf(act())).toMatch(said));

test('a message’s content leaves this browser sealed as the room holds it, or is refused', async () => {
  const prepared = await prepare(message([CLINIC]), { addresses: [CLINIC] });
  const plain = utf8(`Subject: x\r\n\r\n${'Open, as everybody can see. '.repeat(20)}`);
  const [beginning] = [prepared.content.slice(0, 6)];
  for (const content of [plain, concat(beginning, plain)]) {
    const contentBlobId = crypto.randomUUID();
    await upload(maren.client, contentBlobId, content);
    expect(
      await answerOf(
        maren.client(messageApi.dispatchMessage, {
          params: { id: crypto.randomUUID() },
          body: { ...prepared.dispatch, contentBlobId },
        }),
      ),
    ).toMatch(/invalid-input.*not sealed as the reading room holds it/);
  }
});

test('signed only, where the office allows it: it leaves as it was signed, and OpenSSL finds it right', async () => {
  const raw = await signed(message([CLINIC]));
  const { id } = await sendCopy(raw, [CLINIC], { copies: false, clear: true });
  expect((await settled(id)).copies[0]).toMatchObject({ state: 'accepted' });
  const mail = inMailbox(CLINIC).at(-1)!;
  expect(Buffer.compare(mail.subarray(mail.length - raw.length), raw)).toBe(0);
  const folder = mkdtempSync(join(tmpdir(), 'under-lock-signed-'));
  writeFileSync(join(folder, 'mail.eml'), mail);
  writeFileSync(join(folder, 'root.cer'), (await house.world.authorities()).office.rootCertificate);
  const openssl = (...args: string[]): string =>
    execFileSync('openssl', args, { cwd: folder, stdio: ['ignore', 'pipe', 'pipe'] }).toString();
  openssl('x509', '-inform', 'DER', '-in', 'root.cer', '-out', 'root.pem');
  expect(openssl('cms', '-verify', '-in', 'mail.eml', '-CAfile', 'root.pem', '-purpose', 'smimesign')).toContain(
    Buffer.from(message([CLINIC]).text)
      .toString('base64')
      .slice(0, 40),
  );
});

test('nothing leaves open without a reason, and the reason stays with what left', async () => {
  const prepared = await prepare(message([CLINIC]), { addresses: [CLINIC], terms: { clear: true } });
  await upload(maren.client, prepared.contentBlobId, prepared.content);
  const send = (openReason?: string): Promise<unknown> =>
    maren.client(messageApi.dispatchMessage, {
      params: { id: prepared.id },
      body: { ...prepared.dispatch, openReason },
    });
  expect(await answerOf(send())).toMatch(/invalid-input.*reason/);
  expect(await answerOf(send('   '))).toMatch(/invalid-input.*reason/);
  expect(await answerOf(send('It hangs on the pier'))).toBe('done');
  expect((await sentOf(prepared.id)).openReason).toBe('It hangs on the pier');
});

describe('a request for a signed message', () => {
  const NORTH = { name: 'North Quay Claims', address: 'claims@northquay.example' };
  const content = (over: Partial<ReturnType<typeof demoMessage>> = {}) => ({
    ...demoMessage({ messageId: `${crypto.randomUUID()}@larkmoor.example` }),
    ...requestContent({
      sender: { name: maren.account.name, address: maren.account.address },
      recipient: NORTH,
      officeName: house.server.context.config.office.name,
      language: 'de',
    }),
    files: [],
    ...over,
  });
  async function ask(raw: Bytes, recipients = [NORTH]) {
    const prepared = await prepare(message([NORTH.address]), { addresses: [] });
    await upload(maren.client, prepared.contentBlobId, prepared.content);
    const blobId = crypto.randomUUID();
    await upload(maren.client, blobId, raw);
    const copy = {
      id: crypto.randomUUID(),
      lock: 'certificate' as const,
      blobId,
      recipients: recipients.map((one) => ({ ...one, id: crypto.randomUUID(), role: 'to' as const })),
    };
    const body = { contentBlobId: prepared.contentBlobId, summary: prepared.dispatch.summary, copy };
    return {
      id: prepared.id,
      body,
      reply: await maren.client(messageApi.sendRequest, { params: { id: prepared.id }, body }),
    };
  }

  it('leaves signed whatever the presets say, once; the answer of whom it asked is tied to it and on the desk until it was looked at', async () => {
    const key = await giveKeyPair(maren);
    expect(key.suite).toBe(1);
    const { id, body, reply } = await ask(await signed(content()));
    expect(reply.already).toBe(false);
    expect(await maren.client(messageApi.sendRequest, { params: { id }, body })).toMatchObject({ already: true });
    expect((await settled(id)).purpose).toBe('request');
    const { keepIncoming, mailboxAt } = await import('../src/incoming/incoming');
    const account = (await mailboxAt(house.server.context, maren.account.address))!.account;
    const from = (address: string, sign: boolean) =>
      writeLetter(
        {
          from: address,
          to: maren.account.address,
          subject: 'Re',
          text: 'here',
          sign,
          encrypt: false,
          by: 'certificate',
          key: false,
          answers: [],
        },
        house.world,
      );
    // Not an answer to it: somebody else's, and one without a signature.
    await keepIncoming(house.server.context, account, await from(CLINIC, true), { from: CLINIC });
    await keepIncoming(house.server.context, account, await from(NORTH.address, false), { from: NORTH.address });
    expect((await maren.client(messageApi.getDesk)).answers).toEqual([]);
    await keepIncoming(house.server.context, account, await from(NORTH.address, true), { from: NORTH.address });
    const { answers, needsTotal, copiesFailed } = await maren.client(messageApi.getDesk);
    expect(answers).toMatchObject([{ requestId: id, unread: true }]);
    expect(needsTotal).toBe(1 + copiesFailed.length);
    await maren.client(putIncoming, { params: { id: answers[0]!.id }, body: { unread: false } });
    expect((await maren.client(messageApi.getDesk)).answers).toEqual([]);
  });

  it.each([
    [
      'says more',
      async () => ask(await signed(content({ text: `${content().text}\nThe eyesight test is on page two.` }))),
    ],
    [
      'carries a file',
      async () => ask(await signed(content({ files: [{ name: 'x.txt', type: 'text/plain', bytes: utf8('x') }] }))),
    ],
    ['says something else in HTML', async () => ask(await signed(content({ html: '<p>page two</p>' })))],
    [
      'goes to several',
      async () =>
        ask(await signed(content({ to: [NORTH, { name: '', address: CLINIC }] })), [
          NORTH,
          { name: '', address: CLINIC },
        ]),
    ],
    ['is encrypted', async () => ask(await sealed([CLINIC]), [{ name: '', address: CLINIC }])],
  ] as const)('that %s is refused', async (_, act) =>
    expect(await answerOf(act())).toMatch(/invalid-input.*nothing but that/),
  );
});

test('refused and returned copies are told, and the others go all the same', async () => {
  house.world.behaviour.current = { mail: 'refuse', phone: 'deliver' };
  const { id } = await sendCopy(await sealed([CLINIC]), [CLINIC]);
  const sent = await settled(id);
  expect(sent.copies[0]).toMatchObject({ state: 'refused', answer: expect.stringContaining('550') });
  expect(sent.events.find(({ kind }) => kind === 'copy-refused')).toMatchObject({ address: CLINIC });
  const { copyBounced } = await import('../src/outgoing/copies');
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
  const blobs = async () =>
    (await house.server.context.db.query('SELECT id FROM blobs'))[0].map((row) => (row as { id: string }).id);
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
  await maren.client(messageApi.dispatchMessage, {
    params: { id: prepared.id },
    body: {
      ...prepared.dispatch,
      leavesAt,
      copies: [
        {
          id: crypto.randomUUID(),
          lock: 'certificate',
          blobId,
          recipients: [{ id: crypto.randomUUID(), address: CLINIC, name: '', role: 'to' }],
        },
      ],
    },
  });
  await maren.client(messageApi.takeBack, { params: { id: prepared.id } });
  expect(inMailbox(CLINIC)).toHaveLength(before);
  expect(await answerOf(sentOf(prepared.id))).toContain('not-found');
});

test('a copy is frozen before it is judged: what is written to it meanwhile, or afterwards, is refused', async () => {
  const prepared = await prepare(message([CLINIC]), { addresses: [], terms: { copies: true } });
  await upload(maren.client, prepared.contentBlobId, prepared.content);
  const raw = await sealed([CLINIC]);
  const blobId = crypto.randomUUID();
  await upload(maren.client, blobId, raw);
  const open = utf8(`From: <${maren.account.address}>\r\nTo: <${CLINIC}>\r\n\r\n${'Open. '.repeat(raw.length)}`).slice(
    0,
    raw.length,
  );
  const { threads } = house.server.context;
  const run = threads.run.bind(threads);
  // The moment in which it used to be possible: judged is the one, and sent would be the other.
  const swapped: string[] = [];
  const spy = jest.spyOn(threads, 'run').mockImplementation(async (task, input) => {
    const judged = await run(task, input);
    swapped.push(await answerOf(maren.client(putPart, { params: { id: blobId, index: 0 }, body: open })));
    return judged;
  });
  const copy = {
    id: crypto.randomUUID(),
    lock: 'certificate' as const,
    blobId,
    recipients: [{ id: crypto.randomUUID(), address: CLINIC, name: '', role: 'to' as const }],
  };
  await maren.client(messageApi.dispatchMessage, {
    params: { id: prepared.id },
    body: { ...prepared.dispatch, copies: [copy] },
  });
  spy.mockRestore();
  expect(swapped).toEqual([expect.stringMatching(/^conflict/)]);
  await settled(prepared.id);
  expect(inMailbox(CLINIC).at(-1)!.subarray(-raw.length).equals(Buffer.from(raw))).toBe(true);
});

test('what is not what was judged, however it came to be, is never sent', async () => {
  const raw = await sealed([DOCTOR]);
  const before = inMailbox(DOCTOR).length;
  house.world.behaviour.current = { mail: 'down', phone: 'deliver' };
  const { id, copy } = await sendCopy(raw, [DOCTOR]);
  await house.server.context.db.query("UPDATE blob_parts SET bytes = decode($2, 'base64') WHERE blob_id = $1", {
    bind: [copy.blobId, Buffer.alloc(raw.length, 'x').toString('base64')],
  });
  house.world.behaviour.current = { mail: 'deliver', phone: 'deliver' };
  const { copies } = await settled(id);
  expect(copies).toMatchObject([{ state: 'refused', answer: expect.stringContaining('not what was judged') }]);
  expect(inMailbox(DOCTOR)).toHaveLength(before);
}, 60_000);

test('whom somebody has written to is said with the latest first, each once, by access or copy; and to nobody else', async () => {
  const yard = 'Lately@saltmarsh.example';
  const first = await sendCopy(await sealed([CLINIC]), [CLINIC], { room: [yard] });
  const again = await sendCopy(await sealed([CLINIC]), [CLINIC]);
  const { people } = await maren.client(messageApi.listWrittenTo);
  expect(people.slice(0, 2)).toEqual([
    { address: CLINIC, at: (await sentOf(again.id)).sentAt },
    { address: yard.toLowerCase(), at: (await sentOf(first.id)).sentAt },
  ]);
  expect(people[0]!.at.getTime()).toBeGreaterThan(people[1]!.at.getTime());
  expect(new Set(people.map(({ address }) => address)).size).toBe(people.length);
  // Who of some was in one message with another of them.
  const addresses = [CLINIC, yard, 'nobody@postbox.example'];
  const together = (who: Worker) => who.client(messageApi.listTogether, { body: { addresses } });
  expect((await together(maren)).addresses.sort()).toEqual([CLINIC, yard.toLowerCase()].sort());
  const alone = await maren.client(messageApi.listTogether, {
    body: { addresses: [CLINIC, 'nobody@postbox.example'] },
  });
  expect(alone.addresses).toEqual([]);
  const somebodyElse = await house.worker('somebodyelse');
  expect((await together(somebodyElse)).addresses).toEqual([]);
  expect((await somebodyElse.client(messageApi.listWrittenTo)).people).toEqual([]);
});
