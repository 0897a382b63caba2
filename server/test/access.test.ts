/**
 * The whole route table, walked as nobody, as another worker, and as the reader of another message: whoever may not is
 * refused everywhere.
 */
import { allEndpoints } from '@under-lock/contract/index';
import { type Endpoint } from '@under-lock/contract/endpoint';
import { createClient } from '@under-lock/contract/client';
import * as registeredApi from '@under-lock/contract/registered';
import * as roomApi from '@under-lock/contract/room';
import { addDevice, endDevice } from '@under-lock/contract/submission';
import { OUR_RULES } from '@under-lock/core/locks/file/rules';
import { shareProof } from '@under-lock/core/locks/room/grant';
import { toBase64Url, randomBytes } from '@under-lock/core/bytes';
import { makeReaderAccount } from '@under-lock/core/account/reader-account';
import { hashProof } from '../src/account/proof';
import { ReaderRow } from '../src/data/models';
import { createApp } from '../src/http/app';
import { cookieFetch, demoMessage, demoTerms, type House, openHouse, send, type Worker } from './house';

const TOKEN = 'D'.repeat(43);
let house: House;
let maren: Worker;
let tobias: Worker;
let sent: Awaited<ReturnType<typeof send>>;
let other: Awaited<ReturnType<typeof send>>;
beforeAll(async () => {
  house = await openHouse({ UNDERLOCK_SUBMISSION_TOKEN: TOKEN });
  maren = await house.worker('maren.oduya');
  tobias = await house.worker('tobias.quill');
  sent = await send(maren, demoMessage({ files: [] }));
  other = await send(tobias, demoMessage({ files: [] }));
});
afterAll(() => house.stop());

const newReader = () => ({
  id: crypto.randomUUID(),
  key: { suite: 1, publicKey: toBase64Url(randomBytes(1216)), sealedPrivateKey: toBase64Url(randomBytes(61)) },
  password: {
    hashing: { salt: toBase64Url(randomBytes(16)), memoryKiB: 65_536, iterations: 3, parallelism: 4 },
    authKey: toBase64Url(randomBytes(32)),
    wrappedSecret: toBase64Url(randomBytes(61)),
  },
});

