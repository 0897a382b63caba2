/** OpenPGP both ways: what we make two other implementations read, what they make we read. */
import { utf8 } from '../../src/bytes';
import { armoured, onlyBlock } from '../../src/openpgp/armour';
import { openPgpKeysIn, secretKeysIn } from '../../src/openpgp/in-file';
import { factsOf, readOpenPgpKey, readSecretKey, type OpenPgpKey } from '../../src/openpgp/key';
import { type PrivateKey } from '../../src/openpgp/library';
import {
  lockedBackup,
  makeOpenPgpKey,
  OPENPGP_KINDS,
  type OpenPgpKind,
  unlockedSecret,
} from '../../src/openpgp/make-key';
import { checkApart, openMessage, ringOf, sealMessage, signApart } from '../../src/openpgp/message';
import { revoked, withEnd } from '../../src/openpgp/change-key';
import { Judges } from './judges';

const judges = new Judges();
const now = new Date(Date.now() - 60_000);
const content = utf8('Content-Type: text/plain; charset=utf-8\r\n\r\nThe medical papers of Pell Anders, Łódź.\r\n');

interface Ours {
  secret: PrivateKey;
  key: OpenPgpKey;
  secretFile: string;
  publicFile: string;
}
const ours = new Map<OpenPgpKind, Ours>();

async function kept(name: string, bytes: Uint8Array): Promise<Ours> {
  const secret = await readSecretKey(bytes);
  const key = await readOpenPgpKey(bytes);
  return {
    secret,
    key,
    secretFile: judges.write(`${name}.sec`, armoured('PRIVATE KEY BLOCK', bytes)),
    publicFile: judges.write(`${name}.pub`, armoured('PUBLIC KEY BLOCK', key.bytes)),
  };
}

beforeAll(async () => {
  for (const kind of OPENPGP_KINDS)
    ours.set(
      kind,
      await kept(
        kind,
        (
          await makeOpenPgpKey(
            kind,
            { name: 'Maren Oduya', addresses: ['maren.oduya@larkmoor.example', 'crew@larkmoor.example'] },
            now,
            new Date(now.getTime() + 365 * 86_400_000),
          )
        ).secret,
      ),
    );
});

/** The kinds they read, too: version 6 is newer than both. */
const WIDE: readonly OpenPgpKind[] = ['wide', 'rsa'];

