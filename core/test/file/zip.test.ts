/** ZIPs of ours in other people's programs, and theirs in ours. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, openSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Bytes, randomBytes, utf8 } from '../../src/bytes';
import { isWhollyLocked, readDirectory } from '../../src/zip/directory';
import { readZip } from '../../src/zip/read';
import { ZIP_CIPHERS, type ZipCipher } from '../../src/zip/cipher';
import { writeZip } from '../../src/zip/write';

const date = new Date('2026-11-25T10:00:00Z');
const never = () => false;
const files = [
  { name: 'Crew list Größe – 船員.txt', bytes: utf8('Fit for duty: Pell Anders\n'.repeat(400)) },
  { name: 'scan.bin', bytes: randomBytes(60_000) },
  { name: 'empty.txt', bytes: new Uint8Array(0) },
];
let place: string;
beforeEach(() => {
  place = mkdtempSync(join(tmpdir(), 'zip-'));
});
afterEach(() => rmSync(place, { recursive: true, force: true }));
const at = (name: string) => join(place, name);
const unfolded = (folder: string) =>
  Object.fromEntries(
    readdirSync(folder).map((name) => [name.normalize('NFC'), readFileSync(join(folder, name)).toString('hex')]),
  );
const wanted = Object.fromEntries(files.map(({ name, bytes }) => [name, Buffer.from(bytes).toString('hex')]));
const utf8Locale = { ...process.env, LC_ALL: 'C.UTF-8' };

const passwords = ['tide-harbour-lantern', 'Ebbe über Größe 船', ' two  blanks ', 'a'.repeat(99)];

describe.each(ZIP_CIPHERS)('%s', (cipher) => {
  test.each(passwords)('opens in two other programs with the password “%s” and not with another', async (password) => {
    writeFileSync(at('a.zip'), await writeZip({ files, lock: { cipher, password }, date, isPacked: never }));
    execFileSync('7zz', ['x', `-p${password}`, `-o${at('seven')}`, at('a.zip')], { env: utf8Locale, stdio: 'pipe' });
    expect(unfolded(at('seven'))).toEqual(wanted);
    execFileSync('mkdir', [at('lib')]);
    execFileSync('bsdtar', ['-x', '-f', at('a.zip'), '--passphrase', password, '-C', at('lib')], {
      env: utf8Locale,
      stdio: 'pipe',
    });
    expect(unfolded(at('lib'))).toEqual(wanted);
    expect(() => execFileSync('7zz', ['t', '-pwrong', at('a.zip')], { stdio: 'pipe' })).toThrow();
  });

  test('opens in ours, says a wrong password at once, and its directory says how it is locked', async () => {
    const bytes = await writeZip({ files, lock: { cipher, password: 'ebb' }, date, isPacked: never });
    expect(isWhollyLocked(readDirectory(bytes))).toBe(true);
    const lock = cipher === 'legacy' ? { kind: 'legacy' } : { kind: 'aes', bits: cipher === 'aes-256' ? 256 : 128 };
    expect(readDirectory(bytes).map((head) => head.lock)).toEqual([lock, lock, lock]);
    expect(await readZip(bytes, 'ebb')).toEqual(files);
    await expect(readZip(bytes, 'flood')).rejects.toMatchObject({ code: 'wrong-password' });
    await expect(readZip(bytes)).rejects.toMatchObject({ code: 'locked' });
  });
});

test('the legacy cipher opens in python’s zipfile', async () => {
  writeFileSync(
    at('a.zip'),
    await writeZip({ files, lock: { cipher: 'legacy', password: 'Ebbe ü' }, date, isPacked: never }),
  );
  const script =
    'import sys,zipfile;z=zipfile.ZipFile(sys.argv[1]);print([z.read(n,pwd=sys.argv[2].encode()).hex() for n in z.namelist()]==sys.argv[3:])';
  expect(
    execFileSync(
      'python3',
      ['-c', script, at('a.zip'), 'Ebbe ü', ...files.map(({ bytes }) => Buffer.from(bytes).toString('hex'))],
      { env: utf8Locale },
    )
      .toString()
      .trim(),
  ).toBe('True');
});

const theirs: [string, (password: string) => Bytes][] = [
  ...(['AES256', 'AES192', 'AES128', 'ZipCrypto'] as const).map((method): [string, (password: string) => Bytes] => [
    `7zz ${method}`,
    (password) => {
      for (const { name, bytes } of files) writeFileSync(at(name), bytes);
      execFileSync(
        '7zz',
        ['a', '-tzip', `-mem=${method}`, `-p${password}`, at('t.zip'), ...files.map(({ name }) => at(name))],
        { env: utf8Locale, stdio: 'pipe' },
      );
      return new Uint8Array(readFileSync(at('t.zip')));
    },
  ]),
  ...(['aes256', 'aes128', 'zipcrypt'] as const).map((method): [string, (password: string) => Bytes] => [
    `bsdtar ${method}`,
    (password) => {
      for (const { name, bytes } of files) writeFileSync(at(name), bytes);
      execFileSync(
        'bsdtar',
        [
          '-c',
          '-f',
          at('t.zip'),
          '--format',
          'zip',
          '--options',
          `zip:encryption=${method}`,
          '--passphrase',
          password,
          '-C',
          place,
          ...files.map(({ name }) => name),
        ],
        { env: utf8Locale, stdio: 'pipe' },
      );
      return new Uint8Array(readFileSync(at('t.zip')));
    },
  ]),
];
test.each(theirs)('%s opens in ours', async (name, make) => {
  // 7zz itself refuses to write a ZIP with other letters in its password.
  const password = name.startsWith('7zz') ? 'Flut 7' : 'Flut 7 Grüße';
  const opened = await readZip(make(password), password);
  expect(Object.fromEntries(opened.map(({ name, bytes }) => [name, Buffer.from(bytes).toString('hex')]))).toEqual(
    wanted,
  );
});

/** Written without going back: sizes stand in data descriptors, some in their long form. */
const STREAMED: [string, (target: string) => void][] = [
  [
    'python, to a pipe',
    (target) =>
      execFileSync(
        'python3',
        [
          '-c',
          'import sys,zipfile\nwith zipfile.ZipFile(sys.stdout.buffer,"w",zipfile.ZIP_DEFLATED) as z:\n for n in sys.argv[1:]:\n  with z.open(n.split("/")[-1],"w",force_zip64=True) as f: f.write(open(n,"rb").read())',
          ...files.map(({ name }) => at(name)),
        ],
        { env: utf8Locale, stdio: ['ignore', fd(target), 'pipe'] },
      ),
  ],
  [
    'bsdtar, to a pipe that is filled up',
    (target) =>
      execFileSync('bsdtar', ['-c', '--format', 'zip', '-C', place, ...files.map(({ name }) => name)], {
        env: utf8Locale,
        stdio: ['ignore', fd(target), 'pipe'],
      }),
  ],
  [
    'bsdtar, as ZIP64',
    (target) =>
      execFileSync(
        'bsdtar',
        ['-c', '--format', 'zip', '--options', 'zip:zip64', '-C', place, ...files.map(({ name }) => name)],
        { env: utf8Locale, stdio: ['ignore', fd(target), 'pipe'] },
      ),
  ],
];
const fd = (path: string): number => openSync(path, 'w');
test.each(STREAMED)('a ZIP written as it goes opens: %s', async (_, write) => {
  for (const { name, bytes } of files) writeFileSync(at(name), bytes);
  write(at('s.zip'));
  const opened = await readZip(new Uint8Array(readFileSync(at('s.zip'))));
  expect(
    Object.fromEntries(opened.map(({ name, bytes }) => [name.normalize('NFC'), Buffer.from(bytes).toString('hex')])),
  ).toEqual(wanted);
});

