import fc from 'fast-check';
import { isAcceptableHashing, passwordKeys, RECOMMENDED_HASHING } from '../src/account/password';
import { makeRecoveryCode, readRecoveryCode, recoveryKeys } from '../src/account/recovery';
import { makeAccountSecret, unwrapSecret, vaultKey, wrapSecret } from '../src/account/secret';
import { type Bytes, randomBytes, toHex } from '../src/bytes';
import { openItem, sealItem } from '../src/vault/item';

const hashing = { ...RECOMMENDED_HASHING, salt: new Uint8Array(16).fill(7) };
const id = '11111111-1111-4111-8111-111111111111';

test('one password gives two keys that have nothing in common, the same each time', async () => {
  const [a, b, other] = await Promise.all([
    passwordKeys('tide table on the pier', hashing),
    passwordKeys('tide table on the pier', hashing),
    passwordKeys('tide table on the pieR', hashing),
  ]);
  expect(toHex(a.authKey)).toBe(toHex(b.authKey));
  expect(toHex(a.authKey)).not.toBe(toHex(other.authKey));
  const secret = makeAccountSecret();
  const wrapped = await wrapSecret(a.unlockKey, secret, id);
  expect(await unwrapSecret(b.unlockKey, wrapped, id)).toEqual(secret);
  await expect(unwrapSecret(other.unlockKey, wrapped, id)).rejects.toMatchObject({ code: 'not-opened' });
  await expect(unwrapSecret(b.unlockKey, wrapped, 'another account')).rejects.toMatchObject({ code: 'not-opened' });
  // What the server is sent does not unwrap.
  const key = await crypto.subtle.importKey('raw', a.authKey, 'AES-GCM', false, ['decrypt']);
  await expect(unwrapSecret(key, wrapped, id)).rejects.toMatchObject({ code: 'not-opened' });
});

test('a password typed on another keyboard is the same password (NFKC)', async () => {
  expect(toHex((await passwordKeys('ﬁsh-Å-hook-line', hashing)).authKey)).toBe(
    toHex((await passwordKeys('fish-A\u030a-hook-line', hashing)).authKey),
  );
});

test.each([
  [{ memoryKiB: 1024 }],
  [{ iterations: 1 }],
  [{ salt: new Uint8Array(8) as Bytes }],
  [{ memoryKiB: 8_000_000 }],
  [{ iterations: 500 }],
])('a server can’t talk the browser into %j', async (change) => {
  expect(isAcceptableHashing({ ...hashing, ...change })).toBe(false);
  await expect(passwordKeys('x', { ...hashing, ...change })).rejects.toThrow(RangeError);
});

test('the vault’s key can’t be read out, only used', async () => {
  const key = await vaultKey(makeAccountSecret());
  expect(key.extractable).toBe(false);
  await expect(crypto.subtle.exportKey('raw', key)).rejects.toThrow();
});

test('a vault item opens as itself and as no other', async () => {
  const key = await vaultKey(makeAccountSecret());
  const value = { subject: 'Fitness papers', list: [1, 2] };
  const sealed = await sealItem(key, 'draft', id, value);
  expect(await openItem(key, 'draft', id, sealed)).toEqual(value);
  await expect(openItem(key, 'sent', id, sealed)).rejects.toMatchObject({ code: 'not-opened' });
  await expect(openItem(key, 'draft', 'other', sealed)).rejects.toMatchObject({ code: 'not-opened' });
  await expect(openItem(await vaultKey(makeAccountSecret()), 'draft', id, sealed)).rejects.toMatchObject({
    code: 'not-opened',
  });
  await expect(openItem(key, 'draft', id, sealed.subarray(0, 20))).rejects.toMatchObject({ code: 'malformed' });
});

describe('recovery code', () => {
  it('is seven groups of four and reads back as it was, in any case, with O, I and L for 0, 1 and 1', async () => {
    await fc.assert(
      fc.asyncProperty(fc.uint8Array({ minLength: 16, maxLength: 16 }), async (secret) => {
        const code = await makeRecoveryCode(() => secret as Bytes);
        expect(code).toMatch(/^([0-9A-HJKMNP-TV-Z]{4}-){6}[0-9A-HJKMNP-TV-Z]{4}$/);
        const typed = code.toLowerCase().replace(/-/g, ' ').replace(/0/g, 'o').replace(/1/g, 'l');
        expect(Buffer.from(await readRecoveryCode(typed)).equals(Buffer.from(secret))).toBe(true);
      }),
      { numRuns: 40 },
    );
  });
  it('notices a slip of the hand', async () => {
    const code = await makeRecoveryCode(() => new Uint8Array(16).fill(1) as Bytes);
    await expect(readRecoveryCode(code.slice(0, -5))).rejects.toMatchObject({ code: 'wrong-length' });
    await expect(readRecoveryCode(`${code.slice(0, -1)}!`)).rejects.toMatchObject({ code: 'wrong-character' });
    const swapped = code.startsWith('0') ? `4${code.slice(1)}` : `0${code.slice(1)}`;
    await expect(readRecoveryCode(swapped)).rejects.toMatchObject({ code: 'mistyped' });
  });
  it('wraps the secret under its own keys', async () => {
    const keys = await recoveryKeys(randomBytes(16));
    const secret = makeAccountSecret();
    expect(await unwrapSecret(keys.unlockKey, await wrapSecret(keys.unlockKey, secret, id), id)).toEqual(secret);
  });
});
