/**
 * Archives that lie: bombs, path tricks, names twice, sizes that are not true, two archives in one; and a hundred
 * thousand damaged ones. Typed errors, bounded memory.
 */
import { type Bytes, concat, utf8 } from '../../src/bytes';
import { JweError, readJweHeader } from '../../src/jose/jwe';
import { openContainer } from '../../src/locks/file/open';
import { FileOpenError } from '../../src/locks/file/open-error';
import { filledPage, takenApart } from '../../src/locks/file/page/format';
import { isContainer } from '../../src/locks/file/container';
import { lockedKind } from '../../src/locks/file/recognise';
import { bookAsCsv, readBook } from '../../src/passwords/book';
import { MAX_ENTRIES, readDirectory, storedFiles } from '../../src/zip/directory';
import { ZipError } from '../../src/zip/errors';
import { MAX_UNPACKED, readZip } from '../../src/zip/read';
import { writeZip } from '../../src/zip/write';
import { readDamaged } from '../mutations';

const date = new Date('2026-11-25T10:00:00Z');
const pack = (files: { name: string; bytes: Bytes }[], password?: string): Promise<Bytes> =>
  writeZip({
    files,
    lock: password === undefined ? undefined : { cipher: 'aes-256', password },
    date,
    isPacked: () => false,
  });
const small = utf8('Fit for duty.');

/** Octets of one text replaced by others as long, wherever they stand: header, directory or both. */
function replaced(bytes: Bytes, from: string, to: string, which: 'all' | 'last' | 'first' = 'all'): Bytes {
  const text = Buffer.from(bytes).toString('latin1');
  const at = which === 'last' ? text.lastIndexOf(from) : text.indexOf(from);
  const swapped = which === 'all' ? text.replaceAll(from, to) : text.slice(0, at) + to + text.slice(at + from.length);
  return new Uint8Array(Buffer.from(swapped, 'latin1'));
}
/** The four octets at a place of the (only) directory entry. */
function withDirectory(bytes: Bytes, at: number, value: number): Bytes {
  const out = bytes.slice();
  const view = new DataView(out.buffer);
  view.setUint32(view.getUint32(out.length - 22 + 16, true) + at, value, true);
  return out;
}

test('a bomb is stopped by what it claims, and a liar by what comes out', async () => {
  const bomb = await pack([{ name: 'zeros', bytes: new Uint8Array(40_000_000) }]);
  expect(bomb.length).toBeLessThan(60_000);
  expect((await readZip(bomb))[0]!.bytes.length).toBe(40_000_000);
  await expect(readZip(withDirectory(bomb, 24, MAX_UNPACKED + 1))).rejects.toMatchObject({ code: 'too-large' });
  // It says ten octets, and unfolds to forty million: what comes out is counted.
  await expect(readZip(withDirectory(bomb, 24, 10))).rejects.toMatchObject({
    code: expect.stringMatching(/too-large|malformed/) as string,
  });
  await expect(readZip(withDirectory(bomb, 20, 100))).rejects.toBeInstanceOf(ZipError);
});

test('many small ones are counted together', async () => {
  const one = await pack([
    { name: 'aaaa', bytes: new Uint8Array(1_000_000) },
    { name: 'bbbb', bytes: new Uint8Array(1_000_000) },
  ]);
  const view = new DataView(one.buffer);
  const start = view.getUint32(one.length - 22 + 16, true);
  const out = one.slice();
  new DataView(out.buffer).setUint32(start + 24, MAX_UNPACKED - 10, true);
  await expect(readZip(out)).rejects.toMatchObject({ code: 'too-large' });
});

test.each([
  '../../../etc/passwd',
  '/etc/passwd',
  'C:\\Windows\\x.txt',
  'a/../../b.txt',
  '..\\..\\up.txt',
  '.',
  '..',
  'CON.txt',
  'name.',
  'fdp.\u202eexe',
])('“%s” is a name and no path', async (name) => {
  const bytes = replaced(
    await pack([{ name: 'n'.repeat(Buffer.byteLength(name)), bytes: small }]),
    'n'.repeat(Buffer.byteLength(name)),
    Buffer.from(name).toString('latin1'),
  );
  try {
    const [file] = await readZip(bytes);
    expect(file!.name).not.toMatch(/[/\\\u202e]|^\.+$|[. ]$|^con\b/i);
  } catch (error) {
    expect(error).toBeInstanceOf(ZipError);
  }
});

