/**
 * The server's part in OpenPGP: publishing one's own keys and nobody else's, the directory that anybody may ask,
 * looking keys up, whose word counts, and copies judged by their packets.
 */
import * as messageApi from '@under-lock/contract/outgoing';
import * as openPgpApi from '@under-lock/contract/openpgp';
import { putVaultItem } from '@under-lock/contract/vault';
import { type Bytes, concat, toBase64Url, utf8 } from '@under-lock/core/bytes';
import { makeAccountSecret, vaultKey } from '@under-lock/core/account/secret';
import { sealForOpenPgp } from '@under-lock/core/locks/openpgp/seal';
import { requestContent } from '@under-lock/core/locks/certificate/request-mail';
import { sealItem } from '@under-lock/core/vault/item';
import { emptyManifest, sealManifest, withRevisions } from '@under-lock/core/vault/manifest';
import { armoured } from '@under-lock/core/openpgp/armour';
import { certified, revoked } from '@under-lock/core/openpgp/change-key';
import { wkdHash } from '@under-lock/core/openpgp/discovery';
import { openPgpKeysIn } from '@under-lock/core/openpgp/in-file';
import { factsOf, type OpenPgpKey, readOpenPgpKey, readSecretKey } from '@under-lock/core/openpgp/key';
import { type PrivateKey } from '@under-lock/core/openpgp/library';
import { makeOpenPgpKey } from '@under-lock/core/openpgp/make-key';
import { sealMessage } from '@under-lock/core/openpgp/message';
import { writeLetter } from '@under-lock/standins/mail-program';
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { trustOutside } from '../src/demo/trust';
import { keepIncoming, mailboxAt } from '../src/incoming/incoming';
import {
  codeOf,
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
let tobias: Worker;
let ines: Worker;
interface Made {
  secret: PrivateKey;
  key: OpenPgpKey;
}
let mine: Made;
const born = new Date(Date.now() - 86_400_000);
const NILS = 'underwriting@northquay.example';

async function make(name: string, ...addresses: string[]): Promise<Made> {
  const secret = await readSecretKey((await makeOpenPgpKey('wide', { name, addresses }, born)).secret);
  return { secret, key: await factsOf(secret.toPublic()) };
}

beforeAll(async () => {
  house = await openHouse();
  [maren, tobias, ines] = [
    await house.worker('maren.oduya'),
    await house.worker('tobias.quill'),
    await house.worker('ines.varga', 'administrator'),
  ];
  mine = await make('Maren Oduya', maren.account.address);
  await house.world.keyring();
}, 60_000);
afterAll(() => house.stop());

const publish = (who: Worker, { fingerprint, bytes }: OpenPgpKey) =>
  who.client(openPgpApi.publishKey, { params: { fingerprint }, body: { key: bytes } });
const served = async (
  local: string,
  path = `/.well-known/openpgpkey/larkmoor.example/hu/${wkdHash(local)}?l=${local}`,
): Promise<{ status: number; keys: OpenPgpKey[]; response: Response }> => {
  const response = await fetch(`${house.origin}${path}`);
  return {
    status: response.status,
    response,
    keys: response.ok ? await openPgpKeysIn(new Uint8Array(await response.arrayBuffer())) : [],
  };
};

test('one’s own key is published and found by anybody at both places; nobody publishes one with another’s address', async () => {
  expect((await served('maren.oduya')).status).toBe(404);
  await publish(maren, mine.key);
  for (const path of [undefined, `/.well-known/openpgpkey/hu/${wkdHash('maren.oduya')}`]) {
    const { keys, response } = await served('maren.oduya', path);
    expect(keys.map(({ fingerprint }) => fingerprint)).toEqual([mine.key.fingerprint]);
    expect([response.headers.get('access-control-allow-origin'), response.headers.get('content-type')]).toEqual([
      '*',
      'application/octet-stream',
    ]);
  }
  expect((await fetch(`${house.origin}/.well-known/openpgpkey/larkmoor.example/policy`)).status).toBe(200);
  expect(
    (
      await fetch(`${house.origin}/.well-known/openpgpkey/larkmoor.example/hu/${wkdHash('maren.oduya')}`, {
        method: 'HEAD',
      })
    ).status,
  ).toBe(200);
  expect(await codeOf(publish(tobias, mine.key))).toBe('invalid-input');
  expect(
    await codeOf(publish(tobias, (await make('x', tobias.account.address, 'director@larkmoor.example')).key)),
  ).toBe('invalid-input');
  expect(await codeOf(publish(maren, (await make('Nobody')).key))).toBe('invalid-input');
  expect(
    await codeOf(
      maren.client(openPgpApi.publishKey, { params: { fingerprint: 'a'.repeat(40) }, body: { key: mine.key.bytes } }),
    ),
  ).toBe('invalid-input');
  expect(
    await codeOf(
      maren.client(openPgpApi.publishKey, {
        params: { fingerprint: mine.key.fingerprint },
        body: { key: new Uint8Array(60).fill(7) },
      }),
    ),
  ).toBe('invalid-input');
  expect(await tobias.client(openPgpApi.listPublished)).toEqual({ keys: [] });
});

test('what is published keeps what was ever said of it; a revoked key stays; one in force can be taken out by its owner only', async () => {
  const one = await make('Tobias Quill', tobias.account.address);
  await publish(tobias, one.key);
  expect(await codeOf(maren.client(openPgpApi.unpublishKey, { params: { fingerprint: one.key.fingerprint } }))).toBe(
    'not-found',
  );
  const gone = await factsOf((await revoked(one.secret, 'superseded', new Date())).toPublic());
  await publish(tobias, gone);
  // The copy from before the revocation takes nothing away.
  await publish(tobias, one.key);
  expect((await served('tobias.quill')).keys).toMatchObject([{ revocation: { reason: 'superseded' } }]);
  expect(await codeOf(tobias.client(openPgpApi.unpublishKey, { params: { fingerprint: one.key.fingerprint } }))).toBe(
    'conflict',
  );
  const other = await make('Tobias Quill', tobias.account.address);
  await publish(tobias, other.key);
  expect((await served('tobias.quill')).keys.map(({ revocation }) => revocation === undefined)).toEqual([true, false]);
  await tobias.client(openPgpApi.unpublishKey, { params: { fingerprint: other.key.fingerprint } });
  expect((await served('tobias.quill')).keys).toHaveLength(1);
});

test('keys are looked up for browsers: ours here, others at their domain, then in the directory; revocations by fingerprint; a silent place is named', async () => {
  const find = (...wanted: { address?: string; fingerprint?: string }[]) =>
    maren.client(openPgpApi.findKeys, { body: { wanted } });
  const { found, failed } = await find(
    { address: maren.account.address },
    { address: NILS },
    { address: 'una.pike@skerryfreight.example' },
    { address: 'nobody@postbox.example' },
    { address: 'lene.hjort@pilots.example' },
  );
  expect(found.map(({ index, source }) => [index, source])).toEqual([
    [0, 'office'],
    [1, 'wkd'],
    [2, 'directory'],
  ]);
  expect(failed).toEqual([]);
  const [nils] = await openPgpKeysIn(found[1]!.key);
  expect(nils!.users).toMatchObject([{ address: NILS }]);
  const again = await find({ address: NILS, fingerprint: nils!.fingerprint });
  expect(again.found.map(({ source }) => source)).toEqual(['wkd', 'directory']);
  const { keys } = {
    keys: await openPgpKeysIn((await find({ address: 'jon.fell@skerryfreight.example' })).found[0]!.key),
  };
  expect(keys).toMatchObject([{ revocation: { reason: 'keyCompromise' } }]);
  const { config } = house.server.context;
  const kept = config.outsideUrl;
  Object.assign(config, { outsideUrl: 'http://127.0.0.1:9' });
  expect((await find({ address: NILS })).failed).toEqual(
    expect.arrayContaining(['northquay.example', 'openpgpkey.northquay.example', 'keys.islestrust.example']),
  );
  Object.assign(config, { outsideUrl: kept });
});

test('administrators say whose word counts, and add certifications to what is published; nothing else can be slipped in', async () => {
  await trustOutside(house.server.context);
  const {
    keys: [northquay],
  } = await maren.client(openPgpApi.getKeyTrust);
  expect((await readOpenPgpKey(northquay!.key)).users).toMatchObject([{ name: 'Northquay Insurance' }]);
  expect(
    await codeOf(ines.client(openPgpApi.addTrustedKey, { body: { id: crypto.randomUUID(), key: northquay!.key } })),
  ).toBe('conflict');
  await ines.client(openPgpApi.removeTrustedKey, { params: { id: northquay!.id } });
  expect(await codeOf(ines.client(openPgpApi.removeTrustedKey, { params: { id: northquay!.id } }))).toBe('not-found');
  const office = await make('Larkmoor Ferries');
  expect(
    await codeOf(
      ines.client(openPgpApi.addTrustedKey, {
        body: {
          id: crypto.randomUUID(),
          key: (await factsOf((await revoked(office.secret, 'superseded', new Date())).toPublic())).bytes,
        },
      }),
    ),
  ).toBe('invalid-input');
  await ines.client(openPgpApi.addTrustedKey, { body: { id: crypto.randomUUID(), key: office.key.bytes } });

  const { fingerprint } = mine.key;
  const vouched = await certified(mine.key.material, office.secret, new Date());
  const add = (who: Worker, key: Uint8Array) =>
    who.client(openPgpApi.addCertifications, { params: { fingerprint }, body: { key: key as Bytes } });
  expect(await codeOf(add(maren, vouched.write()))).toBe('not-allowed');
  expect(await codeOf(add(ines, office.key.bytes))).toBe('invalid-input');
  await add(ines, vouched.write());
  // A stranger's user id on it is as if it were not there: only its holder's word counts.
  const forged = await readOpenPgpKey(mine.key.bytes);
  forged.material.users.push(...office.key.material.users);
  await add(ines, forged.material.write());
  const {
    keys: [now],
  } = await served('maren.oduya');
  expect(now!.users.map(({ address }) => address)).toEqual([maren.account.address]);
  expect(now!.material.users[0]!.otherCertifications).toHaveLength(1);
  expect((await ines.client(openPgpApi.listStaffKeys)).keys).toEqual(
    expect.arrayContaining([expect.objectContaining({ fingerprint, name: maren.account.name })]),
  );
});

describe('a copy', () => {
  const message = (...addresses: string[]) =>
    demoMessage({ to: addresses.map((address) => ({ name: '', address })), files: [] });
  const nilsKey = async () =>
    readOpenPgpKey(new Uint8Array(Buffer.from((await house.world.keyring()).holder(NILS)!.secret, 'base64')));
  const sealed = async (change: Partial<Parameters<typeof sealForOpenPgp>[0]> = {}) =>
    sealForOpenPgp({
      message: message(NILS),
      signer: mine.secret,
      recipients: [await nilsKey()],
      own: mine.key,
      form: 'mime',
      signedAt: new Date(),
      neutralSubject: 'A confidential message',
      ...change,
    });
  async function sendCopy(raw: Uint8Array, { copies = true, clear = false } = {}) {
    const prepared = await prepare(message(NILS), { addresses: [], terms: { copies, clear } });
    await upload(maren.client, prepared.contentBlobId, prepared.content);
    const blobId = crypto.randomUUID();
    await upload(maren.client, blobId, raw as Bytes);
    const copy = {
      id: crypto.randomUUID(),
      lock: 'openpgp' as const,
      blobId,
      recipients: [{ id: crypto.randomUUID(), address: NILS, name: '', role: 'to' as const }],
    };
    await maren.client(messageApi.dispatchMessage, {
      params: { id: prepared.id },
      body: { ...prepared.dispatch, copies: [copy] },
    });
    return prepared.id;
  }
  const settled = (id: string) =>
    eventually(async () => {
      const found = await maren.client(messageApi.getSent, { params: { id } });
      return found.copies.every(({ state }) => state !== 'waiting') ? found : undefined;
    });

  test.each(['mime', 'attachments'] as const)('in the form %s leaves byte for byte as it was sealed', async (form) => {
    const raw = await sealed({ form });
    const sent = await settled(await sendCopy(raw));
    expect(sent.copies).toMatchObject([{ lock: 'openpgp', state: 'accepted', address: NILS }]);
    expect(sent.copyMails).toMatchObject([
      { lock: 'openpgp', sha256: new Uint8Array(createHash('sha256').update(raw).digest()) },
    ]);
    const mail = Buffer.from(house.world.store.mails.filter(({ mailbox }) => mailbox === NILS).at(-1)!.raw, 'base64');
    expect(Buffer.compare(mail.subarray(mail.length - raw.length), raw)).toBe(0);
  });

  const headed = (type: string, body: string): Bytes =>
    utf8(`From: <maren.oduya@larkmoor.example>\r\nTo: <${NILS}>\r\nContent-Type: ${type}\r\n\r\n${body}`);
  const control =
    '--e\r\nContent-Type: application/pgp-encrypted\r\n\r\nVersion: 1\r\n--e\r\nContent-Type: application/octet-stream\r\n\r\n';
  const text = (bytes: Uint8Array): string => Buffer.from(bytes).toString('latin1');
  test.each<[string, () => Promise<Bytes>, object, RegExp]>([
    ['signed only under a handling that keeps secrets', () => sealed({ recipients: [] }), {}, /below-preset/],
    ['encrypted under a handling without copies', () => sealed(), { copies: false }, /below-preset/],
    [
      'readable packets under a head that says encrypted',
      async () =>
        headed(
          'multipart/encrypted; protocol="application/pgp-encrypted"; boundary=e',
          `${control}${text(armoured('MESSAGE', Uint8Array.of(0xcb, 2, 0x62, 0)))}--e--\r\n`,
        ),
      {},
      /invalid-input/,
    ],
    [
      'something readable after what is encrypted',
      async () =>
        headed(
          'multipart/encrypted; protocol="application/pgp-encrypted"; boundary=e',
          `${control}${text(armoured('MESSAGE', concat(await sealMessage(utf8('x'), { signer: undefined, recipients: [mine.key], date: new Date() }), Uint8Array.of(0xcb, 2, 0x62, 0))))}--e--\r\n`,
        ),
      {},
      /invalid-input/,
    ],
    [
      'words where the control part stands',
      async () =>
        headed(
          'multipart/encrypted; protocol="application/pgp-encrypted"; boundary=e',
          `--e\r\nContent-Type: application/pgp-encrypted\r\n\r\n${'Read this. '.repeat(40)}\r\n--e\r\nContent-Type: application/octet-stream\r\n\r\n${text(armoured('MESSAGE', await sealMessage(utf8('x'), { signer: undefined, recipients: [mine.key], date: new Date() })))}--e--\r\n`,
        ),
      {},
      /invalid-input/,
    ],
    [
      'a readable part among encrypted ones',
      async () =>
        headed(
          'multipart/mixed; boundary=m',
          `--m\r\nContent-Type: text/plain\r\n\r\nOpen.\r\n--m\r\nContent-Type: application/octet-stream\r\n\r\n${text(armoured('MESSAGE', await sealMessage(utf8('x'), { signer: undefined, recipients: [mine.key], date: new Date() })))}--m--\r\n`,
        ),
      {},
      /invalid-input/,
    ],
  ])('%s is refused', async (_, raw, terms, code) => {
    expect(await codeOf(sendCopy(await raw(), terms))).toMatch(code);
  });

  test('what is no secret leaves signed', async () =>
    expect((await settled(await sendCopy(await sealed({ recipients: [] }), { clear: true }))).copies).toMatchObject([
      { state: 'accepted' },
    ]));

  test('a request is signed with a key as well; an answer that brings a key is known for one, and so is one to a notice or a copy', async () => {
    await giveKeyPair(maren);
    const words = requestContent({
      sender: { name: maren.account.name, address: maren.account.address },
      recipient: { name: 'Nils', address: NILS },
      officeName: house.server.context.config.office.name,
      language: 'en',
    });
    const content = { ...demoMessage({ files: [] }), ...words, to: [...words.to], cc: [] };
    const prepared = await prepare(content, { addresses: [] });
    await upload(maren.client, prepared.contentBlobId, prepared.content);
    const blobId = crypto.randomUUID();
    await upload(
      maren.client,
      blobId,
      await sealed({ message: content, recipients: [], carried: { key: mine.key, field: true, file: false } }),
    );
    await maren.client(messageApi.sendRequest, {
      params: { id: prepared.id },
      body: {
        contentBlobId: prepared.contentBlobId,
        summary: prepared.dispatch.summary,
        copy: {
          id: crypto.randomUUID(),
          lock: 'openpgp',
          blobId,
          recipients: [{ id: crypto.randomUUID(), address: NILS, name: 'Nils', role: 'to' }],
        },
      },
    });
    const account = (await mailboxAt(house.server.context, maren.account.address))!.account;
    const letter = (over: object) =>
      writeLetter(
        {
          from: NILS,
          to: maren.account.address,
          subject: 'Re',
          text: 'here',
          sign: false,
          encrypt: false,
          by: 'openpgp',
          key: true,
          answers: [],
          ...over,
        },
        house.world,
      );
    await keepIncoming(house.server.context, account, await letter({}), { from: NILS });
    expect((await maren.client(messageApi.getDesk)).answers).toMatchObject([
      { requestId: prepared.id, bringsMeans: false },
    ]);
    // From somebody we asked nothing, in answer to a copy of ours.
    const sent = await settled(await sendCopy(await sealed()));
    await keepIncoming(
      house.server.context,
      account,
      await letter({ from: 'lene.hjort@pilots.example', answers: [sent.copyMails[0]!.mailId] }),
      { from: 'lene.hjort@pilots.example' },
    );
    await keepIncoming(
      house.server.context,
      account,
      await letter({ from: 'lene.hjort@pilots.example', key: false, answers: [sent.copyMails[0]!.mailId] }),
      { from: 'lene.hjort@pilots.example' },
    );
    const { answers } = await maren.client(messageApi.getDesk);
    expect(answers.map(({ requestId, bringsMeans }) => [requestId, bringsMeans])).toEqual([
      [undefined, true],
      [prepared.id, false],
    ]);
  });
});

test('a copied database holds no secret key: neither the one in the vault nor its parts', async () => {
  const one = await make('Maren Oduya', maren.account.address);
  const key = await vaultKey(makeAccountSecret());
  const id = crypto.randomUUID();
  const secret = one.secret.write() as Bytes;
  await maren.client(putVaultItem, {
    params: { kind: 'key', id },
    body: {
      revision: 0,
      sealed: await sealItem(key, 'key', id, { kind: 'openpgp', secretKey: toBase64Url(secret) }, 1),
      manifest: { revision: 0, whole: await sealManifest(key, 'key', withRevisions(emptyManifest, [[id, 1]])) },
    },
  });
  await publish(maren, one.key);
  const dump = execFileSync('/usr/lib/postgresql/15/bin/pg_dump', ['--inserts', house.databaseUrl], {
    maxBuffer: 512 * 1024 * 1024,
  });
  // The public half is there, or the search would prove nothing.
  expect(dump.includes(Buffer.from(Buffer.from(one.key.bytes).toString('hex')))).toBe(true);
  const parameters = [one.secret, ...one.secret.subkeys].map((part) =>
    Buffer.from(
      (part.keyPacket as unknown as { privateParams: { seed?: Uint8Array; d?: Uint8Array } }).privateParams.seed ??
        (part.keyPacket as unknown as { privateParams: { d: Uint8Array } }).privateParams.d,
    ),
  );
  expect(parameters.every(({ length }) => length === 32)).toBe(true);
  for (const parameter of parameters)
    for (const spelled of [
      parameter,
      Buffer.from(parameter.toString('hex')),
      Buffer.from(parameter.toString('base64url').slice(0, -2)),
      Buffer.from(parameter.toString('base64').slice(0, -3)),
    ])
      expect(dump.includes(spelled)).toBe(false);
});
