/**
 * Guessing, and keeping others out by guessing: tries are taken before they are judged, and nobody's budget is somebody
 * else's.
 */
import * as accountApi from '@under-lock/contract/account';
import { createClient } from '@under-lock/contract/client';
import * as registeredApi from '@under-lock/contract/registered';
import { makeReaderAccount } from '@under-lock/core/account/reader-account';
import { randomBytes } from '@under-lock/core/bytes';
import { MAX_DELAY_MS } from '@under-lock/core/throttle';
import { takeTry } from '../src/limits/throttle';
import { rows, run } from '../src/data/database';
import { placeOf } from '../src/account/place';
import { ReaderRow } from '../src/data/models';
import { hashProof } from '../src/account/proof';
import * as roomApi from '@under-lock/contract/room';
import { shareProof } from '@under-lock/core/locks/room/grant';
import { cookieFetch, demoMessage, type House, openHouse, send, type Worker } from './house';

let house: House;
let maren: Worker;
beforeAll(async () => {
  house = await openHouse({ UNDERLOCK_PROXIES: '1' });
  maren = await house.worker('maren.oduya');
});
afterEach(() => {
  house.clock.real = true;
});
afterAll(() => house.stop());

/** However long the machine takes over a burst: no wait is over in the middle of it. */
function stopTheClock(): void {
  house.clock.now = new Date();
  house.clock.real = false;
}

/** A browser at some place of the net, as the proxy before us names it. */
function browser(place: string, cookies = new Map<string, string>()) {
  const fetcher = cookieFetch(house.origin, cookies);
  const client = createClient(house.origin, ((url: string, init: RequestInit) =>
    fetcher(url, {
      ...init,
      headers: { ...(init.headers as Record<string, string>), 'X-Forwarded-For': `203.0.113.250, ${place}` },
    })) as typeof fetch);
  return Object.assign(client, { cookies: fetcher.cookies });
}
const codeOf = (promise: Promise<unknown>): Promise<string> =>
  promise.then(
    () => 'in',
    (problem: { code: string }) => problem.code,
  );
const counted = (codes: string[]): Record<string, number> =>
  codes.reduce<Record<string, number>>((sum, code) => ({ ...sum, [code]: (sum[code] ?? 0) + 1 }), {});
const signIn = (client: ReturnType<typeof browser>, authKey = randomBytes(32), { address } = maren.account) =>
  codeOf(client(accountApi.signIn, { body: { address, authKey, device: 'test' } }));
const device = (): Map<string, string> =>
  new Map([...maren.client.cookies].filter(([name]) => name.startsWith('under_lock_device')));

test('of three hundred guesses at once three are judged, whoever they are at', async () => {
  stopTheClock();
  const burst = browser('198.51.100.1');
  for (const address of [maren.account.address, 'nobody@larkmoor.example']) {
    const codes = await Promise.all(
      Array.from({ length: 300 }, () => signIn(burst, randomBytes(32), { ...maren.account, address })),
    );
    expect(counted(codes)).toEqual({ 'wrong-password': 3, 'too-many-tries': 297 });
  }
}, 60_000);

test('of guesses at a recovery code, at a confirmation and at a reader’s password no more are judged', async () => {
  stopTheClock();
  const burst = browser('198.51.100.2');
  const recovery = await Promise.all(
    Array.from({ length: 60 }, () =>
      codeOf(
        burst(accountApi.startRecovery, { body: { address: maren.account.address, recoveryAuthKey: randomBytes(32) } }),
      ),
    ),
  );
  expect(counted(recovery)).toEqual({ 'wrong-recovery-code': 3, 'too-many-tries': 57 });
  const confirming = await Promise.all(
    Array.from({ length: 60 }, () =>
      codeOf(
        maren.client(accountApi.replaceRecoveryCode, {
          body: {
            currentAuthKey: randomBytes(32),
            recovery: { authKey: randomBytes(32), wrappedSecret: randomBytes(61) },
          },
        }),
      ),
    ),
  );
  expect(counted(confirming)).toEqual({ 'wrong-password': 4, 'too-many-tries': 56 });
  const reader = await Promise.all(
    Array.from({ length: 60 }, () =>
      codeOf(
        burst(registeredApi.signInReader, { body: { address: 'nobody@postbox.example', authKey: randomBytes(32) } }),
      ),
    ),
  );
  expect(counted(reader)).toEqual({ 'wrong-password': 3, 'too-many-tries': 57 });
}, 60_000);

