/** PDFs and self-opening pages of ours, judged by other programs, and opened again by ours. */
import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Bytes, concat, randomBytes, utf8 } from '../../src/bytes';
import { NO_RIGHTS } from '../../src/handling/handling';
import { openJwe, readJweHeader, ROUNDS, sealJwe } from '../../src/jose/jwe';
import { setLetter } from '../../src/locks/file/letter';
import { openContainer } from '../../src/locks/file/open';
import { takenApart } from '../../src/locks/file/page/format';
import { openSealed } from '../../src/locks/file/page/open-page';
import { sealPage } from '../../src/locks/file/page/seal-page';
import { isContainer } from '../../src/locks/file/container';
import { lockedKind } from '../../src/locks/file/recognise';
import { LANGUAGES } from '../../src/language';
import { coverWords } from '../../src/locks/file/cover';
import { type MessageContent } from '../../src/message/content';

const PASSWORD = 'tide-harbour-größe';
const SECRET = 'Fit for duty until March';
const photo = concat(randomBytes(50_000), randomBytes(20_000));
const message: MessageContent = {
  messageId: 'a@larkmoor.example',
  from: { name: 'Maren Oduya', address: 'maren.oduya@larkmoor.example' },
  to: [{ name: 'Pell Anders', address: 'pell.anders@postbox.example' }],
  cc: [],
  subject: 'Medical paper of P. Anders',
  date: new Date('2026-11-25T10:00:00Z'),
  reference: 'CR-2611',
  text: SECRET,
  html: `<h2>Result</h2><p>${SECRET}, <strong>signed</strong>.</p><ul><li><p>one</p></li><li><p>two</p></li></ul><p>${'A long paragraph that has to be broken into lines. '.repeat(60)}</p>`,
  files: [
    { name: 'Größe – scan.jpg', type: 'image/jpeg', bytes: photo },
    { name: 'notes.txt', type: 'text/plain', bytes: utf8('Pell, 3 March\r\n') },
    { name: 'notes.txt', type: 'text/plain', bytes: utf8('a second of this name') },
  ],
};
const settings = { language: 'en', zone: 'Europe/Lisbon' } as const;
const font = (weight: 400 | 700): Uint8Array =>
  new Uint8Array(readFileSync(join(__dirname, `../../../app/public/fonts/next-${weight}.ttf`)));
const fonts = { regular: font(400), bold: font(700) };
const TEMPLATE = '<!doctype html>\n<html lang="und"><head></head><body><main></main><!--sealed--></body></html>\n';

let place: string;
beforeAll(() => {
  place = mkdtempSync(join(tmpdir(), 'containers-'));
});
afterAll(() => rmSync(place, { recursive: true, force: true }));
const at = (name: string, bytes?: Uint8Array): string => {
  if (bytes !== undefined) writeFileSync(join(place, name), bytes);
  return join(place, name);
};
const said = (command: string, args: string[]) => {
  const { status, stdout, stderr } = spawnSync(command, args, {
    encoding: 'utf8',
    env: { ...process.env, LC_ALL: 'C.UTF-8' },
  });
  return { status, text: `${stdout}${stderr}` };
};
const set = (over: Partial<Parameters<typeof setLetter>[0]> = {}): Promise<Bytes> =>
  setLetter({
    message,
    scope: 'everything',
    settings,
    fonts,
    paper: 'a4',
    lock: { password: PASSWORD, rights: { ...NO_RIGHTS, print: true } },
    withFiles: true,
    ...over,
  });
/** Of what is only looked at one is enough for all. */
const once = (make: () => Promise<Bytes>): (() => Promise<Bytes>) => {
  let made: Promise<Bytes> | undefined;
  return async () => (await (made ??= make())).slice();
};
const locked = once(() => set());
const open = once(() => set({ lock: undefined }));

