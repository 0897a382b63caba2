/**
 * PKCS#12 both ways: files of OpenSSL, of a python library and of the public test material open here; ours open there.
 */
import { execFileSync } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { addressesOf } from '../../src/certificate/certificate';
import { Pkcs12Error } from '../../src/key-files/pkcs12/errors';
import { MAX_ROUNDS, readPkcs12 } from '../../src/key-files/pkcs12/read';
import { isPortablePassword } from '../../src/key-files/pkcs12/password';
import { writePkcs12 } from '../../src/key-files/pkcs12/write';
import { Openssl } from './openssl';
import { PKITS, pkitsNames } from './pkits';

const openssl = new Openssl();
const root = openssl.holder('root');
const people = [
  openssl.holder('rsa', 'rsa', root),
  openssl.holder('p256', 'p256', root),
  openssl.holder('p384', 'p384', root),
  openssl.holder('ed25519', 'ed25519', root),
];
const [maren] = people as [(typeof people)[number]];
const codeOf = (bytes: Uint8Array, password: string): Promise<string> =>
  readPkcs12(bytes, password).then(
    () => 'read',
    (error: unknown) => {
      if (!(error instanceof Pkcs12Error)) throw error;
      return error.code;
    },
  );

const exported = (options: string[], password = 'tide table on the pier', holder = maren): Uint8Array =>
  new Uint8Array(
    openssl.run([
      'pkcs12',
      '-export',
      '-inkey',
      holder.keyFile,
      '-in',
      holder.certificateFile,
      '-certfile',
      root.certificateFile,
      '-name',
      'Maren Oduya',
      '-passout',
      `pass:${password}`,
      ...options,
    ]),
  );

test.each([
  ['today’s', []],
  ['the old, with RC2 of 40 bits and triple DES', ['-legacy']],
  ['triple DES for both', ['-legacy', '-certpbe', 'PBE-SHA1-3DES']],
  ['two-key triple DES', ['-legacy', '-keypbe', 'PBE-SHA1-2DES', '-certpbe', 'PBE-SHA1-2DES']],
  ['RC2 of 128 bits', ['-legacy', '-keypbe', 'PBE-SHA1-RC2-128', '-certpbe', 'PBE-SHA1-RC2-128']],
  ['AES-128', ['-keypbe', 'AES-128-CBC', '-certpbe', 'AES-128-CBC']],
  ['AES-192', ['-keypbe', 'AES-192-CBC', '-certpbe', 'AES-192-CBC']],
  ['triple DES by today’s scheme', ['-keypbe', 'DES-EDE3-CBC', '-certpbe', 'DES-EDE3-CBC']],
  ['certificates in the open', ['-certpbe', 'NONE']],
  ['nothing encrypted', ['-keypbe', 'NONE', '-certpbe', 'NONE']],
  ['no check of the password', ['-nomac']],
  ['a MAC with SHA-512', ['-macalg', 'sha512']],
  ['one round', ['-iter', '1']],
])('a file of OpenSSL with %s opens: key, certificate, chain and name', async (_, options) => {
  const { identities, others, unread } = await readPkcs12(exported(options), 'tide table on the pier');
  expect(unread).toBe(0);
  expect(identities).toHaveLength(1);
  expect(identities[0]!.name).toBe('Maren Oduya');
  expect(identities[0]!.certificate!.bytes).toEqual(maren.certificate.bytes);
  expect(Buffer.compare(identities[0]!.privateKey, maren.privateKey)).toBe(0);
  expect(others.map(({ bytes }) => bytes)).toEqual([root.certificate.bytes]);
});

test.each([
  ['modern', []],
  ['legacy', ['-legacy']],
])('a wrong password is told from a damaged file, %s', async (_, options) => {
  const bytes = exported(options);
  expect(await codeOf(bytes, 'tide table on the peer')).toBe('wrong-password');
  expect(await codeOf(bytes, '')).toBe('wrong-password');
  expect(await codeOf(bytes.slice(0, 900), 'tide table on the pier')).toBe('malformed');
  expect(await codeOf(new TextEncoder().encode('-----BEGIN CERTIFICATE-----'), 'x')).toBe('malformed');
});

test.each(['Łódź ferry', 'пристань', 'naïve ✓ 🚢'])(
  'a password of other letters, %s, opens old files',
  async (password) => {
    expect((await readPkcs12(exported(['-legacy'], password), password)).identities).toHaveLength(1);
    expect((await readPkcs12(exported(['-nomac'], password), password)).identities).toHaveLength(1);
  },
);

test('files of the public suite open', async () => {
  // One in sixteen: each takes a fifth of a second under Jest.
  for (const name of pkitsNames('pkcs12').filter((_, index) => index % 16 === 0)) {
    const { identities, others } = await readPkcs12(
      new Uint8Array(readFileSync(`${PKITS}/pkcs12/${name}`)),
      'password',
    );
    expect({ name, found: identities.length + others.length > 0 }).toEqual({ name, found: true });
  }
});

const VECTORS = '/usr/lib/python3/dist-packages/cryptography_vectors/pkcs12';
test('files of other programs, with and without password, names and keys', async () => {
  for (const name of readdirSync(VECTORS)) {
    const bytes = new Uint8Array(readFileSync(`${VECTORS}/${name}`));
    const password = /no-pwd|no-password/.test(name) ? '' : /-pwd/.test(name) ? 'password' : 'cryptography';
    const outcome = await readPkcs12(bytes, password).then(
      ({ identities, others }) => identities.length + others.length,
      (error: Pkcs12Error) => error.code,
    );
    expect({ name, outcome }).toEqual({ name, outcome: expect.any(Number) });
    expect({ name, outcome }).not.toEqual({ name, outcome: 0 });
  }
});