test.each<[string, () => Promise<Bytes>]>([
  [
    'two entries of one name',
    async () =>
      replaced(
        await pack([
          { name: 'one.txt', bytes: small },
          { name: 'two.txt', bytes: utf8('Not fit.') },
        ]),
        'two.txt',
        'one.txt',
      ),
  ],
  [
    'another name in the directory than in front',
    async () => replaced(await pack([{ name: 'one.txt', bytes: small }]), 'one.txt', 'two.txt', 'last'),
  ],
  ['something in front of it', async () => concat(utf8('#!/bin/sh\n'), await pack([{ name: 'a', bytes: small }]))],
  ['something behind it', async () => concat(await pack([{ name: 'a', bytes: small }]), utf8('more'))],
  [
    'another archive in front of it',
    async () => concat(await pack([{ name: 'a', bytes: small }]), await pack([{ name: 'b', bytes: small }])),
  ],
  ['a directory that is cut', async () => (await pack([{ name: 'a', bytes: small }])).slice(0, -30)],
  [
    'an entry that begins in the directory',
    async () => withDirectory(await pack([{ name: 'a', bytes: small }]), 42, 0x7fffffff),
  ],
  ['a size of four gigabytes', async () => withDirectory(await pack([{ name: 'a', bytes: small }]), 24, 0xffffffff)],
  ['nothing', async () => new Uint8Array(0)],
])('%s is refused', async (_, make) => expect(readZip(await make())).rejects.toBeInstanceOf(ZipError));

test('too many entries are refused before any is looked at', async () => {
  const bytes = await pack([{ name: 'a', bytes: small }]);
  const view = new DataView(bytes.buffer);
  for (const at of [8, 10]) view.setUint16(bytes.length - 22 + at, MAX_ENTRIES + 1, true);
  expect(() => readDirectory(bytes)).toThrow(expect.objectContaining({ code: 'too-large' }) as Error);
});

test('archives in one another are opened one at a time, and only when they are asked for', async () => {
  let bytes = await pack([{ name: 'core.txt', bytes: small }]);
  for (let depth = 0; depth < 30; depth++) bytes = await pack([{ name: 'contents.zip', bytes }]);
  const { files } = await openContainer(bytes);
  // Our own way of hiding names is one step; what lies deeper stays closed.
  expect(files.map(({ name }) => name)).toEqual(['contents.zip']);
});

test('one octet changed in what AES locks is noticed', async () => {
  const bytes = await pack([{ name: 'a', bytes: utf8('The papers.'.repeat(50)) }], 'ebb-and-flood');
  const changed = bytes.slice();
  changed[60] = changed[60]! ^ 1;
  await expect(readZip(changed, 'ebb-and-flood')).rejects.toBeInstanceOf(ZipError);
});

const TYPED = [ZipError, FileOpenError, JweError];
const jwe = `${Buffer.from('{"alg":"PBES2-HS512+A256KW","enc":"A256GCM","p2s":"AAAA","p2c":1000}').toString('base64url')}.AAAA.BBBB.CCCC.DDDD`;
const page = utf8(filledPage('<!doctype html>\n<html lang="und"><main></main><!--sealed--></html>', jwe, 'en'));
const kinds: [string, number, () => Promise<Bytes> | Bytes, (bytes: Bytes) => unknown][] = [
  [
    'directories',
    40_000,
    () =>
      pack(
        [
          { name: 'one.txt', bytes: small },
          { name: 'two.txt', bytes: small },
        ],
        'ebb',
      ),
    readDirectory,
  ],
  [
    'stored archives',
    20_000,
    () =>
      writeZip({
        files: [
          { name: 'a', bytes: small },
          { name: 'b', bytes: small },
        ],
        lock: undefined,
        date,
        isPacked: () => true,
      }),
    storedFiles,
  ],
  [
    'archives',
    4_000,
    () =>
      pack([
        { name: 'one.txt', bytes: small },
        { name: 'two.txt', bytes: utf8('Fit.'.repeat(100)) },
      ]),
    (bytes) => readZip(bytes),
  ],
  ['locked archives', 2_000, () => pack([{ name: 'one.txt', bytes: small }], 'ebb'), (bytes) => readZip(bytes, 'ebb')],
  [
    'legacy archives',
    2_000,
    () =>
      writeZip({
        files: [{ name: 'a', bytes: small }],
        lock: { cipher: 'legacy', password: 'ebb' },
        date,
        isPacked: () => false,
      }),
    (bytes) => readZip(bytes, 'ebb'),
  ],
  [
    'pages',
    22_000,
    () => page,
    (bytes) => [lockedKind(bytes), isContainer({ name: 'a.html', bytes }), takenApart(new TextDecoder().decode(bytes))],
  ],
  ['heads of JWEs', 8_000, () => utf8(jwe), (bytes) => readJweHeader(new TextDecoder('latin1').decode(bytes))],
  [
    'tables',
    2_000,
    () =>
      utf8(
        bookAsCsv([
          { address: 'a@b.example', direction: 'in', password: 'x"y', note: 'n' },
          { address: 'c@b.example', direction: 'out', password: '=z', note: '' },
        ]),
      ),
    (bytes) => readBook(new TextDecoder().decode(bytes)),
  ],
];

test('they are a hundred thousand', () => expect(kinds.reduce((sum, [, count]) => sum + count, 0)).toBe(100_000));

test.each(kinds)(
  'damaged %s: %d of them',
  async (_, count, make, read) => {
    const sound = new Uint8Array(await make());
    await read(sound.slice());
    await readDamaged(sound, count, read, TYPED);
  },
  240_000,
);