test('what the leftmost entry of a header says is nobody’s place: another one each time is the same place', async () => {
  const fetcher = cookieFetch(house.origin);
  const codes: string[] = [];
  for (let count = 0; count < 5; count++) {
    const response = await fetcher(`${house.origin}/api/sign-in`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', 'X-Forwarded-For': `192.0.2.${count}, 198.51.100.3` },
      body: JSON.stringify({
        address: 'somebody@larkmoor.example',
        authKey: Buffer.alloc(32).toString('base64url'),
        device: '',
      }),
    });
    codes.push(((await response.json()) as { code: string }).code);
  }
  expect(codes.slice(0, 3)).toEqual(Array(3).fill('wrong-password'));
  expect(codes.slice(3)).toEqual(Array(2).fill('too-many-tries'));
});

test('delays for wrong passwords grow and stop growing', async () => {
  const { context } = house.server;
  const throttle = { purpose: 'test', who: 'somebody', free: 2 };
  const key = context.secrets.keyedHash('throttle/test', 'somebody');
  stopTheClock();
  /** Takes a try as soon as there is one, and says how long the next has to wait. */
  const waitAfterTry = async (): Promise<number> => {
    await takeTry(context, [throttle]);
    const [row] = await rows<{ until: Date }>(
      context.db,
      'SELECT blocked_until AS until FROM throttles WHERE key = $1',
      [key],
    );
    const wait = row!.until.getTime() - house.clock.now.getTime();
    house.clock.now = row!.until;
    return wait;
  };
  const waits: number[] = [];
  for (let tries = 0; tries < 6; tries++) waits.push(await waitAfterTry());
  await run(context.db, 'UPDATE throttles SET failures = 1000 WHERE key = $1', [key]);
  const longest = await waitAfterTry();
  expect(waits).toEqual([0, 0, 2000, 4000, 8000, 16_000]);
  expect(longest).toBe(MAX_DELAY_MS);
});

test('bursts from many places keep nobody out who has signed in before, and from a new place they wait seconds', async () => {
  for (let place = 0; place < 6; place++)
    await Promise.all(Array.from({ length: 6 }, () => signIn(browser(`198.51.101.${place}`))));
  expect(await signIn(browser('198.51.100.77', device()), maren.authKey)).toBe('in');
  // Wrong ones from that browser are its own: it has a few, and waits for seconds then.
  const own = browser('198.51.100.78', device());
  expect([await signIn(own), await signIn(own), await signIn(own, maren.authKey)]).toEqual([
    'wrong-password',
    'wrong-password',
    'in',
  ]);
  // A browser that nobody knows, from a place that did nothing wrong: slowed down, and let in.
  expect(await signIn(browser('203.0.113.9'), maren.authKey)).toBe('in');
}, 60_000);

test('a device’s cookie is worth nothing for anybody else, and can’t be made', async () => {
  const [name] = device().keys();
  for (const value of [...device().values(), `${'a'.repeat(22)}.${'b'.repeat(22)}`]) {
    const codes = await Promise.all(
      Array.from({ length: 10 }, () =>
        signIn(browser('198.51.100.90', new Map([[name!, value]])), randomBytes(32), {
          ...maren.account,
          address: 'ines.varga@larkmoor.example',
        }),
      ),
    );
    expect(counted(codes)['wrong-password'] ?? 0).toBeLessThanOrEqual(3);
  }
});

