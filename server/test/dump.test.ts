/**
 * A copied database gives nothing: after a full send a dump holds no subject, text, file name, content, link secret,
 * phone or passcode, in any spelling; with the mailbox of a withdrawn message beside it, nothing opens.
 */
import { execFileSync } from 'node:child_process';
import { dispatchMessage, getSent, withdrawGrants } from '@under-lock/contract/outgoing';
import { enterPasscode, openRoom, sendPasscode } from '@under-lock/contract/room';
import { signInReader } from '@under-lock/contract/registered';
import { sealSummary, sealTo, shareContext } from '@under-lock/core/account/key-pair';
import { makeReaderAccount, openPrivateKey } from '@under-lock/core/account/reader-account';
import { joinKey, shareProof } from '@under-lock/core/locks/room/grant';
import { sealItem } from '@under-lock/core/vault/item';
import { emptyManifest, sealManifest, withRevisions } from '@under-lock/core/vault/manifest';
import { makeAccountSecret, vaultKey } from '@under-lock/core/account/secret';
import { putVaultItem } from '@under-lock/contract/vault';
import { randomUUID } from 'node:crypto';
import { hashProof } from '../src/account/proof';
import { ReaderRow } from '../src/data/models';
import { demoMessage, eventually, type House, openHouse, prepare, send, upload, type Worker } from './house';

let house: House;
let maren: Worker;
beforeAll(async () => {
  house = await openHouse();
  maren = await house.worker('maren.oduya');
});
afterAll(() => house.stop());

const dump = (): Buffer =>
  execFileSync('/usr/lib/postgresql/15/bin/pg_dump', ['--inserts', house.databaseUrl], {
    maxBuffer: 512 * 1024 * 1024,
  });

/** The same secret as a database or a careless program might spell it. */
function spellings(secret: Buffer): [string, Buffer][] {
  const text = (name: string, spelled: string): [string, Buffer][] => [[name, Buffer.from(spelled)]];
  return [
    ['as it is', secret],
    ...text('hex', secret.toString('hex')),
    ...text('HEX', secret.toString('hex').toUpperCase()),
    // Base64 of something longer that holds it begins at one of three offsets; the middle is the same.
    ...[0, 1, 2].flatMap((offset) =>
      text(
        `base64 at ${offset}`,
        Buffer.concat([Buffer.alloc(offset), secret])
          .toString('base64')
          .slice(offset === 0 ? 0 : 4, -4),
      ),
    ),
    ...text('base64url', secret.toString('base64url').slice(0, -2)),
    ['UTF-16', Buffer.from(secret.toString('utf8'), 'utf16le')],
    ...text('URL', encodeURIComponent(secret.toString('utf8'))),
  ].filter(([, bytes]) => (bytes as Buffer).length >= 5) as [string, Buffer][];
}

function expectAbsent(haystack: Buffer, secrets: Record<string, Buffer>): void {
  const found = Object.entries(secrets).flatMap(([name, secret]) =>
    spellings(secret)
      .filter(([, bytes]) => haystack.includes(bytes))
      .map(([spelling]) => `${name}, ${spelling}`),
  );
  expect(found).toEqual([]);
}

test('the search itself finds what is there', () => {
  const secret = Buffer.from('The eyesight test');
  for (const [spelling, bytes] of spellings(secret))
    expect([spelling, Buffer.concat([Buffer.from('xx'), bytes, Buffer.from('yy')]).includes(bytes)]).toEqual([
      spelling,
      true,
    ]);
  expect(() => expectAbsent(Buffer.from(`INSERT '\\x${secret.toString('hex')}'`), { text: secret })).toThrow();
  expect(() =>
    expectAbsent(Buffer.from(Buffer.from(`..${secret.toString()}..`).toString('base64')), { text: secret }),
  ).toThrow();
});

test('a dump while something is held for a registered reader: no password, no share, no key, no subject', async () => {
  const { account, unlocked } = await makeReaderAccount(randomUUID(), 'unmistakable words at low tide');
  const { id, key, password } = account;
  const address = 'mira.talvik@saltmarsh.example';
  await ReaderRow.create({
    id,
    address,
    addressKey: address,
    name: '',
    language: 'en',
    hashing: { ...password.hashing, salt: Buffer.from(password.hashing.salt).toString('base64url') },
    authHash: await hashProof(password.authKey),
    wrappedSecret: Buffer.from(password.wrappedSecret),
    publicKey: Buffer.from(key.publicKey),
    keySuite: key.suite,
    sealedPrivateKey: Buffer.from(key.sealedPrivateKey),
    knownBy: 'text',
    since: new Date(),
  });
  const privateKey = await openPrivateKey(unlocked, key.sealedPrivateKey, id);
  const prepared = await prepare(demoMessage({ subject: 'Unmistakable subject for a list', files: [] }), {
    addresses: [address],
  });
  const [{ readerShare, ...grant }] = prepared.dispatch.grants as [(typeof prepared.dispatch.grants)[0]];
  await upload(maren.client, prepared.contentBlobId, prepared.content);
  const sealedShare = await sealTo(key, readerShare, shareContext(grant.id));
  const sealedSummary = await sealSummary({ subject: 'Unmistakable subject for a list' }, readerShare, grant.id);
  await maren.client(dispatchMessage, {
    params: { id: prepared.id },
    body: {
      ...prepared.dispatch,
      grants: [{ ...grant, reader: { kind: 'registered', readerId: id, sealedShare, sealedSummary } }],
    },
  });
  const visitor = house.visitor();
  await visitor(signInReader, { body: { address, authKey: password.authKey } });
  expectAbsent(dump(), {
    password: Buffer.from('unmistakable words at low tide'),
    'proof of the password': Buffer.from(password.authKey),
    'private key': Buffer.from(privateKey),
    share: Buffer.from(readerShare),
    subject: Buffer.from('Unmistakable subject'),
    'content key': Buffer.from(prepared.contentKey.key),
    'house share': Buffer.from(grant.houseShare),
    'sign-in': Buffer.from([...visitor.cookies.values()][0]!),
  });
}, 60_000);