/** A body that the schema takes, so that a refusal is about who asks and not about what. */
function bodyFor(endpoint: Endpoint): string | undefined {
  const grant = () => ({
    id: crypto.randomUUID(),
    address: 'x@postbox.example',
    name: '',
    role: 'to',
    houseShare: toBase64Url(randomBytes(32)),
    wrappedKey: toBase64Url(randomBytes(61)),
    reader: {
      kind: 'link',
      channel: { kind: 'text', target: '+447700900555' },
      readerShare: toBase64Url(randomBytes(32)),
    },
  });
  const closesAt = new Date(Date.now() + 86_400_000).toISOString();
  const bodies: Record<string, unknown> = {
    '/api/messages/:id/closing': { grantIds: [sent.dispatch.grants[0]!.id], closesAt },
    '/api/messages/:id/statement': { grantIds: [sent.dispatch.grants[0]!.id] },
    '/api/messages/:id/withdraw': { grantIds: [sent.dispatch.grants[0]!.id] },
    '/api/messages/:id/grants/:grantId/notice': { readerShare: toBase64Url(sent.dispatch.grants[0]!.readerShare) },
    '/api/messages/:id/grants/:grantId/channel': { kind: 'text', target: '+447700900555' },
    '/api/messages/:id/readers': { grant: grant(), closesAt, summary: toBase64Url(randomBytes(40)) },
    '/api/messages/:id/grants': {
      replaces: sent.dispatch.grants[0]!.id,
      grant: grant(),
      closesAt,
      summary: toBase64Url(randomBytes(40)),
    },
    '/api/messages/:id/dispatch': {
      contentBlobId: sent.contentBlobId,
      reference: '',
      handling: { closesAt, ...demoTerms },
      summary: toBase64Url(randomBytes(40)),
      grants: [grant()],
    },
    '/api/messages/:id/request': {
      contentBlobId: sent.contentBlobId,
      summary: toBase64Url(randomBytes(40)),
      copy: {
        id: crypto.randomUUID(),
        lock: 'certificate',
        blobId: sent.contentBlobId,
        recipients: [{ id: crypto.randomUUID(), address: 'x@postbox.example', name: '', role: 'to' }],
      },
    },
    '/api/incoming/:id': { unread: false },
    '/api/accounts/:id/addresses': { addresses: [] },
    '/api/vault/:kind/:id': { revision: 1, sealed: toBase64Url(randomBytes(40)) },
    '/api/vault/:kind/:id/drop': { manifest: { revision: 1, step: toBase64Url(randomBytes(40)) } },
    '/api/manifests/:kind': { revision: 1, whole: toBase64Url(randomBytes(40)) },
    '/api/releases/:id/send-back': { sentence: toBase64Url(randomBytes(80)) },
    '/api/accounts/:id/release': { may: true },
    '/api/account/told': { byMail: true },
    '/api/slots/:id': { open: true, proves: true },
    '/api/incoming/:id/sender': { address: 'x@postbox.example', blocked: true },
    '/api/blobs': { id: sent.contentBlobId, size: sent.content.length },
    '/api/messages/:id/take-back': {},
    '/api/certificates': { request: toBase64Url(randomBytes(60)), purpose: 'both' },
    '/api/certificates/revoke': { fingerprint: 'a'.repeat(64), reason: 'superseded' },
    '/api/trust': { id: crypto.randomUUID(), certificate: toBase64Url(randomBytes(60)) },
    '/api/evidence': { lists: [], issuers: [], questions: [] },
    '/api/openpgp/find': { wanted: [{ address: 'x@postbox.example' }] },
    '/api/openpgp/published/:fingerprint': { key: toBase64Url(randomBytes(60)) },
    '/api/openpgp/staff/:fingerprint': { key: toBase64Url(randomBytes(60)) },
    '/api/openpgp/trust': { id: crypto.randomUUID(), key: toBase64Url(randomBytes(60)) },
    '/api/account/key': {
      suite: 1,
      publicKey: toBase64Url(randomBytes(1216)),
      sealedPrivateKey: toBase64Url(randomBytes(61)),
    },
    '/api/presets/:id': {
      name: 'x',
      sentence: 'x',
      terms: {
        closing: { kind: 'two-weeks' },
        ...demoTerms,
        receipt: false,
        remindHours: 0,
        mayLoosen: { closing: true, identity: true, rights: true },
      },
      active: true,
    },
    '/api/presets/order': { ids: [] },
    '/api/readers/withdraw': { addresses: ['pell.anders@postbox.example'] },
    '/api/received/:id/unread': { unread: true },
    '/api/received/:id/use': { what: 'saved' },
    '/room/api/grants/:id/use': { what: 'saved' },
    '/room/api/grants/:id/replies': {
      id: crypto.randomUUID(),
      contentBlobId: sent.contentBlobId,
      toAll: false,
      ownKey: toBase64Url(randomBytes(61)),
      grants: [
        {
          id: crypto.randomUUID(),
          houseShare: toBase64Url(randomBytes(32)),
          wrappedKey: toBase64Url(randomBytes(61)),
          reader: { kind: 'link', readerShare: toBase64Url(randomBytes(32)) },
        },
      ],
    },
    '/room/api/grants/:id/forwards': {
      id: crypto.randomUUID(),
      address: 'x@postbox.example',
      name: '',
      houseShare: toBase64Url(randomBytes(32)),
      wrappedKey: toBase64Url(randomBytes(61)),
      readerShare: toBase64Url(randomBytes(32)),
      channel: { kind: 'text', target: '+447700900555' },
    },
    '/room/api/grants/:id/blobs': { id: crypto.randomUUID(), size: 10 },
    '/api/answered': { answers: ['of-nothing@postbox.example'] },
    '/api/registered': { addresses: [] },
    '/api/office/look': { colour: '#0E5A4C', texts: {} },
    '/api/office/locked-files': OUR_RULES,
    '/api/phone/permits': { to: '+447700900555' },
    '/room/api/grants/:id/account': { ...newReader(), code: '123456' },
    '/room/api/grants/:id/keep': {
      sealedShare: toBase64Url(randomBytes(60)),
      sealedSummary: toBase64Url(randomBytes(60)),
    },
    '/room/api/account/password': { currentAuthKey: toBase64Url(randomBytes(32)), password: newReader().password },
    '/room/api/account/forget': { currentAuthKey: toBase64Url(randomBytes(32)) },
    '/room/api/held/:id/unread': { unread: true },
    '/room/api/held/ask-again': { ids: [sent.dispatch.grants[0]!.id] },
    '/room/api/written/blobs': { id: crypto.randomUUID(), size: 10, to: maren.account.id },
    '/room/api/written': {
      id: crypto.randomUUID(),
      contentBlobId: sent.contentBlobId,
      to: maren.account.id,
      ownKey: toBase64Url(randomBytes(61)),
      ownSummary: toBase64Url(randomBytes(61)),
      grant: {
        id: crypto.randomUUID(),
        houseShare: toBase64Url(randomBytes(32)),
        wrappedKey: toBase64Url(randomBytes(61)),
        sealedShare: toBase64Url(randomBytes(60)),
        sealedSummary: toBase64Url(randomBytes(60)),
      },
    },
    '/api/mail-programs': { name: 'x' },
    '/api/submission/mails/:id': {
      blobId: sent.contentBlobId,
      sha256: toBase64Url(randomBytes(32)),
      size: 1,
      account: toBase64Url(randomBytes(60)),
      door: toBase64Url(randomBytes(60)),
    },
    '/api/account/told-left': { when: 'daily' },
    '/api/mail-programs/signers/:kind': {
      publicKey: toBase64Url(randomBytes(1216)),
      sealed: toBase64Url(randomBytes(60)),
      fingerprint: 'a'.repeat(40),
    },
    '/api/submission/mails/:id/left': { toTell: [], asWritten: true },
    '/api/submission/mails/:id/wait': { why: toBase64Url(randomBytes(60)), sentence: 'x' },
    '/api/accounts/:id/end': { withdraw: false },
    '/api/accounts/:id/role': { role: 'worker' },
    '/api/account/exports': { what: 'password-book' },
    '/api/invitations': { address: 'someone@larkmoor.example', name: 'Someone', title: '' },
  };
  return endpoint.method === 'GET' || endpoint.method === 'DELETE'
    ? undefined
    : JSON.stringify(bodies[endpoint.path] ?? {});
}

