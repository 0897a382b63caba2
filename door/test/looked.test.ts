/** The door looks into what mail programs send along as a browser does: PDF, archives, office files, and what it can't open. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { randomUUID } from 'node:crypto';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Worker } from '../../server/test/house';
import {
  type Correspondent,
  correspondent,
  type DoorHouse,
  handIn,
  makeRule,
  openDoorHouse,
  whysOf,
} from './mail-programs';

const MAREN = 'maren.oduya@larkmoor.example';
const ACCOUNT = 'DE37 7158 1210 8817 7869 89';
const folder = mkdtempSync(join(tmpdir(), 'under-lock-door-'));
let house: DoorHouse;
let maren: Correspondent;
let admin: Worker;

beforeAll(async () => {
  house = await openDoorHouse();
  maren = await correspondent(house, 'maren.oduya');
  admin = await house.worker('ines.varga', 'administrator');
  await makeRule(
    admin,
    'Accounts',
    [{ kind: 'finding-is', kinds: ['account'], sureOnly: true, least: 1 }],
    [{ kind: 'stop', sentence: 'Accounts go by courier.' }],
  );
  await makeRule(
    admin,
    'Unread',
    [{ kind: 'file-is', kinds: ['picture', 'archive', 'pdf'], locked: 'any', unreadOnly: true, leastSize: 0 }],
    [{ kind: 'stop', sentence: 'Nobody knows what is in it.' }],
  );
}, 120_000);
afterAll(() => house.stop());

/** A page that says it. */
const pdfSaying = (text: string): Buffer => {
  const drawn = `BT /F1 12 Tf 72 700 Td (${text}) Tj ET`;
  const objects = [
    '<< /Type /Catalog /Pages 2 0 R >>',
    '<< /Type /Pages /Kids [3 0 R] /Count 1 >>',
    '<< /Type /Page /Parent 2 0 R /MediaBox [0 0 595 842] /Contents 4 0 R /Resources << /Font << /F1 5 0 R >> >> >>',
    `<< /Length ${drawn.length} >>\nstream\n${drawn}\nendstream`,
    '<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica >>',
  ];
  const body = objects.map((one, index) => `${index + 1} 0 obj\n${one}\nendobj\n`).join('');
  return Buffer.from(`%PDF-1.4\n${body}trailer\n<< /Root 1 0 R /Size 6 >>\n%%EOF\n`, 'latin1');
};

function archiveSaying(text: string): Buffer {
  const [plain, packed] = [join(folder, 'pay.csv'), join(folder, `${randomUUID()}.7z`)];
  writeFileSync(plain, `Ada Lind;${text}\n`);
  execFileSync('/usr/bin/7zz', ['a', packed, plain], { stdio: 'ignore' });
  return readFileSync(packed);
}

/** What its writer is told of a mail of this content, which begins with its type. */
async function saidOfMail(content: string): Promise<string[]> {
  const subject = `Looked into ${randomUUID().slice(0, 8)}`;
  await handIn(
    house,
    maren,
    `From: ${MAREN}\r\nTo: pell@postbox.example\r\nSubject: ${subject}\r\nMIME-Version: 1.0\r\n${content}`,
    ['pell@postbox.example'],
  );
  const whys = await whysOf(maren);
  return whys.find((why) => why.subject === subject)!.sentences.filter((one) => one.includes('rule'));
}

function saidOf(name: string, bytes: Buffer): Promise<string[]> {
  const base64 = bytes.toString('base64').replace(/.{76}/g, '$&\r\n');
  return saidOfMail(
    `Content-Type: multipart/mixed; boundary=b\r\n\r\n--b\r\n\r\nSee the file.\r\n--b\r\nContent-Type: application/octet-stream\r\nContent-Disposition: attachment; filename="${name}"\r\nContent-Transfer-Encoding: base64\r\n\r\n${base64}\r\n--b--\r\n`,
  );
}

const inBoth = (text: string, html: string): string =>
  `Content-Type: multipart/alternative; boundary=b\r\n\r\n--b\r\nContent-Type: text/plain\r\n\r\n${text}\r\n--b\r\nContent-Type: text/html\r\n\r\n${html}\r\n--b--\r\n`;

const [accounts, unread] = ['Accounts', 'Unread'].map((name) => `what the rule “${name}” asks: it can’t go like this`);
const picture = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
);

test.each<[string, () => Buffer, (string | undefined)[]]>([
  ['an account in a PDF', () => pdfSaying(`Pay to ${ACCOUNT}`), [accounts]],
  ['none in a PDF', () => pdfSaying('Pay in cash'), []],
  ['an account in an archive', () => archiveSaying(ACCOUNT), [accounts]],
  ['none in an archive', () => archiveSaying('by courier'), []],
  ['a picture, which nobody looks into', () => picture, [unread]],
  ['half a PDF', () => pdfSaying('Pay to').subarray(0, 40), [unread]],
])('%s', async (name, bytes, sentences) => {
  expect(await saidOf(`${name.replace(/\W+/g, '-')}.bin`, bytes())).toEqual(sentences);
});

test.each([
  ['only formatted', `Content-Type: text/html\r\n\r\n<p>Pay to <b>${ACCOUNT}</b>.</p>\r\n`],
  ['in its formatted form', inBoth('This mail needs another program.', `<p>Pay to ${ACCOUNT}.</p>`)],
  ['in its plain form', inBoth(`Pay to ${ACCOUNT}.`, '<p>Pay in cash.</p>')],
])('an account in a mail that is %s', async (_, content) => {
  expect(await saidOfMail(content)).toEqual([accounts]);
});
