/** Messages built and read back, by us and by Debian's python; addresses; file names; notices. */
import { execFileSync } from 'node:child_process';
import fc from 'fast-check';
import PostalMime from 'postal-mime';
import { concat, fromUtf8, randomBytes, sameBytes, toBase64Url, utf8 } from '../src/bytes';
import { base64Lines, fromBase64Lines } from '../src/message/base64';
import { buildMessage } from '../src/message/build';
import { type MessageContent } from '../src/message/content';
import { distinctNames, safeFileName } from '../src/file-name';
import { readMessage } from '../src/message/read';
import { buildNotice } from '../src/locks/carried/notice';
import { type Notice, passcodeText, noticeText } from '../src/notice/notice';
import { noticeWords } from '../src/notice/words';
import { LANGUAGES } from '../src/language';
import { addressHint } from '../src/people/address-hint';
import { addressKey, checkAddress } from '../src/people/address';
import { readRecipients } from '../src/outgoing/recipient-list';
import { checkPhone, phoneCountries } from '../src/people/phone';
import { phoneHint } from '../src/people/phone-hint';

const message: MessageContent = {
  messageId: 'a-1@larkmoor.example',
  from: { name: 'Maren Oduya', address: 'maren.oduya@larkmoor.example' },
  to: [
    { name: 'Pell "Skip" Anders', address: 'pell.anders@postbox.example' },
    { name: 'Žofie Ånström-Ñandú 陳', address: 'z@postbox.example' },
  ],
  cc: [{ name: '', address: 'office@saltmarsh.example' }],
  subject: 'Fitness papers — für die Wintersaison, très long subject that goes well past one encoded word 陳大文',
  date: new Date('2026-11-24T10:44:00Z'),
  reference: 'CR-2611-204',
  text: 'Dear all,\n\nFrom here\n.dot\n--a-a1larkmoorexample\ntrailing  \n',
  html: '<p>Dear <b>all</b></p>',
  files: [
    { name: 'fitness ü 2026.pdf', type: 'application/pdf', bytes: new Uint8Array([0, 1, 2, 255, 13, 10, 46]) },
    { name: 'fitness ü 2026.pdf', type: 'weird', bytes: new Uint8Array(0) },
  ],
};

test('a message comes back as it went in', async () => {
  const read = await readMessage(buildMessage(message));
  expect(read).toMatchObject({
    messageId: message.messageId,
    from: message.from,
    to: message.to,
    cc: message.cc,
    subject: message.subject,
    date: message.date,
    reference: message.reference,
  });
  expect(read.text.trimEnd()).toBe(message.text.trimEnd());
  expect(read.html.trim()).toBe(message.html);
  expect(read.files.map(({ name, type, bytes }) => [name, type, [...bytes]])).toEqual([
    ['fitness ü 2026.pdf', 'application/pdf', [0, 1, 2, 255, 13, 10, 46]],
    ['fitness ü 2026 (2).pdf', 'application/octet-stream', []],
  ]);
});

test('Debian’s python reads the same', () => {
  const script = `
import sys, json, email, email.policy
m = email.message_from_bytes(sys.stdin.buffer.read(), policy=email.policy.default)
print(json.dumps({'subject': m['subject'], 'to': [(a.display_name, a.addr_spec) for a in m['to'].addresses], 'date': m['date'].datetime.isoformat(), 'text': m.get_body(('plain',)).get_content(),
 'html': m.get_body(('html',)).get_content(), 'files': [(a.get_filename(), a.get_content_type(), list(a.get_payload(decode=True))) for a in m.iter_attachments()], 'defects': [str(d) for p in m.walk() for d in p.defects]}))`;
  const read = JSON.parse(
    execFileSync('/usr/bin/python3', ['-c', script], { input: buildMessage(message), encoding: 'utf8' }),
  ) as Record<string, unknown>;
  expect(read).toMatchObject({
    subject: message.subject,
    to: message.to.map(({ name, address }) => [name, address]),
    date: '2026-11-24T10:44:00+00:00',
    defects: [],
    files: [
      ['fitness ü 2026.pdf', 'application/pdf', [0, 1, 2, 255, 13, 10, 46]],
      ['fitness ü 2026 (2).pdf', 'application/octet-stream', []],
    ],
  });
  expect(String(read.text).trimEnd()).toBe(message.text.trimEnd());
});