const pathOf = (endpoint: Endpoint): string =>
  endpoint.path
    .replace(
      ':kind',
      endpoint.path.includes('/signers/') ? 'openpgp' : endpoint.path.endsWith('/drop') ? 'person' : 'sent',
    )
    .replace(':grantId', sent.dispatch.grants[0]!.id)
    .replace(':blobId', sent.contentBlobId)
    .replace(':replyId', sent.id)
    .replace(':index', '0')
    .replace(':fingerprint', 'a'.repeat(40))
    .replace(
      ':id',
      endpoint.path.startsWith('/room') || endpoint.path.startsWith('/api/received')
        ? sent.dispatch.grants[0]!.id
        : endpoint.path.startsWith('/api/blobs')
          ? sent.contentBlobId
          : sent.id,
    );

async function ask(endpoint: Endpoint, fetcher: typeof fetch): Promise<number> {
  const raw = endpoint.path.endsWith('/parts/:index') && endpoint.method === 'PUT';
  const body = raw ? 'x' : bodyFor(endpoint);
  const response = await fetcher(house.origin + pathOf(endpoint), {
    method: endpoint.method,
    headers: { 'Content-Type': raw ? 'application/octet-stream' : 'application/json' },
    ...(body === undefined ? {} : { body }),
  });
  await response.arrayBuffer();
  return response.status;
}