/** The archive with its end said in the long form: two more records, and nothing but full numbers in the short one. */
function withLongEnd(bytes: Bytes, shortCount = 0xffff): Bytes {
  const end = bytes.length - 22;
  const short = new DataView(bytes.buffer, bytes.byteOffset + end, 22);
  const out = new Uint8Array(bytes.length + 76);
  out.set(bytes.subarray(0, end));
  const view = new DataView(out.buffer);
  const long = (at: number, value: number): void => view.setBigUint64(at, BigInt(value), true);
  view.setUint32(end, 0x06064b50, true);
  long(end + 4, 44);
  long(end + 24, short.getUint16(10, true));
  long(end + 32, short.getUint16(10, true));
  long(end + 40, short.getUint32(12, true));
  long(end + 48, short.getUint32(16, true));
  view.setUint32(end + 56, 0x07064b50, true);
  long(end + 64, end);
  view.setUint32(end + 72, 1, true);
  out.set(bytes.subarray(end), end + 76);
  for (const [offset, value] of [
    [4, 0xffff],
    [6, 0xffff],
    [8, shortCount],
    [10, shortCount],
  ] as const)
    view.setUint16(end + 76 + offset, value, true);
  view.setUint32(end + 76 + 12, 0xffffffff, true);
  view.setUint32(end + 76 + 16, 0xffffffff, true);
  return out;
}

