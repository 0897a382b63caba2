/** Archives that Debian's own programs packed, and what lies in them. */
import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import sevenZip from '7z-wasm';
import { type Bytes } from '../../src/bytes';
import { isUnread } from '../../src/scan/files/piece';
import { readFile } from '../../src/scan/files/read';
import { type SevenZip, unpack } from '../../src/scan/files/unpack';
import { readDamaged } from '../mutations';

const make = async (said: (line: string) => void): Promise<SevenZip> =>
  (await sevenZip({ print: said, printErr: said })) as unknown as SevenZip;

let dir: string;
beforeAll(() => {
  dir = mkdtempSync(join(tmpdir(), 'packed-'));
  mkdirSync(join(dir, 'pay/Größen'), { recursive: true });
  writeFileSync(join(dir, 'pay/accounts.csv'), 'Ada Lind;DE37 7158 1210 8817 7869 89\n');
  writeFileSync(join(dir, 'pay/Größen/note.txt'), 'the crew’s advance');
});
afterAll(() => rmSync(dir, { recursive: true, force: true }));

const bytesOf = (name: string): Bytes => new Uint8Array(readFileSync(join(dir, name)));

function packed(name: string, ...args: string[]): Bytes {
  execFileSync('/usr/bin/7zz', ['a', ...args, name, 'pay'], { cwd: dir, stdio: 'ignore' });
  return bytesOf(name);
}

function tarred(name: string, ...args: string[]): Bytes {
  execFileSync('/bin/tar', ['-cf', name, ...args, 'pay'], { cwd: dir });
  return bytesOf(name);
}

async function pieces(bytes: Bytes, name: string): Promise<string[]> {
  const found: string[] = [];
  for await (const piece of readFile({ name, bytes }, { unpack: (archive) => unpack(archive, make) }))
    found.push(`${piece.place.files.join(' › ')}: ${isUnread(piece) ? piece.unread : piece.text.trim()}`);
  return found.sort();
}

const within = (...above: string[]): string[] =>
  ['pay/Größen/note.txt: the crew’s advance', 'pay/accounts.csv: Ada Lind;DE37 7158 1210 8817 7869 89'].map((line) =>
    [...above, line].join(' › '),
  );

test.each([
  ['pay.7z', () => packed('pay.7z')],
  ['pay.tar', () => tarred('pay.tar')],
])('%s is looked into', async (name, bytes) => {
  expect(await pieces(bytes(), name)).toEqual(within(name));
});

test.each([
  ['pay.tar.gz', '-z'],
  ['pay.tar.bz2', '-j'],
  ['pay.tar.xz', '-J'],
])('%s is looked into, and what is packed in it', async (name, how) => {
  const found = await pieces(tarred(name, how), name);
  expect(found).toEqual(within(name, 'pay.tar'));
});

test.each([
  ['its files', ['-psecret']],
  ['its list', ['-psecret', '-mhe=on']],
])('a 7z with %s under a password is said to be locked', async (what, args) => {
  const name = `${what.replace(' ', '-')}.7z`;
  expect(await pieces(packed(name, ...args), name)).toEqual([`${name}: locked`]);
});

test('more comes out of an archive than is looked through: it is given up, whatever it says of its size', async () => {
  // The size that gzip keeps is the last four octets (RFC 1952, 2.3.1): here it says ten.
  const bomb = gzipSync(Buffer.alloc(200_000_000));
  bomb.writeUInt32LE(10, bomb.length - 4);
  expect(await pieces(new Uint8Array(bomb), 'bomb.gz')).toEqual(['bomb.gz: too-large']);
});

test('damaged ones end in a word, not in an error', async () => {
  const whole = packed('whole.7z');
  expect(await pieces(whole.slice(0, 100), 'cut.7z')).toEqual(['cut.7z: damaged']);
  await readDamaged(
    whole,
    200,
    async (bytes) => {
      for (const line of await pieces(bytes, 'damaged.7z')) expect(line).toContain('damaged.7z');
    },
    [],
  );
});