test.each(people.filter(({ name }) => name !== 'p384').map((one) => [one.name, one] as const))(
  'ours with a key of %s opens in OpenSSL, in a python library and here',
  async (_, holder) => {
    const bytes = await writePkcs12(
      {
        privateKey: holder.privateKey,
        certificate: holder.certificate,
        chain: [root.certificate],
        name: 'Tobias Quill, Łódź',
      },
      'seven knots by lantern',
    );
    openssl.write('ours.p12', bytes);
    const said = openssl
      .run(['pkcs12', '-in', 'ours.p12', '-passin', 'pass:seven knots by lantern', '-nodes'])
      .toString();
    expect(said).toContain('BEGIN PRIVATE KEY');
    expect(said.match(/BEGIN CERTIFICATE/g)).toHaveLength(2);
    expect(openssl.fails(['pkcs12', '-in', 'ours.p12', '-passin', 'pass:other', '-nodes'])).toBe(true);
    const python = `
import sys
from cryptography.hazmat.primitives.serialization import pkcs12, Encoding, PrivateFormat, NoEncryption
found = pkcs12.load_pkcs12(open(sys.argv[1], 'rb').read(), b'seven knots by lantern')
print(found.cert.friendly_name.decode(), found.cert.certificate.serial_number, len(found.additional_certs), found.key.private_bytes(Encoding.DER, PrivateFormat.PKCS8, NoEncryption()).hex())`;
    const [name, serial, others, key] = /^(.*) (\d+) (\d+) ([0-9a-f]+)\n$/
      .exec(execFileSync('/usr/bin/python3', ['-c', python, openssl.file('ours.p12')]).toString())!
      .slice(1);
    expect({ name, serial, others, key }).toEqual({
      name: 'Tobias Quill, Łódź',
      serial: String(holder.certificate.serial),
      others: '1',
      key: Buffer.from(holder.privateKey).toString('hex'),
    });
    const { identities } = await readPkcs12(bytes, 'seven knots by lantern');
    expect(addressesOf(identities[0]!.certificate!)).toEqual([`${holder.name}@larkmoor.example`]);
    expect(await codeOf(bytes, 'seven knots')).toBe('wrong-password');
  },
);

test('a file of the python library opens', async () => {
  const python = `
import sys
from cryptography.hazmat.primitives.serialization import pkcs12, load_der_private_key, BestAvailableEncryption
from cryptography import x509
key = load_der_private_key(open(sys.argv[1], 'rb').read(), None)
cert = x509.load_pem_x509_certificate(open(sys.argv[2], 'rb').read())
sys.stdout.buffer.write(pkcs12.serialize_key_and_certificates(b'from python', key, cert, None, BestAvailableEncryption(b'harbour ledger in ink')))`;
  openssl.write('maren.der', maren.privateKey);
  const { identities } = await readPkcs12(
    new Uint8Array(execFileSync('/usr/bin/python3', ['-c', python, openssl.file('maren.der'), maren.certificateFile])),
    'harbour ledger in ink',
  );
  expect(identities).toMatchObject([{ name: 'from python', certificate: { serial: maren.certificate.serial } }]);
});

test('without a key, with several, and with a chain only', async () => {
  const none = await readPkcs12(
    new Uint8Array(openssl.run(['pkcs12', '-export', '-nokeys', '-in', maren.certificateFile, '-passout', 'pass:x'])),
    'x',
  );
  expect(none).toMatchObject({ identities: [], others: [{ serial: maren.certificate.serial }] });
});

test('a file that asks for endless rounds is refused at once', async () => {
  // 65,537 rounds, and the same octets claiming eight million.
  const greedy = Buffer.from(exported(['-iter', '65537']));
  for (let at = greedy.indexOf('0203010001', 0, 'hex'); at >= 0; at = greedy.indexOf('0203010001', at, 'hex'))
    greedy.write('02037fffff', at, 'hex');
  expect(0x7fffff).toBeGreaterThan(MAX_ROUNDS);
  expect(await codeOf(new Uint8Array(greedy), 'tide table on the pier')).toBe('too-many-rounds');
});

test('only passwords that all programs spell alike are written', async () => {
  expect(['', 'Łódź', 'tab\there'].map(isPortablePassword)).toEqual([false, false, false]);
  await expect(
    writePkcs12({ privateKey: maren.privateKey, certificate: maren.certificate, chain: [], name: '' }, 'Łódź'),
  ).rejects.toThrow(RangeError);
});

test.each([
  ['modern', []],
  ['legacy', ['-legacy']],
  ['legacy without a MAC', ['-legacy', '-nomac']],
])('of a file with many rounds the share that is done is told, and only ever grows, %s', async (_, options) => {
  const told: number[] = [];
  await readPkcs12(exported([...options, '-iter', '60000', '-maciter']), 'tide table on the pier', (share) =>
    told.push(share),
  );
  expect(told).toEqual([...told].sort((a, b) => a - b));
  expect(told[0]).toBeLessThan(0.5);
  expect(told.at(-1)).toBeCloseTo(1, 1);
  expect(told.length).toBeGreaterThan(options.length === 0 ? 2 : 10);
});