test('a ZIP64 end is read, in other programs as in ours, and one that says two different numbers is refused', async () => {
  const bytes = withLongEnd(
    await writeZip({ files, lock: { cipher: 'aes-256', password: 'ebb' }, date, isPacked: never }),
  );
  writeFileSync(at('long.zip'), bytes);
  execFileSync('7zz', ['t', '-pebb', at('long.zip')], { stdio: 'pipe' });
  expect(await readZip(bytes, 'ebb')).toEqual(files);
  await expect(
    readZip(withLongEnd(await writeZip({ files, lock: undefined, date, isPacked: never }), 2)),
  ).rejects.toMatchObject({ code: 'malformed' });
});

test.each(['LZMA', 'BZip2', 'PPMd'])(
  '%s is said by its name, locked or not, before a password is asked for',
  async (method) => {
    writeFileSync(at('long.txt'), 'A line that packs well\n'.repeat(500));
    execFileSync('7zz', ['a', '-tzip', `-mm=${method}`, at('open.zip'), at('long.txt')], { stdio: 'pipe' });
    execFileSync('7zz', ['a', '-tzip', `-mm=${method}`, '-mem=AES256', '-pebb', at('locked.zip'), at('long.txt')], {
      stdio: 'pipe',
    });
    for (const name of ['open.zip', 'locked.zip'])
      await expect(readZip(new Uint8Array(readFileSync(at(name))))).rejects.toMatchObject({
        code: 'unsupported',
        method,
      });
  },
);

test('Deflate64 opens', async () => {
  writeFileSync(at('long.txt'), 'A line that packs well\n'.repeat(500));
  execFileSync('7zz', ['a', '-tzip', '-mm=Deflate64', at('d.zip'), at('long.txt')], { stdio: 'pipe' });
  expect((await readZip(new Uint8Array(readFileSync(at('d.zip')))))[0]!.bytes).toHaveLength(11_500);
});

test('what is packed already is put in as it is', async () => {
  const bytes = await writeZip({
    files,
    lock: { cipher: 'aes-256', password: 'ebb' },
    date,
    isPacked: (name) => name.endsWith('.txt'),
  });
  const [text] = readDirectory(bytes);
  expect(text!.packed).toBeGreaterThan(text!.size);
  expect(await readZip(bytes, 'ebb')).toEqual(files);
});

test('without a password it is only packed, and says so', async () => {
  const bytes = await writeZip({ files, lock: undefined, date, isPacked: never });
  expect(isWhollyLocked(readDirectory(bytes))).toBe(false);
  expect(await readZip(bytes)).toEqual(files);
});

test.each(['', 'ü'.repeat(50)])(
  'a password of no octets, or of more than others take, is refused: “%s”',
  async (password) => {
    await expect(
      writeZip({ files, lock: { cipher: 'aes-256' satisfies ZipCipher, password }, date, isPacked: never }),
    ).rejects.toBeInstanceOf(RangeError);
  },
);