test.each(['subject', 'reference', 'messageId'] as const)('a line break in the %s is refused, not sent', (field) => {
  expect(() => buildMessage({ ...message, [field]: 'x\r\nBcc: y@evil.example' })).toThrow(/Control character/);
});
test('a line break in a name or an address is refused too', () => {
  expect(() => buildMessage({ ...message, to: [{ name: 'a\nb', address: 'a@b.example' }] })).toThrow(/header To/);
  expect(() => buildMessage({ ...message, from: { name: '', address: 'a@b.example\r\nX: y' } })).toThrow(/header From/);
});

test('base64 lines are what Buffer makes, at every length around a line and a block', () => {
  for (const length of [0, 1, 2, 3, 56, 57, 58, 114, 57 * 4096 - 1, 57 * 4096, 57 * 4096 + 1, 500_000]) {
    const bytes = new Uint8Array(length).map((_, index) => index * 7);
    const lines = Buffer.from(base64Lines(bytes)).toString('ascii');
    expect(lines.replace(/\r\n/g, '') === Buffer.from(bytes).toString('base64')).toBe(true);
    expect(lines === '' || lines.split('\r\n').every((line) => line.length <= 76)).toBe(true);
    expect(Buffer.compare(fromBase64Lines(Buffer.from(lines)), bytes)).toBe(0);
  }
});

test('what is no base64 between the characters is passed over, and padding ends it', () => {
  expect(Buffer.from(fromBase64Lines(Buffer.from('VGhl \r\n*cGFw\tZXJz!==VGhl'))).toString()).toBe('Thepapers');
  expect(Buffer.from(fromBase64Lines(Buffer.from('VGhlIHBhcGVycw'))).toString()).toBe('The papers');
  expect(fromBase64Lines(Buffer.from('V')).length).toBe(0);
});

test('bytes that are no mail give a typed error or a message, never anything else', async () => {
  await fc.assert(
    fc.asyncProperty(fc.uint8Array({ maxLength: 400 }), async (bytes) => {
      try {
        return (await readMessage(bytes)).files.length >= 0;
      } catch (error) {
        return (error as Error).name === 'MessageReadError';
      }
    }),
    { numRuns: 200 },
  );
  const nested = `${Array.from({ length: 60 }, (_, depth) => `Content-Type: multipart/mixed; boundary=b${depth}\r\n\r\n--b${depth}\r\n`).join('')}x`;
  await expect(readMessage(new Uint8Array(Buffer.from(nested)))).rejects.toMatchObject({ name: 'MessageReadError' });
});

test('a subject is one line, however it was folded or encoded, and can be sent again', async () => {
  const subjectOf = async (field: string): Promise<string> =>
    (await readMessage(utf8(`From: a@b.example\r\nSubject: ${field}\r\n\r\nText\r\n`))).subject;
  expect(await subjectOf('One\r\n\ttwo\r\n three')).toBe('One two three');
  const hidden = await subjectOf('=?utf-8?q?One=0D=0ABcc:_x@y.example=09?= =?utf-8?q?two?=');
  expect(hidden).toBe('One Bcc: x@y.example two');
  expect((await readMessage(buildMessage({ ...message, subject: hidden }))).subject).toBe(hidden);
});