/** In every spelling a mailer or a file could carry it in. */
function standsReadable(bytes: Uint8Array, text: string): boolean {
  const all = Buffer.from(bytes);
  const spellings = [
    Buffer.from(text),
    Buffer.from(text, 'utf16le'),
    Buffer.from(text, 'utf16le').swap16(),
    Buffer.from(Buffer.from(text).toString('hex')),
    Buffer.from(text.replace(/ /g, '%20')),
    Buffer.from(text.replace(/ /g, '=20')),
  ];
  const inBase64 = [0, 1, 2].map((shift) =>
    Buffer.from(
      Buffer.concat([Buffer.alloc(shift), Buffer.from(text)])
        .toString('base64')
        // Whole groups of nothing but the text; fewer letters would stand in any sealed file by chance.
        .slice(shift === 0 ? 0 : 4, Math.floor((shift + Buffer.byteLength(text)) / 3) * 4),
    ),
  );
  return [
    ...spellings,
    ...inBase64,
    ...inBase64.map((one) => Buffer.from(one.toString().replace(/\+/g, '-').replace(/\//g, '_'))),
  ].some((one) => all.includes(one));
}

test('what looks for readable text finds it where it is', () => {
  for (const spelled of [SECRET, Buffer.from(`x${SECRET}y`).toString('base64'), Buffer.from(SECRET).toString('hex')])
    expect(standsReadable(utf8(`..${spelled}..`), SECRET)).toBe(true);
});

describe('the letter', () => {
  test('passes qpdf, is of revision 6 with AES-256, and shows the rights that were given', async () => {
    const path = at('letter.pdf', await locked());
    const check = said('qpdf', [`--password=${PASSWORD}`, '--check', '--show-encryption', path]);
    expect(check).toMatchObject({ status: 0 });
    expect(check.text).toContain('R = 6');
    expect(check.text).toMatch(/stream encryption method: AESv3/);
    expect(check.text).toMatch(/print high resolution: allowed/);
    expect(check.text).toMatch(/extract for any purpose: not allowed/);
    expect(check.text).toMatch(/extract for accessibility: allowed/);
    expect(check.text).toMatch(/modify anything: not allowed/);
  });

  test('opens in poppler with the password only, and reads as it was written', async () => {
    const path = at('letter.pdf', await locked());
    expect(said('pdftotext', [path, '-']).status).not.toBe(0);
    expect(said('pdftotext', ['-upw', 'wrong', path, '-']).status).not.toBe(0);
    const { status, text } = said('pdftotext', ['-upw', PASSWORD, '-layout', path, '-']);
    expect(status).toBe(0);
    for (const words of [
      'Medical paper of P. Anders',
      'Fit for duty until March, signed.',
      'Maren Oduya <maren.oduya@larkmoor.example>',
      '• one',
      '1/1',
    ])
      expect(text.replace(/\s+/g, ' ')).toContain(words);
    for (const line of text.split('\n')) expect(line.trim().length).toBeLessThan(130);
  });

  test('its files come out of poppler octet for octet, each by its name', async () => {
    const path = at('letter.pdf', await locked());
    const list = said('pdfdetach', ['-upw', PASSWORD, '-list', path]).text;
    expect(list).toContain('3 embedded files');
    expect(list).toContain('Größe – scan.jpg');
    execFileSync('mkdir', ['-p', at('out')]);
    expect(said('pdfdetach', ['-upw', PASSWORD, '-saveall', '-o', at('out'), path]).status).toBe(0);
    expect(Buffer.compare(readFileSync(at('out/Größe – scan.jpg')), photo)).toBe(0);
    expect(readFileSync(at('out/notes (2).txt'), 'utf8')).toBe('a second of this name');
  });

  test('nothing of it can be read without the password', async () => {
    const bytes = await locked();
    for (const text of [SECRET, 'Medical paper', 'Maren Oduya', 'scan.jpg', 'Pell, 3 March'])
      expect(standsReadable(bytes, text)).toBe(false);
    expect(lockedKind(bytes)).toEqual({ container: 'pdf', legacy: false });
    expect(lockedKind(await open())).toBeUndefined();
  });

  test('what no font has lies beside as text, and is not lost', async () => {
    const written = 'Πληρωμή 船員 אבג';
    const opened = await openContainer(
      await set({ message: { ...message, text: written, html: `<p>${written}</p>`, files: [] } }),
      PASSWORD,
    );
    expect(opened.files.map(({ name, bytes }) => [name, new TextDecoder().decode(bytes)])).toEqual([
      ['Message.txt', `${message.subject}\r\n\r\n${written}`],
    ]);
  });

  test('opens in ours, and says a wrong password at once', async () => {
    const bytes = await locked();
    expect(isContainer({ name: 'a.pdf', bytes })).toBe(true);
    expect((await openContainer(bytes, PASSWORD)).files.map(({ name }) => name)).toEqual([
      'Größe – scan.jpg',
      'notes (2).txt',
      'notes.txt',
    ]);
    await expect(openContainer(bytes, 'wrong')).rejects.toMatchObject({ code: 'wrong-password' });
    await expect(openContainer(bytes)).rejects.toMatchObject({ code: 'locked' });
  });

  test('qpdf’s own locked PDFs open in ours', async () => {
    const path = at('open.pdf', await open());
    for (const bits of ['256', '128']) {
      execFileSync('qpdf', [
        '--encrypt',
        'ebb',
        'owner',
        bits,
        ...(bits === '128' ? ['--use-aes=y'] : []),
        '--',
        path,
        at(`q${bits}.pdf`),
      ]);
      expect((await openContainer(new Uint8Array(readFileSync(at(`q${bits}.pdf`))), 'ebb')).files).toHaveLength(3);
    }
  });

  const BITS = [
    ['40', ['--allow-weak-crypto'], ['40']],
    ['128 RC4', ['--allow-weak-crypto'], ['128', '--use-aes=n']],
    ['128 AES', ['--allow-weak-crypto'], ['128', '--use-aes=y']],
    ['256', [], ['256']],
  ] as const;
  test.each(BITS)(
    'with its catalogue in a sealed object stream it asks for its password and opens (%s)',
    async (_, before, bits) => {
      const path = at('open.pdf', await open());
      execFileSync('qpdf', [
        ...before,
        '--object-streams=generate',
        '--encrypt',
        'ebb',
        'owner',
        ...bits,
        '--',
        path,
        at('streams.pdf'),
      ]);
      const bytes = new Uint8Array(readFileSync(at('streams.pdf')));
      expect(isContainer({ name: 'streams.pdf', bytes })).toBe(true);
      await expect(openContainer(bytes)).rejects.toMatchObject({ code: 'locked' });
      await expect(openContainer(bytes, 'wrong')).rejects.toMatchObject({ code: 'wrong-password' });
      expect((await openContainer(bytes, 'ebb')).files).toHaveLength(3);
      expect((await openContainer(bytes, 'owner')).files).toHaveLength(3);
    },
  );

  test.each(BITS)('a password with accents, dashes and the euro opens it (%s)', async (_, before, bits) => {
    const path = at('open.pdf', await open());
    execFileSync('qpdf', [
      ...before,
      '--password-mode=unicode',
      '--encrypt',
      'Gr\u00f6\u00dfe\u2013\u20ac',
      'owner',
      ...bits,
      '--',
      path,
      at('accents.pdf'),
    ]);
    const bytes = new Uint8Array(readFileSync(at('accents.pdf')));
    const opened = await openContainer(bytes, 'Gro\u0308\u00dfe\u2013\u20ac');
    expect(opened.files).toHaveLength(3);
    expect(opened.viewerPassword).toBe(
      bits[0] === '256' ? 'Gr\u00f6\u00dfe\u2013\u20ac' : 'Gr\u00f6\u00dfe\u0085\u00a0',
    );
  });

  test('one whose table is damaged is not said to be open', async () => {
    const bytes = new Uint8Array(readFileSync(at('accents.pdf')));
    const text = new TextDecoder('latin1').decode(bytes);
    await expect(
      openContainer(
        Uint8Array.from(text.replace(/startxref\n\d+/, 'startxref\n9'), (character) => character.charCodeAt(0)),
        'ebb',
      ),
    ).rejects.toMatchObject({ code: 'malformed' });
  });

  test('a password that would leave it open is refused', async () => {
    await expect(set({ lock: { password: '', rights: NO_RIGHTS } })).rejects.toBeInstanceOf(RangeError);
  });
});

describe('the self-opening page', () => {
  const page = once(() => sealPage(message, PASSWORD, 'everything', settings, TEMPLATE));

  test('an independent library opens its JWE, and finds a ZIP that unpacking programs read', async () => {
    const { jwe } = takenApart(new TextDecoder().decode(await page()))!;
    const python = `import sys
from jwcrypto import jwk, jwe
from jwcrypto.common import base64url_encode
import jwcrypto.jwa
jwcrypto.jwa.default_max_pbkdf2_iterations = 5000000
token = jwe.JWE(algs=['PBES2-HS512+A256KW', 'A256GCM'])
token.deserialize(open(sys.argv[1]).read(), jwk.JWK.from_password(sys.argv[2]))
open(sys.argv[3], 'wb').write(token.payload)`;
    execFileSync('/usr/bin/python3', ['-c', python, at('page.jwe', utf8(jwe)), PASSWORD, at('inside.zip')]);
    const list = said('7zz', ['l', '-slt', at('inside.zip')]).text;
    for (const name of ['message.json', 'Message.html', 'files/Größe – scan.jpg', 'files/notes (2).txt'])
      expect(list).toContain(`Path = ${name}`);
    expect(said('7zz', ['t', at('inside.zip')]).status).toBe(0);
  });

  test('the library’s own opens in ours', async () => {
    const python = `import sys
from jwcrypto import jwk, jwe
token = jwe.JWE(b'The papers.', recipient=jwk.JWK.from_password(sys.argv[1]), protected='{"alg":"PBES2-HS512+A256KW","enc":"A256GCM"}')
print(token.serialize(compact=True))`;
    const jwe = execFileSync('/usr/bin/python3', ['-c', python, PASSWORD], { encoding: 'utf8' }).trim();
    expect(new TextDecoder().decode(await openJwe(jwe, PASSWORD))).toBe('The papers.');
  });

  test('carries everything, and nothing of it readable', async () => {
    const bytes = await page();
    for (const text of [SECRET, 'Medical paper', 'Maren Oduya', 'scan.jpg', 'Pell, 3 March'])
      expect(standsReadable(bytes, text)).toBe(false);
    const taken = takenApart(new TextDecoder().decode(bytes))!;
    expect(taken.template).toBe(TEMPLATE);
    const { message: shown, files } = await openSealed(taken.jwe, PASSWORD);
    expect(shown).toMatchObject({
      subject: message.subject,
      head: [
        ['From', 'Maren Oduya <maren.oduya@larkmoor.example>'],
        ['To', expect.any(String)],
        ['Date', expect.any(String)],
        ['Reference', 'CR-2611'],
        ['Files', expect.any(String)],
      ],
    });
    expect(files.map(({ name, bytes: content }) => [name, content.length])).toEqual([
      ['Größe – scan.jpg', photo.length],
      ['notes.txt', 15],
      ['notes (2).txt', 21],
    ]);
    expect(Buffer.compare(Buffer.from(files[0]!.bytes), photo)).toBe(0);
  });

  test('opens in ours, and says a wrong password', async () => {
    const bytes = await page();
    expect(lockedKind(bytes)).toEqual({ container: 'page', legacy: false, template: TEMPLATE });
    const opened = await openContainer(bytes, PASSWORD);
    expect(opened.message).toMatchObject({ kind: 'page', html: expect.stringContaining(SECRET) as string });
    await expect(openContainer(bytes, 'wrong')).rejects.toMatchObject({ code: 'wrong-password' });
  });

  test('only the files: nothing of the text is in it', async () => {
    const { message: shown, files } = await openSealed(
      takenApart(new TextDecoder().decode(await sealPage(message, PASSWORD, 'files', settings, TEMPLATE)))!.jwe,
      PASSWORD,
    );
    expect(shown).toEqual({ subject: '', head: [], blocks: [] });
    expect(files).toHaveLength(3);
  });

  test('the rounds are what is said, and no file keeps a browser busy for minutes', async () => {
    const jwe = await sealJwe(utf8('x'), PASSWORD, 'text/plain');
    expect(readJweHeader(jwe)).toMatchObject({
      alg: 'PBES2-HS512+A256KW',
      enc: 'A256GCM',
      p2c: ROUNDS,
      cty: 'text/plain',
    });
    const header = Buffer.from(JSON.stringify({ ...readJweHeader(jwe), p2c: 900_000_000 })).toString('base64url');
    await expect(openJwe(`${header}${jwe.slice(jwe.indexOf('.'))}`, PASSWORD)).rejects.toMatchObject({
      code: 'unsupported',
    });
  });
});

describe('in every language', () => {
  test.each(LANGUAGES)('%s: a letter has its head in words that can be drawn', async (language) => {
    const bytes = await set({ lock: undefined, settings: { ...settings, language } });
    const { status, text } = said('pdftotext', ['-layout', at(`letter-${language}.pdf`, bytes), '-']);
    expect(status).toBe(0);
    const spoken = language === 'ar' ? 'en' : language;
    expect(text).toMatch(new RegExp(`^${coverWords(spoken).from}: Maren Oduya`, 'm'));
    expect(text).toContain(`${coverWords(spoken).reference}: CR-2611`);
    expect(text).not.toContain('?');
  });

  test('a self-opening page in Arabic runs from right to left, and is known again as ours', async () => {
    const page = new TextDecoder().decode(
      await sealPage(message, PASSWORD, 'everything', { ...settings, language: 'ar' }, TEMPLATE),
    );
    expect(page).toContain('<html lang="ar" dir="rtl">');
    expect(takenApart(page)?.template).toBe(TEMPLATE);
  });
});