const guarded = allEndpoints.filter(({ access }) => access !== 'anybody');

test('every endpoint of the contract is mounted, and nothing else is', () => {
  const { mounted } = createApp(house.server.context);
  expect([...mounted].map(({ method, path }) => `${method} ${path}`).sort()).toEqual(
    allEndpoints.map(({ method, path }) => `${method} ${path}`).sort(),
  );
});

test.each(guarded.map((endpoint) => [`${endpoint.method} ${endpoint.path}`, endpoint] as const))(
  'nobody is refused at %s',
  async (_, endpoint) => {
    expect(await ask(endpoint, cookieFetch(house.origin))).toBe(401);
  },
);

// What belongs to the caller alone can't be another's: these have no id of somebody else's in them.
const ownOnly = new Set([
  '/api/office-book',
  '/api/office-book/members/:id',
  '/api/office-book/door',
  '/api/mail-programs',
  '/api/handed-in',
  '/api/office-book/renewals',
  '/api/office-book/renewals/:kind',
  '/api/office-book/renewals/finish',
  '/api/office-book/items/:kind',
  '/api/office-book/items/:kind/:id',
  '/api/office-book/items/:kind/:id/drop',
  '/api/office-book/manifests/:kind',
  '/api/releases',
  '/api/rules',
  '/api/rules/stopped',
  '/api/written-to/new',
  '/api/written-to/together',
  '/api/answered',
  '/api/registered',
  '/api/certificates',
  '/api/trust',
  '/api/evidence',
  '/api/directory',
  '/api/openpgp/find',
  '/api/openpgp/published',
  '/api/openpgp/published/:fingerprint',
  '/api/openpgp/trust',
  '/api/sessions',
  '/api/slots',
  '/api/session',
  '/api/live',
  '/api/messages',
  '/api/news',
  '/api/desk',
  '/api/colleagues',
  '/api/password',
  '/api/recovery-code',
  '/api/account/phone',
  '/api/account/told',
  '/api/account/told-left',
  '/api/mail-programs/signers',
  '/api/account/exports',
  '/api/account/key',
  '/api/readers',
  '/api/readers/accesses',
  '/api/search/words',
  '/api/search/state',
  '/api/readers/withdraw',
  '/api/written-to',
  '/api/presets',
  '/api/office/locked-files',
  '/api/phone/permits',
  '/api/received',
  '/api/vault/:kind',
  '/api/manifests/:kind',
]);

test.each(
  guarded
    .filter(({ access, path }) => access === 'worker' && !ownOnly.has(path))
    .map((endpoint) => [`${endpoint.method} ${endpoint.path}`, endpoint] as const),
)('another worker gets nothing at %s', async (_, endpoint) => {
  const fetcher = cookieFetch(house.origin, tobias.client.cookies);
  const status = await ask(endpoint, fetcher);
  // An item or upload of that number is simply not there for them; deleting it deletes nothing.
  if (endpoint.path === '/api/vault/:kind/:id' && endpoint.method === 'GET') expect(status).toBe(200);
  // A conversation is what the caller has of it: nothing.
  else if (endpoint.path === '/api/conversations/:id') expect(status).toBe(200);
  else if (endpoint.method === 'DELETE') expect([200, 404]).toContain(status);
  else expect([403, 404, 409]).toContain(status);
});

test('after all that, everything is still as its owner left it', async () => {
  const { grants } = await maren.client((await import('@under-lock/contract/outgoing')).getSent, {
    params: { id: sent.id },
  });
  expect(grants).toHaveLength(1);
  expect(grants[0]).toMatchObject({ state: 'held', check: { hint: '···\u00a0417' } });
  const item = await maren.client((await import('@under-lock/contract/vault')).getVaultItem, {
    params: { kind: 'sent', id: sent.id },
  });
  expect(item.item?.revision).toBe(1);
  expect(
    (
      await tobias.client((await import('@under-lock/contract/vault')).getVaultItem, {
        params: { kind: 'sent', id: sent.id },
      })
    ).item,
  ).toBeUndefined();
});