describe.each(WIDE)('our %s key', (kind) => {
  const mine = (): Ours => ours.get(kind)!;

  test('sqop encrypts and signs with it, and we open what it made', async () => {
    const { code, out, said } = judges.sqop(
      ['encrypt', `--sign-with=${mine().secretFile}`, mine().publicFile],
      content,
    );
    expect([code, said]).toEqual([0, '']);
    const opened = await openMessage(onlyBlock(out, 'MESSAGE')!, [mine().secret], ringOf([mine().key]));
    expect(opened.content).toEqual(content);
    expect(opened.encrypted).toMatchObject({
      cipher: 'AES-256',
      newest: false,
      recipients: 1,
      openedWith: mine().key.fingerprint,
    });
    expect(opened.checks).toMatchObject([{ kind: 'signed', key: { fingerprint: mine().key.fingerprint } }]);
  });

  test('sqop opens what we seal, and finds the signature right', async () => {
    const sealed = armoured(
      'MESSAGE',
      await sealMessage(content, { signer: mine().secret, recipients: [mine().key], date: now }),
    );
    const { code, out } = judges.sqop(
      ['decrypt', `--verify-out=${kind}.verified`, `--verify-with=${mine().publicFile}`, mine().secretFile],
      sealed,
    );
    expect(code).toBe(0);
    expect(out).toEqual(content);
    expect(new TextDecoder().decode(judges.read(`${kind}.verified`)).toLowerCase()).toContain(mine().key.fingerprint);
  });

  test('PGPy opens what we seal, and finds the signature right', async () => {
    judges.write(
      `${kind}.msg`,
      armoured('MESSAGE', await sealMessage(content, { signer: mine().secret, recipients: [mine().key], date: now })),
    );
    const said = judges.pgpy(`
key, _ = pgpy.PGPKey.from_file("${kind}.sec")
message = key.decrypt(pgpy.PGPMessage.from_file("${kind}.msg"))
data = message.message
open("${kind}.out", "wb").write(data if isinstance(data, (bytes, bytearray)) else data.encode())
print(bool(key.pubkey.verify(message)))`);
    expect(said.trim()).toBe('True');
    expect(judges.read(`${kind}.out`)).toEqual(content);
  });

  test('we open what PGPy seals, and check what it signs', async () => {
    judges.pgpy(`
key, _ = pgpy.PGPKey.from_file("${kind}.sec")
message = pgpy.PGPMessage.new(b"from another library")
message |= key.sign(message)
open("${kind}.theirs", "w").write(str(key.pubkey.encrypt(message)))`);
    const opened = await openMessage(
      onlyBlock(judges.read(`${kind}.theirs`), 'MESSAGE')!,
      [mine().secret],
      ringOf([mine().key]),
    );
    expect(new TextDecoder().decode(opened.content)).toBe('from another library');
    expect(opened.checks).toMatchObject([{ kind: 'signed' }]);
  });

  test('signatures apart are right both ways, and wrong over anything else', async () => {
    const signature = armoured('SIGNATURE', (await signApart(content, mine().secret, now)).signature);
    const file = judges.write(`${kind}.sig`, signature);
    expect(judges.sqop(['verify', file, mine().publicFile], content).code).toBe(0);
    expect(judges.sqop(['verify', file, mine().publicFile], 'something else').code).not.toBe(0);
    const theirs = onlyBlock(judges.sqop(['sign', mine().secretFile], content).out, 'SIGNATURE')!;
    expect(await checkApart(theirs, content, ringOf([mine().key]))).toMatchObject([{ kind: 'signed' }]);
    expect(await checkApart(theirs, utf8('something else'), ringOf([mine().key]))).toMatchObject([{ kind: 'changed' }]);
    expect(await checkApart(theirs, content, ringOf([]))).toMatchObject([{ kind: 'no-key' }]);
  });

  test('a backup opens with its passphrase in both, and in neither with another', async () => {
    const backup = await lockedBackup(mine().secret, 'gulls over the weir');
    judges.write(`${kind}.backup`, backup);
    const script = (passphrase: string) => `
key, _ = pgpy.PGPKey.from_file("${kind}.backup")
assert key.is_protected
try:
    with key.unlock("${passphrase}"): print("open")
except pgpy.errors.PGPDecryptionError: print("closed")`;
    expect(judges.pgpy(script('gulls over the weir')).trim()).toBe('open');
    expect(judges.pgpy(script('gulls under the weir')).trim()).toBe('closed');
    judges.write('pass', 'gulls over the weir');
    const sealed = armoured(
      'MESSAGE',
      await sealMessage(content, { signer: undefined, recipients: [mine().key], date: now }),
    );
    expect(judges.sqop(['decrypt', '--with-key-password=pass', judges.path(`${kind}.backup`)], sealed)).toMatchObject({
      code: 0,
    });
    const [locked] = await secretKeysIn(backup);
    await expect(unlockedSecret(locked!, 'gulls under the weir')).rejects.toMatchObject({ code: 'wrong-passphrase' });
    expect((await unlockedSecret(locked!, 'gulls over the weir')).isDecrypted()).toBe(true);
  });

  test('sqop believes none of its signatures once it is revoked, and encrypts to it only until it expires', async () => {
    const gone = await kept(`${kind}-revoked`, (await revoked(mine().secret, 'keyCompromise', new Date())).write());
    expect(gone.key.revocation).toMatchObject({ reason: 'keyCompromise' });
    const file = judges.write(
      `${kind}-gone.sig`,
      armoured('SIGNATURE', (await signApart(content, mine().secret, now)).signature),
    );
    expect(judges.sqop(['verify', file, mine().publicFile], content).code).toBe(0);
    expect(judges.sqop(['verify', file, gone.publicFile], content).code).not.toBe(0);
    const over = await kept(
      `${kind}-over`,
      (await withEnd(mine().secret, new Date(Date.now() - 1000), new Date(Date.now() - 5_000))).write(),
    );
    expect(over.key.expiresAt!.getTime()).toBeLessThan(Date.now());
    expect(judges.sqop(['encrypt', over.publicFile], content).code).not.toBe(0);
    const longer = await kept(
      `${kind}-longer`,
      (await withEnd(over.secret, new Date(Date.now() + 86_400_000), new Date())).write(),
    );
    expect(judges.sqop(['encrypt', longer.publicFile], content).code).toBe(0);
  });
});