test('somebody else’s wrong digits don’t keep the owner of a mailbox from resetting, and work in no other browser', async () => {
  const { account } = await makeReaderAccount(crypto.randomUUID(), 'nine gulls on the breakwater');
  const { id, key, password } = account;
  const address = 'yard@saltmarsh.example';
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
    keySuite: 1,
    sealedPrivateKey: Buffer.from(key.sealedPrivateKey),
    knownBy: 'text',
    since: new Date(),
  });
  const digits = async (): Promise<string> => {
    await new Promise((done) => setTimeout(done, 300));
    const mail = house.world.store.mails.filter(({ mailbox }) => mailbox === address).at(-1)!;
    return (
      /Subject: (?:=\?utf-8\?B\?([\w+/=]+)|.*?)(\d{6})?/.exec(
        Buffer.from(mail.raw, 'base64').toString('latin1'),
      )?.[2] ?? /(\d{6})/.exec(Buffer.from(mail.raw, 'base64').toString('latin1'))![1]!
    );
  };
  const fresh = () => makeReaderAccount(crypto.randomUUID(), 'ten terns on the mole').then((made) => made.account);
  const attacker = browser('198.51.100.120');
  await attacker(registeredApi.startReset, { body: { address } });
  for (let guess = 0; guess < 12; guess++)
    await codeOf(attacker(registeredApi.finishReset, { body: { ...(await fresh()), address, code: '000000' } }));
  const owner = browser('203.0.113.40');
  await owner(registeredApi.startReset, { body: { address } });
  const code = await digits();
  // Whoever reads them over the owner's shoulder has another browser.
  expect(
    await codeOf(browser('203.0.113.41')(registeredApi.finishReset, { body: { ...(await fresh()), address, code } })),
  ).not.toBe('in');
  expect(await codeOf(owner(registeredApi.finishReset, { body: { ...(await fresh()), address, code } }))).toBe('in');
}, 60_000);

test('a mailbox is not flooded: other browsers wait ever longer, and the one that is known does not', async () => {
  const codes: string[] = [];
  for (let count = 0; count < 10; count++)
    codes.push(
      await codeOf(
        browser(`203.0.114.${count}`)(registeredApi.startReset, { body: { address: 'mira@saltmarsh.example' } }),
      ),
    );
  expect(codes.slice(0, 5)).toEqual(Array(5).fill('in'));
  expect(codes.slice(5)).toEqual(Array(5).fill('too-many-tries'));
});

test.each([
  ['192.0.2.7', '192.0.2.7'],
  ['::ffff:192.0.2.7', '192.0.2.7'],
  ['2001:db8:0:1::5', '2001:db8:0:1::/64'],
  ['2001:db8:0:1:ffff:2:3:4', '2001:db8:0:1::/64'],
  ['::1', '0:0:0:0::/64'],
  ['fe80::1%eth0', 'fe80:0:0:0::/64'],
  ['2001:DB8::1', '2001:db8:0:0::/64'],
])('%s is at %s', (ip, place) => expect(placeOf(ip)).toBe(place));

test('a phone is not flooded, by however many messages', async () => {
  const quiet = await openHouse({ UNDERLOCK_CODES_A_DAY: '4' });
  const sender = await quiet.worker('maren.oduya');
  const number = '+447700900590';
  const codes: string[] = [];
  for (let count = 0; count < 8; count++) {
    const sent = await send(
      sender,
      demoMessage({ files: [], to: [{ name: '', address: `r${count}@postbox.example` }] }),
      { phone: number },
    );
    const [{ id, readerShare }] = sent.dispatch.grants as [(typeof sent.dispatch.grants)[0]];
    codes.push(
      await quiet
        .visitor()(roomApi.sendPasscode, { params: { id }, body: { proof: await shareProof(readerShare) } })
        .then(
          () => 'sent',
          (problem: { code: string }) => problem.code,
        ),
    );
  }
  expect(codes.filter((code) => code === 'sent')).toHaveLength(5);
  expect(codes.at(-1)).toBe('too-many-tries');
  await quiet.stop();
}, 60_000);