test('an ordinary worker is no administrator', async () => {
  const fetcher = cookieFetch(house.origin, tobias.client.cookies);
  for (const endpoint of guarded.filter(({ access }) => access === 'administrator'))
    expect(await ask(endpoint, fetcher)).toBe(403);
});

describe('the door for mail programs', () => {
  let deviceId: string;
  beforeAll(async () => {
    ({ id: deviceId } = await maren.client(addDevice, { body: { name: 'Laptop' } }));
  });
  const withWord =
    (token: string, device?: string): typeof fetch =>
    (target, init) =>
      fetch(target, {
        ...init,
        headers: {
          ...(init?.headers as Record<string, string>),
          Authorization: `Bearer ${token}`,
          ...(device === undefined ? {} : { 'Under-Lock-Device': device }),
        },
      });

  test('with another word it is refused everywhere, a worker’s cookie beside it or not', async () => {
    for (const endpoint of guarded.filter(({ access }) => ['door', 'worker', 'administrator'].includes(access))) {
      expect(await ask(endpoint, withWord('E'.repeat(43), deviceId))).toBe(403);
      const beside = (target: string, init: RequestInit) =>
        cookieFetch(house.origin, maren.client.cookies)(target, {
          ...init,
          headers: { ...(init.headers as Record<string, string>), Authorization: `Bearer ${'E'.repeat(43)}` },
        });
      expect(await ask(endpoint, beside as typeof fetch)).toBe(403);
    }
  });

  test('it may do nothing for a worker but what says so', async () => {
    for (const endpoint of guarded.filter(
      ({ access, byDoor }) => ['worker', 'administrator'].includes(access) && !byDoor,
    ))
      expect([endpoint.path, await ask(endpoint, withWord(TOKEN, deviceId))]).toEqual([endpoint.path, 403]);
  });

  test('in nobody’s name, and in that of a device that has ended, it may do nothing of a worker’s', async () => {
    const ofWorkers = guarded.filter(({ byDoor }) => byDoor);
    expect(ofWorkers.length).toBeGreaterThan(10);
    for (const endpoint of ofWorkers) expect(await ask(endpoint, withWord(TOKEN))).toBe(403);
    await maren.client(endDevice, { params: { id: deviceId } });
    for (const endpoint of ofWorkers) expect(await ask(endpoint, withWord(TOKEN, deviceId))).toBe(401);
  });
});

test('the reader of one message is nobody at another', async () => {
  const fetcher = cookieFetch(house.origin);
  const [{ id, readerShare }] = other.dispatch.grants as [(typeof other.dispatch.grants)[0]];
  const proof = await shareProof(readerShare);
  const client = createClient(house.origin, fetcher);
  await client(roomApi.sendPasscode, { params: { id }, body: { proof } });
  const passcode = /^\d{6}/.exec(house.world.store.texts.at(-1)!.text)![0];
  await client(roomApi.enterPasscode, { params: { id }, body: { proof, passcode } });
  await client(roomApi.openRoom, { params: { id } });
  // The same cookie, put where the other grant would look for it.
  const token = [...fetcher.cookies.values()][0]!;
  fetcher.cookies.set(`under_lock_room /room/api/grants/${sent.dispatch.grants[0]!.id}`, token);
  for (const endpoint of guarded.filter(({ access }) => access === 'reader'))
    expect([endpoint.path, await ask(endpoint, fetcher)]).toEqual([endpoint.path, 401]);
  for (const endpoint of guarded.filter(({ access }) => access === 'worker' || access === 'registered'))
    expect([endpoint.path, await ask(endpoint, fetcher)]).toEqual([endpoint.path, 401]);
});