test('what is encrypted to several opens for each of them, and for nobody else', async () => {
  const [wide, rsa, newest] = (['wide', 'rsa', 'newest'] as const).map((kind) => ours.get(kind)!) as [Ours, Ours, Ours];
  const sealed = await sealMessage(content, { signer: undefined, recipients: [wide.key, rsa.key], date: now });
  for (const { secret } of [wide, rsa])
    expect((await openMessage(sealed, [secret], ringOf([]))).content).toEqual(content);
  await expect(openMessage(sealed, [newest.secret], ringOf([]))).rejects.toMatchObject({ code: 'not-for-us' });
  for (const { secretFile } of [wide, rsa])
    expect(judges.sqop(['decrypt', secretFile], armoured('MESSAGE', sealed))).toMatchObject({ code: 0 });
});

test('the newest packets are used where everybody reads them, and only there', async () => {
  const newest = ours.get('newest')!;
  const both = await sealMessage(content, { signer: newest.secret, recipients: [newest.key], date: now });
  expect((await openMessage(both, [newest.secret], ringOf([newest.key]))).encrypted).toMatchObject({ newest: true });
  // The sender's own key is no reader whose program has to be asked.
  const wide = ours.get('wide')!;
  const own = await sealMessage(content, { signer: wide.secret, recipients: [newest.key], own: wide.key, date: now });
  for (const who of [newest, wide])
    expect((await openMessage(own, [who.secret], ringOf([wide.key]))).encrypted).toMatchObject({
      newest: true,
      recipients: 2,
    });
  const mixed = await sealMessage(content, {
    signer: newest.secret,
    recipients: [newest.key, ours.get('wide')!.key],
    date: now,
  });
  expect((await openMessage(mixed, [ours.get('wide')!.secret], ringOf([newest.key]))).encrypted).toMatchObject({
    newest: false,
  });
});

test('keys of others are read: sqop’s and PGPy’s, several in one file', async () => {
  const theirs = judges.sqop(['generate-key', 'Nils Rook <claims@northquay.example>']).out;
  judges.pgpy(`
key = pgpy.PGPKey.new(PubKeyAlgorithm.RSAEncryptOrSign, 2048)
uid = pgpy.PGPUID.new("Nils Rook", email="claims@northquay.example")
key.add_uid(uid, usage={KeyFlags.Sign, KeyFlags.EncryptCommunications, KeyFlags.Certify}, hashes=[HashAlgorithm.SHA256], ciphers=[SymmetricKeyAlgorithm.AES256], compression=[CompressionAlgorithm.Uncompressed])
open("pgpy.sec", "w").write(str(key)); open("pgpy.bin", "wb").write(bytes(key.pubkey))`);
  const joined = new Uint8Array([
    ...utf8('Here they are:\n\n'),
    ...theirs,
    ...utf8('\nand the old one\n'),
    ...judges.read('pgpy.sec'),
  ]);
  const found = await openPgpKeysIn(joined);
  expect(found.map(({ users }) => users.map(({ address, name }) => [name, address]))).toEqual([
    [['Nils Rook', 'claims@northquay.example']],
    [['Nils Rook', 'claims@northquay.example']],
  ]);
  expect(await secretKeysIn(joined)).toHaveLength(2);
  expect((await openPgpKeysIn(judges.read('pgpy.bin')))[0]!.parts).toMatchObject([
    { algorithm: 'RSA 2048', sign: true, encrypt: true },
  ]);
  const [first] = await secretKeysIn(theirs);
  expect(
    (await factsOf(first!.toPublic())).parts.map(({ algorithm, sign, encrypt }) => [algorithm, sign, encrypt]),
  ).toEqual(expect.arrayContaining([['X25519', false, true]]));
});
