/** What is said of an OpenPGP key: each finding, its gravity, and who vouches. */
import { type Bytes, utf8 } from '../../src/bytes';
import { certified, revoked, revokedBy, withAddress, withEnd, withoutAddress } from '../../src/openpgp/change-key';
import { factsOf, mergedKeys, type OpenPgpKey, readOpenPgpKey, readSecretKey } from '../../src/openpgp/key';
import { type PrivateKey } from '../../src/openpgp/library';
import { checkApart, ringOf, signApart } from '../../src/openpgp/message';
import { makeOpenPgpKey } from '../../src/openpgp/make-key';
import { judgeKey, type KeyQuestion } from '../../src/openpgp/verdict';
import { Judges } from './judges';

const DAY = 86_400_000;
const born = new Date('2026-01-10T09:00:00Z');
const now = new Date('2026-11-25T12:00:00Z');
const later = (days: number): Date => new Date(born.getTime() + days * DAY);
const NILS = 'underwriting@northquay.example';

let secret: PrivateKey;
let key: OpenPgpKey;
let office: PrivateKey;
const facts = (one: PrivateKey): Promise<OpenPgpKey> => factsOf(one.toPublic());

beforeAll(async () => {
  secret = await readSecretKey(
    (await makeOpenPgpKey('wide', { name: 'Nils Rook', addresses: [NILS] }, born, later(700))).secret,
  );
  key = await facts(secret);
  office = await readSecretKey((await makeOpenPgpKey('wide', { name: 'Northquay', addresses: [] }, born)).secret);
});

const said = async (question: Partial<KeyQuestion> & Pick<KeyQuestion, 'key'>) => {
  const { level, findings } = await judgeKey({
    use: 'encrypt',
    address: NILS,
    now,
    compared: true,
    trusted: [],
    ...question,
  });
  return [level, ...findings.map(({ code }) => code)];
};

test('a compared key is valid for its address, another’s is not', async () => {
  expect(await said({ key })).toEqual(['valid']);
  expect(await said({ key, use: 'sign' })).toEqual(['valid']);
  expect(await said({ key, address: 'UNDERWRITING@northquay.example' })).toEqual(['valid']);
  expect(await said({ key, address: 'claims@northquay.example' })).toEqual(['stop', 'address-differs']);
  expect(await said({ key, compared: false })).toEqual(['unchecked', 'not-vouched-for']);
});

test('whose word the office takes makes it valid, for the address that was vouched for, while that key is good', async () => {
  const vouched = await factsOf(await certified(secret.toPublic(), office, later(5)));
  const trusted = [await facts(office)];
  expect(await said({ key: vouched, compared: false, trusted })).toEqual(['valid']);
  expect(
    (await judgeKey({ key: vouched, use: 'encrypt', address: NILS, now, compared: false, trusted })).vouchedBy.map(
      ({ fingerprint }) => fingerprint,
    ),
  ).toEqual([office.getFingerprint()]);
  expect(
    await said({
      key: vouched,
      compared: false,
      trusted: [await facts(await revoked(office, 'keyCompromise', later(9)))],
    }),
  ).toEqual(['unchecked', 'not-vouched-for']);
  expect(await said({ key, compared: false, trusted })).toEqual(['unchecked', 'not-vouched-for']);
  // An address added after the vouching is not vouched for.
  const more = await facts(
    await withAddress(await secret.update(vouched.material), 'Nils Rook', 'nils@northquay.example', later(10)),
  );
  expect(await said({ key: more, address: 'nils@northquay.example', compared: false, trusted })).toEqual([
    'unchecked',
    'not-vouched-for',
  ]);
  expect(await said({ key: more, compared: false, trusted })).toEqual(['valid']);
});

test('its end is said, and what was signed before it stays good', async () => {
  const over = await facts(await withEnd(secret, later(100), later(1)));
  expect(await said({ key: over })).toEqual(['stop', 'expired']);
  expect(await said({ key: over, use: 'sign', at: later(50) })).toEqual(['valid', 'expired-since']);
  expect(await said({ key: over, use: 'sign', at: later(150) })).toEqual(['stop', 'expired']);
  expect(await said({ key, now: new Date(born.getTime() - DAY) })).toEqual(['stop', 'not-yet-valid']);
  const longer = await facts(await withEnd(await withEnd(secret, later(100), later(1)), undefined, later(200)));
  expect(longer.expiresAt).toBeUndefined();
  expect(await said({ key: longer })).toEqual(['valid']);
});

