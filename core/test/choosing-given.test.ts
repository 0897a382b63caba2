/** What people give of their own to be written to by, in the forms they have it in; and a sample before they choose. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { concat, fromBase64Url, randomBytes, utf8 } from '../src/bytes';
import { givenIn } from '../src/choosing/given';
import { MOST_GIVEN } from '../src/choosing/limits';
import { sampleFile, sampleMail } from '../src/choosing/sample';
import { openContainer } from '../src/locks/file/open';
import { armoured } from '../src/openpgp/armour';
import { readMessage } from '../src/message/read';
import { openPgpKeysIn } from '../src/openpgp/in-file';
import { makeOpenPgpKey } from '../src/openpgp/make-key';
import { CONTAINERS } from '../src/ways/file-way';
import { Openssl } from './certificate/openssl';

// What is made below begins a moment from now.
const now = new Date(Date.now() + 60_000);
const address = 'lene@larkmoor.example';
const openssl = new Openssl();
const authority = openssl.holder('authority');
const lene = openssl.holder('lene', 'rsa', authority);
const signing = openssl.holder(
  'signing',
  'rsa',
  authority,
  'keyUsage=critical,digitalSignature\nextendedKeyUsage=emailProtection\nsubjectAltName=email:lene@larkmoor.example',
);
const read = (file: string): Uint8Array => new Uint8Array(readFileSync(file));
const DAY = 86_400_000;

describe('a certificate', () => {
  test('in text, in binary, and with the one above it, is the one for this address', async () => {
    for (const bytes of [
      read(lene.certificateFile),
      new Uint8Array(lene.certificate.bytes),
      concat(read(authority.certificateFile) as never, read(lene.certificateFile) as never),
      concat(utf8('Here is mine:\n\n'), read(lene.certificateFile) as never, utf8('\nRegards')),
    ]) {
      const given = await givenIn(bytes, 'Lene@Larkmoor.example', now);
      expect(given).toMatchObject({
        choice: { way: 'certificate', notAfter: lene.certificate.notAfter.toISOString() },
      });
      expect(
        'choice' in given && given.choice.way === 'certificate' && fromBase64Url(given.choice.certificate),
      ).toEqual(new Uint8Array(lene.certificate.bytes));
    }
    const both = await givenIn(
      concat(read(authority.certificateFile) as never, read(lene.certificateFile) as never),
      address,
      now,
    );
    expect('choice' in both && both.choice.way === 'certificate' && both.choice.chain).toHaveLength(1);
  });

  test.each<[string, () => Uint8Array, string, Date, string]>([
    ['another’s', () => read(lene.certificateFile), 'ask@larkmoor.example', now, 'other-address'],
    ['one that has run out', () => read(lene.certificateFile), address, new Date(now.getTime() + 400 * DAY), 'run-out'],
    ['one to sign with only', () => read(signing.certificateFile), address, now, 'not-for-mail'],
    ['a private key', () => read(lene.keyFile), address, now, 'private'],
    [
      'both halves',
      () => concat(read(lene.certificateFile) as never, read(lene.keyFile) as never),
      address,
      now,
      'private',
    ],
    ['a letter', () => utf8('Dear all, my key is at the usual place.'), address, now, 'nothing'],
    ['nothing at all', () => new Uint8Array(0), address, now, 'nothing'],
    ['too much', () => new Uint8Array(MOST_GIVEN + 1), address, now, 'too-large'],
  ])('not: %s', async (_, bytes, whose, at, problem) => {
    expect(await givenIn(bytes(), whose, at)).toEqual({ problem });
  });
});

describe('an OpenPGP key', () => {
  const made = (ends?: Date) => makeOpenPgpKey('wide', { name: 'Lene', addresses: [address] }, now, ends);
  const publicHalf = async (secret: Uint8Array) => (await openPgpKeysIn(secret))[0]!.bytes;

  test('armoured, binary, in a letter; with what names it', async () => {
    const bytes = await publicHalf((await made()).secret);
    const text = armoured('PUBLIC KEY BLOCK', bytes);
    for (const one of [bytes, text, concat(utf8('Mine:\r\n\r\n'), text)]) {
      const given = await givenIn(one, address, now);
      expect(given).toMatchObject({ choice: { way: 'openpgp' }, until: undefined });
      expect('choice' in given && given.choice.way === 'openpgp' && given.choice.keyIds.length).toBeGreaterThan(1);
    }
  });

  test('not the secret one, another’s, or one that has run out', async () => {
    const { secret } = await made(new Date(now.getTime() + DAY));
    const bytes = await publicHalf(secret);
    expect(await givenIn(armoured('PRIVATE KEY BLOCK', secret), address, now)).toEqual({ problem: 'private' });
    expect(await givenIn(bytes, 'ask@larkmoor.example', now)).toEqual({ problem: 'other-address' });
    expect(await givenIn(bytes, address, new Date(now.getTime() + 3 * DAY))).toEqual({ problem: 'run-out' });
  });
});

test('two thousand damaged things that people might give end in a sentence', async () => {
  const wholes = [read(lene.certificateFile), new Uint8Array(lene.certificate.bytes)];
  for (let times = 0; times < 2_000; times++) {
    const damaged = wholes[times % 2]!.slice();
    const [at, octet] = randomBytes(5).reduce<[number, number]>(([sum], one) => [sum * 256 + one, one], [0, 0]);
    damaged[at % damaged.length] = octet;
    const given = await givenIn(damaged, address, now);
    expect('choice' in given || 'problem' in given).toBe(true);
  }
});

test.each(CONTAINERS)('a sample as %s opens with their password and with no other', async (container) => {
  const folder = mkdtempSync(join(tmpdir(), 'under-lock-sample-'));
  const font = (weight: number): Uint8Array => read(join(__dirname, `../../app/public/fonts/next-${weight}.ttf`));
  const sample = await sampleFile(
    {
      container,
      password: 'seven lamps over',
      officeName: 'Larkmoor Ferries',
      language: 'de',
      subject: 'Eine Probe',
      text: 'Sie haben sie geöffnet.',
      zone: 'Europe/Berlin',
      now,
    },
    {
      paper: 'a4',
      fonts: async () => ({ regular: font(400), bold: font(700) }),
      template: async () => '<!doctype html>\n<html lang="und"><main></main><!--sealed--></html>',
    },
  );
  const file = join(folder, sample.name);
  writeFileSync(file, sample.bytes);
  if (container === 'zip') {
    execFileSync('7zz', ['x', '-y', '-pseven lamps over', `-o${folder}`, file], { stdio: 'pipe' });
    expect(() => execFileSync('7zz', ['t', '-pseven lamps under', file], { stdio: 'pipe' })).toThrow();
  } else if (container === 'pdf') {
    const text = execFileSync('pdftotext', ['-upw', 'seven lamps over', file, '-'], { encoding: 'utf8' });
    expect(text).toContain('Sie haben sie geöffnet.');
    expect(() => execFileSync('pdftotext', ['-upw', 'seven lamps under', file, '-'], { stdio: 'pipe' })).toThrow();
  } else {
    expect(await openContainer(sample.bytes, 'seven lamps over')).toBeDefined();
    await expect(openContainer(sample.bytes, 'seven lamps under')).rejects.toThrow();
  }
});

describe('a sample for their mail program', () => {
  const said = { address, officeName: 'Larkmoor Ferries', subject: 'A sample', text: 'You have opened it.', now };
  const choiceIn = async (bytes: Uint8Array) => {
    const given = await givenIn(bytes, address, now);
    if ('problem' in given) throw new Error(given.problem);
    return given.choice;
  };

  test('under their certificate is read with its key by another program, and with no other key', async () => {
    const { name, bytes } = await sampleMail({ ...said, choice: await choiceIn(read(lene.certificateFile)) });
    const folder = mkdtempSync(join(tmpdir(), 'under-lock-sample-'));
    const file = join(folder, name);
    writeFileSync(file, bytes);
    const opened = ({ certificateFile, keyFile }: typeof lene): string =>
      execFileSync('openssl', ['cms', '-decrypt', '-in', file, '-recip', certificateFile, '-inkey', keyFile], {
        stdio: 'pipe',
      }).toString();
    expect((await readMessage(utf8(opened(lene)))).text).toContain('You have opened it.');
    expect(() => opened(signing)).toThrow();
  });

  test('under their key likewise', async () => {
    // By another program’s clock.
    const now = new Date(Date.now() - 60_000);
    const { secret } = await makeOpenPgpKey('wide', { name: 'Lene', addresses: [address] }, now);
    const { secret: other } = await makeOpenPgpKey('wide', { name: 'Ask', addresses: [address] }, now);
    const choice = await choiceIn((await openPgpKeysIn(secret))[0]!.bytes);
    const { bytes } = await sampleMail({ ...said, now, choice });
    const [sealed] = /-----BEGIN PGP MESSAGE-----[^]*-----END PGP MESSAGE-----/.exec(Buffer.from(bytes).toString())!;
    const opened = (key: Uint8Array): string => {
      const file = join(mkdtempSync(join(tmpdir(), 'under-lock-sample-')), 'key');
      writeFileSync(file, key);
      return execFileSync('sqop', ['decrypt', file], { input: sealed, stdio: 'pipe' }).toString();
    };
    expect((await readMessage(utf8(opened(secret)))).text).toContain('You have opened it.');
    expect(() => opened(other)).toThrow();
  });
});
