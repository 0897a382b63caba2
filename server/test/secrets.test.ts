/**
 * The server's secret is changed while everything goes on; what a copied database alone gives opens nothing, and lets
 * nobody guess at a password.
 */
import './real-hashing';
import { execFileSync } from 'node:child_process';
import * as accountApi from '@under-lock/contract/account';
import * as roomApi from '@under-lock/contract/room';
import { isCommonPassword } from '@under-lock/core/account/common-passwords';
import { passwordKeys, RECOMMENDED_HASHING } from '@under-lock/core/account/password';
import { randomBytes } from '@under-lock/core/bytes';
import { joinKey } from '@under-lock/core/locks/room/grant';
import { invite } from '../src/account/account';
import { isSealedText } from '../src/account/credentials';
import { requireUncommon } from '../src/account/uncommon';
import { rows, run } from '../src/data/database';
import { reseal } from '../src/reseal';
import { createSecrets } from '../src/secrets';
import { ANSWER, demoMessage, type House, identified, openHouse, send, type Worker } from './house';

const [FIRST, SECOND] = ['A'.repeat(43), `${'B'.repeat(42)}A`];
const dump = (url: string): string =>
  execFileSync('/usr/lib/postgresql/15/bin/pg_dump', ['--inserts', url], { maxBuffer: 1 << 30 }).toString('latin1');

async function read(house: House, sent: Awaited<ReturnType<typeof send>>, answer?: string): Promise<void> {
  const [{ id, readerShare }] = sent.dispatch.grants as [(typeof sent.dispatch.grants)[0]];
  const visitor = await identified(house, { id, readerShare }, answer);
  expect(
    await joinKey(readerShare, await visitor(roomApi.openRoom, { params: { id } }), {
      grantId: id,
      messageId: sent.id,
    }),
  ).toEqual(sent.contentKey.key);
}

test('the secret is changed under load: nothing fails before, while or after, and then the old one is worth nothing', async () => {
  const settings: Record<string, string> = { UNDERLOCK_SECRET: FIRST };
  const house = await openHouse(settings);
  const maren = await house.worker('maren.oduya');
  const held = [];
  for (let count = 0; count < 6; count++)
    held.push(
      await send(maren, demoMessage({ files: [] }), {
        phone: `+4477009004${10 + count}`,
        terms: { question: count === 5 },
      }),
    );
  settings.UNDERLOCK_SECRET = SECOND;
  settings.UNDERLOCK_OLD_SECRETS = FIRST;
  await house.restart();
  // Read, sent and signed in to, while the shares are being brought under the new secret.
  const signIn = () =>
    house.visitor()(accountApi.signIn, {
      body: { address: maren.account.address, authKey: maren.authKey, device: 'x' },
    });
  await Promise.all([
    (async () => {
      for (const one of held.slice(0, 3)) await read(house, one);
    })(),
    reseal(house.server.context),
    reseal(house.server.context),
    signIn(),
    send(maren, demoMessage({ files: [] })),
  ]);
  for (let rest = 1; rest > 0;) rest = await reseal(house.server.context);
  settings.UNDERLOCK_OLD_SECRETS = '';
  delete settings.UNDERLOCK_OLD_SECRETS;
  await house.restart();
  for (const one of held.slice(3, 5)) await read(house, one);
  await read(house, held[5]!, ANSWER);
  await signIn();
  await send(maren, demoMessage({ files: [] }));
  const [grant] = await rows<{ house_share: Buffer }>(
    house.server.context.db,
    'SELECT house_share FROM grants WHERE id = $1',
    [held[3]!.dispatch.grants[0]!.id],
  );
  const old = await createSecrets(Buffer.from(FIRST, 'base64url'));
  await expect(
    old.openBytes(grant!.house_share, `grant/${held[3]!.dispatch.grants[0]!.id}/house-share`),
  ).rejects.toMatchObject({ name: 'SealError' });
  await house.stop();
}, 120_000);

test.each([0, 1, 31, 32, 33, 4050, 4100, 200_000])(
  '%d octets open as they were sealed, and under nothing else',
  async (length) => {
    const secrets = await createSecrets(Buffer.from(FIRST, 'base64url'));
    const plain = new Uint8Array(Buffer.alloc(length, 7));
    const sealed = await secrets.sealBytes(plain, 'here');
    expect(Buffer.from(await secrets.openBytes(sealed, 'here')).equals(plain)).toBe(true);
    const bent = Buffer.from(sealed);
    bent[bent.length - 1]! ^= 1;
    const refused = { name: 'SealError', code: 'not-opened' };
    await expect(secrets.openBytes(sealed, 'there')).rejects.toMatchObject(refused);
    await expect(secrets.openBytes(bent, 'here')).rejects.toMatchObject(refused);
  },
);