test('a key revoked because it is in other hands is worth nothing, ever; one replaced stays good for what it signed', async () => {
  for (const reason of ['keyCompromise', 'unspecified'] as const)
    expect(
      await said({ key: await facts(await revoked(secret, reason, later(200))), use: 'sign', at: later(50) }),
    ).toEqual(['stop', 'revoked']);
  for (const reason of ['superseded', 'cessationOfOperation'] as const) {
    const gone = await facts(await revoked(secret, reason, later(200)));
    expect(gone.revocation).toEqual({ at: later(200), reason });
    expect(await said({ key: gone, use: 'sign', at: later(50) })).toEqual(['valid', 'revoked-since']);
    expect(await said({ key: gone, use: 'sign', at: later(250) })).toEqual(['stop', 'revoked']);
    expect(await said({ key: gone })).toEqual(['stop', 'revoked']);
  }
});

test('another part that is weak, revoked or over makes the part that serves no weaker', async () => {
  const encrypting = key.parts.find(({ encrypt }) => encrypt)!;
  const old = {
    ...encrypting,
    fingerprint: 'a'.repeat(40),
    algorithm: 'RSA 1024',
    weak: true,
    weakHash: true,
    createdAt: born,
  };
  const with_ = (part: typeof old): OpenPgpKey => ({
    ...key,
    parts: [...key.parts.map((one) => (one === encrypting ? { ...one, createdAt: later(1) } : one)), part],
  });
  expect(await said({ key: with_({ ...old, revocation: { at: later(2), reason: 'superseded' } }) })).toEqual(['valid']);
  expect(await said({ key: with_({ ...old, expiresAt: later(3) }) })).toEqual(['valid']);
  expect(await said({ key: with_(old) })).toEqual(['valid']);
  expect(await said({ key: with_({ ...old, createdAt: later(5) }) })).toEqual(['stop', 'too-weak']);
  // A signature is judged by the part that made it.
  const signing = { ...old, sign: true, encrypt: false };
  expect(
    await said({ key: with_(signing), use: 'sign', part: key.parts.find(({ sign }) => sign)!.fingerprint }),
  ).toEqual(['valid']);
  expect(await said({ key: with_(signing), use: 'sign', part: signing.fingerprint })).toEqual(['stop', 'too-weak']);
});

test('a signature whose algorithm is not supported here is said to be that, and never changed', async () => {
  const judges = new Judges();
  judges.write('nils.sec', secret.armor());
  const content = utf8('The papers.');
  judges.write('content', content);
  const made = judges.pgpy(
    'key, _ = pgpy.PGPKey.from_file("nils.sec")\nsig = key.sign(open("content","rb").read(), hash=HashAlgorithm.SHA224)\nopen("short.sig","wb").write(bytes(sig))\nprint("made")',
  );
  expect(made.trim()).toBe('made');
  const ring = ringOf([key]);
  expect((await checkApart(judges.read('short.sig') as Bytes, content, ring)).map(({ kind }) => kind)).toEqual([
    'unsupported',
  ]);
  expect(
    (await checkApart(judges.read('short.sig') as Bytes, utf8('Other papers.'), ring)).map(({ kind }) => kind),
  ).toEqual(['changed']);
});

test('the paper made at birth revokes it, and no other key', async () => {
  const made = await makeOpenPgpKey('wide', { name: 'Una', addresses: ['una@skerry.example'] }, born);
  const one = await readOpenPgpKey(made.secret);
  expect((await factsOf(await revokedBy(one.material, made.revocation, now))).revocation).toMatchObject({
    reason: 'unspecified',
  });
  await expect(revokedBy(key.material, made.revocation, now)).rejects.toMatchObject({ code: 'malformed' });
});

test('addresses come and go, and the last one stays', async () => {
  const two = await withAddress(secret, 'Nils Rook', 'nils@northquay.example', later(3));
  expect((await facts(two)).users.map(({ address, retiredAt }) => [address, retiredAt])).toEqual([
    [NILS, undefined],
    ['nils@northquay.example', undefined],
  ]);
  const one = await facts(await withoutAddress(two, NILS, later(4)));
  expect(one.users.filter(({ retiredAt }) => retiredAt === undefined).map(({ address }) => address)).toEqual([
    'nils@northquay.example',
  ]);
  expect(await said({ key: one })).toEqual(['stop', 'address-differs']);
  expect(await said({ key: one, address: 'nils@northquay.example' })).toEqual(['valid']);
  expect(one.expiresAt).toEqual(key.expiresAt);
  await expect(withoutAddress(secret, NILS, later(4))).rejects.toBeInstanceOf(RangeError);
});

test('a poorer copy takes nothing away', async () => {
  const gone = await facts(await revoked(secret, 'superseded', later(200)));
  for (const [a, b] of [
    [gone, key],
    [key, gone],
  ] as const)
    expect((await mergedKeys(a.bytes, b.bytes)).revocation).toMatchObject({ reason: 'superseded' });
  await expect(mergedKeys(key.bytes, (await facts(office)).bytes)).rejects.toMatchObject({ code: 'malformed' });
});