test('what stands behind the last field is text, also without an empty line before it', async () => {
  const read = async (mail: string) => readMessage(utf8(mail.replace(/\n/g, '\r\n')));
  const head = 'From: a@b.example\nSubject: Fit\n';
  expect(await read(`${head}The number of the account, by hand\n`)).toMatchObject({
    subject: 'Fit',
    text: 'The number of the account, by hand\n',
  });
  expect((await read(`${head}The number\n\nof: it\n`)).text).toBe('The number\n\nof: it\n');
  expect(await read(`From x@y Mon Nov 30 08:00:00 2026\n${head}\nText\n`)).toMatchObject({
    from: { address: 'a@b.example' },
    text: 'Text\n',
  });
  expect((await read('No head at all, and no field: nothing but text\n')).text).toBe(
    'No head at all, and no field: nothing but text\n',
  );
  const part = `${head}Content-Type: multipart/mixed; boundary=x\n\n--x\nIn a part without a head\n--x--\n`;
  expect((await read(part)).text).toBe('In a part without a head');
});

describe('addresses', () => {
  it.each([
    ['pell.anders@postbox.example', 'pell.anders@postbox.example'],
    [' Pell@POSTBOX.Example ', 'Pell@postbox.example'],
    ["o'hara+crew@a-b.example", "o'hara+crew@a-b.example"],
    ['"quoted local"@postbox.example', '"quoted local"@postbox.example'],
    ['jörg@fähre.example', 'jörg@xn--fhre-loa.example'],
    ['用户@例子.example', '用户@xn--fsqu00a.example'],
  ])('%s is %s', (typed, address) => expect(checkAddress(typed)).toEqual({ ok: true, address }));
  it.each([
    ['', 'no-at'],
    ['pell', 'no-at'],
    ['@postbox.example', 'no-at'],
    ['pell@', 'no-at'],
    ['pell..anders@postbox.example', 'local-part'],
    ['.pell@postbox.example', 'local-part'],
    ['pe ll@postbox.example', 'local-part'],
    ['pell@localhost', 'no-dot'],
    ['pell@-bad.example', 'domain'],
    ['pell@bad_.example', 'domain'],
    ['pell@1.2.3.4', 'domain'],
    ['pell@[1.2.3.4]', 'domain'],
    ['pell@a..example', 'domain'],
    ['pell@x.example/y', 'domain'],
    [`${'a'.repeat(65)}@postbox.example`, 'too-long'],
    [`a@${'b'.repeat(60)}.${'c'.repeat(63)}.${'d'.repeat(63)}.${'e'.repeat(63)}.example`, 'domain'],
    ['a@b.example\r\nBcc: x@y.example', 'local-part'],
  ])('%s is refused: %s', (typed, problem) => expect(checkAddress(typed)).toEqual({ ok: false, problem }));

  it('splits a pasted list however it is written, and merges duplicates', () => {
    const { accepted, rejected } = readRecipients(
      '"Aune, Dr" <records@harbourclinic.example>; pell@postbox.example\nPELL@postbox.example\tnobody here, x@y',
    );
    expect(accepted).toEqual([
      { name: 'Aune, Dr', address: 'records@harbourclinic.example' },
      { name: '', address: 'pell@postbox.example' },
    ]);
    expect(rejected.length).toBeGreaterThan(0);
  });
  it('lets no name show as another address by turning the reading direction', () => {
    expect(readRecipients('"a\u202eb\u0007c" <x@postbox.example>').accepted[0]!.name).toBe('a bc');
  });
  it('never hands out what it would refuse', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 200 }), (text) =>
        readRecipients(text).accepted.every(
          ({ address }) => checkAddress(address).ok && addressKey(address) === addressKey(address.toUpperCase()),
        ),
      ),
    );
  });
  it('hints at an address without giving it away', () =>
    expect(addressHint('p.anders@islandmail.example')).toBe('p···@islandmail.example'));
});