test('a registered reader gets nothing of what is held for somebody else', async () => {
  const fetcher = cookieFetch(house.origin);
  const { account } = await makeReaderAccount(crypto.randomUUID(), 'nine gulls on the breakwater');
  const { id, key, password } = account;
  await ReaderRow.create({
    id,
    address: 'yard@saltmarsh.example',
    addressKey: 'yard@saltmarsh.example',
    name: '',
    language: 'en',
    hashing: { ...password.hashing, salt: toBase64Url(password.hashing.salt) },
    authHash: await hashProof(password.authKey),
    wrappedSecret: Buffer.from(password.wrappedSecret),
    publicKey: Buffer.from(key.publicKey),
    keySuite: 1,
    sealedPrivateKey: Buffer.from(key.sealedPrivateKey),
    knownBy: 'text',
    since: new Date(),
  });
  await createClient(house.origin, fetcher)(registeredApi.signInReader, {
    body: { address: 'yard@saltmarsh.example', authKey: password.authKey },
  });
  const ownList = new Set([
    '/room/api/account/session',
    '/room/api/account/password',
    '/room/api/account/forget',
    '/room/api/account/language',
    '/room/api/account/devices',
    '/room/api/drafts',
    // One's own number is free to choose.
    '/room/api/drafts/:id',
    '/room/api/held',
    '/room/api/held/ask-again',
  ]);
  for (const endpoint of guarded.filter(
    ({ access, path, method }) =>
      access === 'registered' && !ownList.has(path) && !(path === '/room/api/written' && method === 'GET'),
  )) {
    expect([endpoint.path, [401, 404]]).toEqual([
      endpoint.path,
      expect.arrayContaining([await ask(endpoint, fetcher)]),
    ]);
  }
  for (const endpoint of guarded.filter(({ access }) => access === 'worker' || access === 'reader'))
    expect([endpoint.path, await ask(endpoint, fetcher)]).toEqual([endpoint.path, 401]);
});

test('a proof of another link sends nothing and opens nothing', async () => {
  const proof = await shareProof(other.dispatch.grants[0]!.readerShare);
  const id = sent.dispatch.grants[0]!.id;
  const texts = house.world.store.texts.length;
  await expect(house.visitor()(roomApi.sendPasscode, { params: { id }, body: { proof } })).rejects.toMatchObject({
    code: 'wrong-link',
  });
  await expect(
    house.visitor()(roomApi.enterPasscode, { params: { id }, body: { proof, passcode: '123456' } }),
  ).rejects.toMatchObject({ code: 'wrong-link' });
  expect(house.world.store.texts).toHaveLength(texts);
});

test('a request from another site is refused even with the cookie', async () => {
  const cookie = [...maren.client.cookies].map(([key, value]) => `${key.split(' ')[0]}=${value}`).join('; ');
  for (const origin of ['https://evil.example', 'null', undefined]) {
    const response = await fetch(`${house.origin}/api/session`, {
      method: 'DELETE',
      headers: { Cookie: cookie, ...(origin === undefined ? {} : { Origin: origin }) },
    });
    expect(response.status).toBe(403);
  }
});

test('an address spelled otherwise is nobody’s: what is asked of an endpoint is asked at each of its spellings', async () => {
  const cookie = [...maren.client.cookies].map(([key, value]) => `${key.split(' ')[0]}=${value}`).join('; ');
  const ask = (path: string, method: string): Promise<Response> =>
    fetch(house.origin + path, { method, headers: { Cookie: cookie, Origin: 'https://evil.example' } });
  for (const path of [
    '/API/session',
    '/Api/session',
    '/api/SESSION',
    '/ROOM/api/sign-in',
    '/room/API/sign-in',
    '/SLOT/api/x',
  ])
    expect((await ask(path, 'DELETE')).status).toBeGreaterThanOrEqual(400);
  // Nobody was signed out.
  expect((await fetch(`${house.origin}/api/session`, { headers: { Cookie: cookie } })).status).toBe(200);
});