test('a dump while a message is held, and after it was withdrawn', async () => {
  const phone = '+447700900417';
  const files = [
    {
      name: 'unmistakable-eyesight-findings.pdf',
      type: 'application/pdf',
      bytes: new Uint8Array(
        Buffer.from('%PDF the unmistakable content of a file, repeated enough to be found'.repeat(20)),
      ),
    },
  ];
  const message = demoMessage({
    subject: 'Unmistakable subject of the fitness papers',
    text: 'An unmistakable sentence about eyesight.',
    html: '<p>An unmistakable sentence about eyesight.</p>',
    files,
  });
  // The phone operator is down while the notice waits too: what waits in the outbox must be unreadable as well.
  house.world.behaviour.current = { mail: 'down', phone: 'deliver' };
  const sent = await send(maren, message, { phone });
  const draftKey = await vaultKey(makeAccountSecret());
  const draftId = randomUUID();
  await maren.client(putVaultItem, {
    params: { kind: 'draft', id: draftId },
    body: {
      revision: 0,
      sealed: await sealItem(draftKey, 'draft', draftId, { subject: message.subject, text: message.text }, 1),
      manifest: {
        revision: 0,
        whole: await sealManifest(draftKey, 'draft', withRevisions(emptyManifest, [[draftId, 1]])),
      },
    },
  });
  const [{ id: grantId, readerShare, houseShare }] = sent.dispatch.grants as [(typeof sent.dispatch.grants)[0]];
  const secrets = {
    subject: Buffer.from(message.subject),
    text: Buffer.from('An unmistakable sentence'),
    'file name': Buffer.from('unmistakable-eyesight-findings'),
    'file content': Buffer.from('unmistakable content of a file'),
    'link secret': Buffer.from(readerShare),
    'house share': Buffer.from(houseShare),
    'content key': Buffer.from(sent.contentKey.key),
    phone: Buffer.from(phone),
    'phone digits': Buffer.from('7700900417'),
  };
  expectAbsent(dump(), secrets);

  house.world.behaviour.current = { mail: 'deliver', phone: 'deliver' };
  await eventually(
    async () =>
      (await maren.client(getSent, { params: { id: sent.id } })).grants[0]!.notice.state === 'accepted'
        ? true
        : undefined,
    30,
  );
  const reader = house.visitor();
  const proof = await shareProof(readerShare);
  await reader(sendPasscode, { params: { id: grantId }, body: { proof } });
  const passcode = /^\d{6}/.exec(house.world.store.texts.at(-1)!.text)![0];
  // Six digits may stand anywhere by chance in a dump of random bytes: looked for as a value of their own.
  expect(dump().toString('latin1')).not.toMatch(new RegExp(`'${passcode}'|"${passcode}"`));
  await reader(enterPasscode, { params: { id: grantId }, body: { proof, passcode } });
  const released = await reader(openRoom, { params: { id: grantId } });
  expect(
    Buffer.from(await joinKey(readerShare, released, { grantId, messageId: sent.id })).equals(
      Buffer.from(sent.contentKey.key),
    ),
  ).toBe(true);
  expectAbsent(dump(), {
    ...secrets,
    'reader’s cookie': Buffer.from([...reader.cookies.values()][0]!),
    'worker’s cookie': Buffer.from([...maren.client.cookies.values()][0]!),
    'proof of the password': Buffer.from(maren.authKey),
  });

  await maren.client(withdrawGrants, { params: { id: sent.id }, body: { grantIds: [grantId] } });
  const after = dump();
  expectAbsent(after, secrets);
  // With dump and mailbox: the link's share is there, and nothing it could be joined with.
  expectAbsent(after, {
    'wrapped key': Buffer.from(released.wrappedKey),
    'house share': Buffer.from(released.houseShare),
  });
  expect(after.includes(Buffer.from(grantId))).toBe(true); // it is the right dump
  expect(after.toString('latin1')).toContain('withdrawn');
}, 60_000);