describe('phones', () => {
  it('reads a number in its country and refuses what is none', () => {
    expect(checkPhone('07700 900417', 'GB')).toMatchObject({ ok: true, e164: '+447700900417' });
    expect(checkPhone('+351 912 345 678', 'GB')).toMatchObject({ ok: true, e164: '+351912345678' });
    expect(checkPhone('12', 'GB')).toMatchObject({ ok: false });
    expect(checkPhone('', 'GB')).toEqual({ ok: false, problem: 'empty' });
    expect(checkPhone('call me', 'GB')).toEqual({ ok: false, problem: 'not-a-number' });
    expect(phoneCountries().length).toBeGreaterThan(200);
    expect(phoneHint('+447700900417')).toBe('···\u00a0417');
  });
});

describe('file names', () => {
  it.each([
    ['../../etc/passwd', 'passwd'],
    ['C:\\temp\\scan.pdf', 'scan.pdf'],
    ['invoice\u202efdp.exe', 'invoicefdp.exe'],
    ['con.txt', '_con.txt'],
    ['a<b>:"c|?*.txt', 'a_b___c___.txt'],
    ['...', 'file'],
    ['', 'file'],
    ['name. . ', 'name'],
  ])('%j becomes %j', (name, safe) => expect(safeFileName(name)).toBe(safe));
  it('keeps the extension of an endless name, and is safe whatever comes', () => {
    expect(safeFileName(`${'x'.repeat(500)}.pdf`)).toMatch(/^x{196}\.pdf$/);
    fc.assert(
      fc.property(fc.string({ maxLength: 300 }), (name) => {
        const safe = safeFileName(name);
        return (
          safe.length > 0 && safe.length <= 200 && !/[/\\\p{Cc}<>:"|?*]/u.test(safe) && safe !== '.' && safe !== '..'
        );
      }),
    );
  });
  it('tells files of one name apart', () =>
    expect(distinctNames(['a.pdf', 'A.pdf', 'a.pdf', 'b'])).toEqual(['a.pdf', 'A (2).pdf', 'a (3).pdf', 'b']));
});

describe('notice', () => {
  const notice: Notice = {
    messageId: 'n@larkmoor.example',
    date: new Date('2026-11-24T10:00:00Z'),
    officeName: 'Larkmoor Ferries',
    sender: { name: 'Maren <b>Oduya</b>', address: 'maren.oduya@larkmoor.example' },
    recipient: { name: 'Pell', address: 'pell.anders@postbox.example' },
    closesAt: new Date('2026-12-03T17:00:00Z'),
    zone: 'Europe/Lisbon',
    check: { kind: 'text', hint: '··· 417', question: false },
    link: `https://room.example/room/x#${toBase64Url(new Uint8Array(32))}`,
    language: 'en',
  };
  it('says who, to whom, until when and what to do, in text and in HTML, with nothing remote and nothing that runs', async () => {
    const mail = await PostalMime.parse(buildNotice(notice));
    for (const body of [mail.text!, mail.html!])
      for (const part of [
        'Pell',
        'maren.oduya@larkmoor.example',
        'Thu 3 December 2026, 17:00',
        '417',
        notice.link.replace('#', body === mail.html ? '#' : '#'),
      ])
        expect(
          body.replace(/&#35;/g, '#').replace(/&#(\d+);/g, (_, code: string) => String.fromCharCode(Number(code))),
        ).toContain(part);
    expect(mail.html).not.toMatch(/<img|<script|<link|url\(|<b>Oduya/);
    expect([...mail.html!.matchAll(/(?:src|href)="([^"]*)"/g)].map(([, url]) => url)).toHaveLength(1);
  });
  it.each(LANGUAGES)(
    'says in %s where answers belong, where it may be answered; as before where it is not said',
    async (language) => {
      const said = noticeWords(language).answerThere;
      const there = await PostalMime.parse(buildNotice({ ...notice, language, answerThere: true }));
      expect(there.text).toContain(said);
      const without = await PostalMime.parse(buildNotice({ ...notice, language }));
      expect(without.text).not.toContain(said);
      expect(there.text!.replace(`${said}\n\n`, '')).toBe(without.text);
    },
  );
  it('is the same bytes from the same input', () =>
    expect(Buffer.compare(buildNotice(notice), buildNotice({ ...notice }))).toBe(0));
  it('falls back to English for a language it has not learnt', () =>
    expect(noticeText({ ...notice, language: 'xx' }).subject).toContain('has left a message for you to read'));
});

describe('notices in other languages', () => {
  const notice = (language: string): Notice => ({
    messageId: 'n@larkmoor.example',
    date: new Date('2026-11-24T10:00:00Z'),
    officeName: 'Larkmoor Ferries',
    sender: { name: 'Maren Oduya', address: 'maren.oduya@larkmoor.example' },
    recipient: { name: 'Pell', address: 'pell.anders@postbox.example' },
    closesAt: new Date('2026-12-03T17:00:00Z'),
    zone: 'Europe/Lisbon',
    check: { kind: 'voice', hint: '··· 417', question: true },
    link: 'https://room.example/room/x#y',
    language,
  });
  it.each([
    [
      'de',
      'Maren Oduya hat eine Nachricht für Sie hinterlegt',
      /bis Do\.?,? 3\. Dezember 2026, 17:00/,
      /Außerdem werden Sie etwas gefragt/,
    ],
    [
      'pt',
      'Maren Oduya deixou-lhe uma mensagem para ler',
      /até quinta, 3 de dezembro de 2026, 17:00|até qui\.?,? 3 de dezembro de 2026, 17:00/,
      /é-lhe feita também uma pergunta/i,
    ],
    [
      'en',
      'Maren Oduya has left a message for you to read',
      /until Thu 3 December 2026, 17:00/,
      /also asked a question/,
    ],
    [
      'xx',
      'Maren Oduya has left a message for you to read',
      /until Thu 3 December 2026, 17:00/,
      /also asked a question/,
    ],
  ])('%s: subject, date in its own way, the question besides', async (language, subject, date, question) => {
    const mail = await PostalMime.parse(buildNotice(notice(language)));
    expect(mail.subject).toBe(subject);
    expect(mail.text).toMatch(date);
    expect(mail.text).toMatch(question);
  });
  it('counts one minute and several in each', () => {
    expect(
      ['en', 'de', 'pt'].map(
        (language) => passcodeText('482913', 'Larkmoor', 1, language).match(/1 \w+|für 1 \w+/)![0],
      ),
    ).toEqual(['1 minute', '1 Minute', '1 minuto']);
    expect(
      ['en', 'de', 'pt'].map((language) => passcodeText('482913', 'Larkmoor', 10, language).match(/10 \w+/)![0]),
    ).toEqual(['10 minutes', '10 Minuten', '10 minutos']);
  });
});

test('a large file comes back octet for octet, beside small ones, under whatever its base64 is broken into; its place-holder can’t be guessed', async () => {
  const large = concat(...Array.from({ length: 4 }, () => randomBytes(50_000)));
  const raw = buildMessage({
    ...message,
    files: [
      { name: 'a.bin', type: 'application/octet-stream', bytes: large },
      { name: 'b.txt', type: 'text/plain', bytes: utf8('small') },
      { name: 'c.bin', type: 'application/octet-stream', bytes: large.slice(0, 90_000) },
    ],
  });
  for (const form of [raw, utf8(fromUtf8(raw).replaceAll('\r\n', '\n'))]) {
    const { files } = await readMessage(form);
    expect(files.map(({ name, bytes }) => [name, bytes.length])).toEqual([
      ['a.bin', 200_000],
      ['b.txt', 5],
      ['c.bin', 90_000],
    ]);
    expect(sameBytes(files[0]!.bytes, large) && sameBytes(files[2]!.bytes, large.slice(0, 90_000))).toBe(true);
  }
  // Cut off in the middle of the file: what there is of it.
  expect((await readMessage(raw.slice(0, 150_000))).files[0]!.bytes.length).toBeGreaterThan(100_000);
});