describe('a copied database', () => {
  let house: House;
  let maren: Worker;
  const salt = randomBytes(16);
  const wrapped = randomBytes(61);
  beforeAll(async () => {
    house = await openHouse();
    const { token } = await invite(house.server.context, {
      address: 'maren.oduya@larkmoor.example',
      name: 'Maren',
      title: '',
      role: 'worker',
    });
    const client = house.visitor();
    const authKey = randomBytes(32);
    const { account } = await client(accountApi.setUpAccount, {
      body: {
        token: new Uint8Array(Buffer.from(token, 'base64url')),
        device: 'x',
        password: { hashing: { ...RECOMMENDED_HASHING, salt }, authKey, wrappedSecret: wrapped },
        recovery: { authKey: randomBytes(32), wrappedSecret: wrapped },
      },
    });
    maren = { client, account, authKey };
  }, 60_000);
  afterAll(() => house.stop());

  test('holds neither salts nor wrapped secrets nor hashes of proofs, in any spelling', () => {
    const text = dump(house.databaseUrl);
    for (const secret of [salt, wrapped])
      for (const spelled of [
        Buffer.from(secret).toString('hex'),
        Buffer.from(secret).toString('base64').replace(/=+$/, ''),
        Buffer.from(secret).toString('base64url'),
      ])
        expect(text.includes(spelled)).toBe(false);
    expect(text).not.toContain('$argon2id$');
    expect(text).toContain('maren.oduya@larkmoor.example');
  });

  test('of the time before is sealed by the next round, and works before and after', async () => {
    const { db } = house.server.context;
    const session = await maren.client(accountApi.getSession);
    await run(
      db,
      `UPDATE accounts SET hashing = jsonb_set(hashing, '{salt}', to_jsonb($1::text)), wrapped_secret = $2`,
      [Buffer.from(salt).toString('base64url'), Buffer.from(Uint8Array.of(1, ...wrapped.subarray(1)))],
    );
    expect((await maren.client(accountApi.getSession)).session!.hashing).toEqual(session.session!.hashing);
    expect(await reseal(house.server.context)).toBeGreaterThan(0);
    expect(await reseal(house.server.context)).toBe(0);
    const [row] = await rows<{ hashing: { salt: string }; wrapped_secret: Buffer }>(
      db,
      'SELECT hashing, wrapped_secret FROM accounts',
    );
    expect([isSealedText(row!.hashing.salt), row!.wrapped_secret[0]]).toEqual([true, 2]);
    expect((await maren.client(accountApi.getSession)).session!.hashing).toEqual(session.session!.hashing);
  });
});

test('the server refuses the most common passwords without ever seeing one, and takes another', async () => {
  for (const [password, taken] of [
    ['password1234', false],
    ['Welcome12345', false],
    ['tide table on the pier', true],
  ] as const) {
    const hashing = { ...RECOMMENDED_HASHING, salt: randomBytes(16) };
    const { authKey } = await passwordKeys(password, hashing);
    const outcome = await requireUncommon({ hashing, authKey }, 16).then(
      () => true,
      (problem: { data: { detail: string } }) => problem.data.detail,
    );
    if (taken) expect(outcome).toBe(true);
    else expect(outcome).toMatch(/Many people have this password/);
  }
  // Nor can it be kept busy with a hashing of somebody's own making.
  await expect(
    requireUncommon(
      {
        hashing: { ...RECOMMENDED_HASHING, memoryKiB: 1_048_576, iterations: 20, salt: randomBytes(16) },
        authKey: randomBytes(32),
      },
      16,
    ),
  ).rejects.toMatchObject({ code: 'invalid-input' });
}, 60_000);

test.each([
  'password1234',
  'Password2026!',
  'passwordpassword',
  '111122223333',
  'abcdefghijkl',
  'qwertyqwerty',
  '1qaz2wsx3edc',
  'Welcome-12345',
  'Unbelievable!',
  'P@ssw0rd1234',
])('%s is known for a common one', (password) => expect(isCommonPassword(password)).toBe(true));
test.each([
  'tide table on the pier',
  'seven knots by lantern',
  'harbour ledger in ink',
  'seven lanterns at low tide',
  'xkq7-tmm2-paqe',
])('%s is not', (password) => expect(isCommonPassword(password)).toBe(false));

test('every message to come is read as before, whichever secret it is under', async () => {
  const [one, both] = [
    await createSecrets(Buffer.from(FIRST, 'base64url')),
    await createSecrets(Buffer.from(SECOND, 'base64url'), [Buffer.from(FIRST, 'base64url')]),
  ];
  const sealed = await one.sealText('by the pier', 'a');
  expect(await both.openText(sealed, 'a')).toBe('by the pier');
  await expect(both.openText(sealed, 'b')).rejects.toMatchObject({ code: 'not-opened' });
  expect(both.matches(one.keyedHash('p', 'x'), 'p', 'x')).toBe(true);
  expect(both.matches(one.keyedHash('p', 'x'), 'p', 'y')).toBe(false);
});