test('what a signing part signed counts while it was in force, and never once it is in other hands', async () => {
  const withPart = await (await readSecretKey(secret.write())).addSubkey({ sign: true, date: later(2) });
  const part = withPart.subkeys.at(-1)!;
  const text = utf8('The papers.');
  const { signature } = await signApart(text, withPart, later(50));
  const checked = async (key_: PrivateKey): Promise<string[]> =>
    (await checkApart(signature, text, ringOf([await facts(key_)]))).map(({ kind }) => kind);
  expect(await checked(withPart)).toEqual(['signed']);
  const revokedAt = async (flag: number, at: Date): Promise<PrivateKey> => {
    const changed = await readSecretKey(withPart.write());
    changed.subkeys[changed.subkeys.length - 1] = await changed.subkeys
      .at(-1)!
      .revoke(changed.keyPacket as never, { flag }, at);
    return changed;
  };
  expect(part.getKeyID().toHex()).not.toBe(secret.getKeyID().toHex());
  expect(await checked(await revokedAt(2, later(60)))).toEqual(['unsupported']);
  expect(await checked(await revokedAt(1, later(60)))).toEqual(['signed']);
  expect(await checked(await revokedAt(1, later(40)))).toEqual(['unsupported']);
});

describe('keys that pretend', () => {
  const joined = (...parts: Uint8Array[]): Uint8Array => new Uint8Array(parts.flatMap((part) => [...part]));

  test('a user id that its holder never confirmed says nothing', async () => {
    const { users } = (
      await readOpenPgpKey(
        (await makeOpenPgpKey('wide', { name: 'x', addresses: ['director@larkmoor.example'] }, born)).secret,
      )
    ).material;
    // The stranger's user id and signature, put behind ours.
    const forged = await readOpenPgpKey(joined(key.bytes.slice(0, key.bytes.length), ...[]));
    forged.material.users.push(users[0]!);
    const facts_ = await factsOf(forged.material);
    expect(facts_.users.map(({ address }) => address)).toEqual([NILS]);
    expect(await said({ key: facts_, address: 'director@larkmoor.example' })).toEqual(['stop', 'address-differs']);
  });

  test('a subkey somebody hung on it neither signs nor opens for it', async () => {
    const other = await readOpenPgpKey(
      (await makeOpenPgpKey('wide', { name: 'x', addresses: ['x@skerry.example'] }, born)).secret,
    );
    const forged = await readOpenPgpKey(key.bytes);
    forged.material.subkeys.push(...other.material.subkeys);
    expect((await factsOf(forged.material)).parts).toHaveLength(key.parts.length);
  });

  test('a name that holds an address is no name', async () => {
    const one = await readOpenPgpKey(
      (await makeOpenPgpKey('wide', { name: 'director@larkmoor.example', addresses: ['x@skerry.example'] }, born))
        .secret,
    );
    expect(one.users).toMatchObject([{ name: '', address: 'x@skerry.example' }]);
    expect(await said({ key: one, address: 'director@larkmoor.example' })).toEqual(['stop', 'address-differs']);
  });

  test('text without keys, a message, rubbish: typed errors', async () => {
    for (const bytes of [
      utf8('Good morning'),
      Uint8Array.of(0xc1, 0xff),
      Uint8Array.of(0x99, 0x01, 0x0d, 4),
      new Uint8Array(0),
    ])
      await expect(readOpenPgpKey(bytes)).rejects.toMatchObject({ name: 'OpenPgpError' });
    await expect(readOpenPgpKey(new Uint8Array(600 * 1024).fill(0xb4))).rejects.toMatchObject({ code: 'too-large' });
  });
});

describe('weak keys', () => {
  const judges = new Judges();
  const made = async (bits: number, hash: string): Promise<OpenPgpKey> => {
    judges.pgpy(`
key = pgpy.PGPKey.new(PubKeyAlgorithm.RSAEncryptOrSign, ${bits})
uid = pgpy.PGPUID.new("Desk", email="desk@quayarchive.example")
key.add_uid(uid, usage={KeyFlags.Sign, KeyFlags.EncryptCommunications}, hashes=[HashAlgorithm.SHA256], ciphers=[SymmetricKeyAlgorithm.AES256], compression=[CompressionAlgorithm.Uncompressed], hash=HashAlgorithm.${hash})
open("weak.bin", "wb").write(bytes(key.pubkey))`);
    return readOpenPgpKey(judges.read('weak.bin'));
  };
  test.each([
    [1024, 'SHA256', 'key'],
    [2048, 'SHA1', 'hash'],
  ] as const)('RSA of %i bits under %s is too weak: its %s', async (bits, hash, what) => {
    const { level, findings } = await judgeKey({
      key: await made(bits, hash),
      use: 'encrypt',
      address: 'desk@quayarchive.example',
      now: new Date(),
      compared: true,
      trusted: [],
    });
    expect(level).toBe('stop');
    expect(findings[0]).toMatchObject({ code: 'too-weak', what });
  });
});
