/**
 * Statements: any change is noticed, by ours and by others' programs; the PDF carries the very file and is well set on
 * both papers.
 */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { statementPdf } from '../src/statement/pdf';
import {
  type AnyStatement,
  type DeliveryStatement,
  type Statement,
  type StatementFile,
  type StatementKey,
} from '../src/statement/format';
import { checkStatement, inGroups, signStatement, statementFile, thumbprint } from '../src/statement/statement';
import { fromBase64Url, fromUtf8, toBase64Url, utf8 } from '../src/bytes';

const folder = mkdtempSync(join(tmpdir(), 'under-lock-statement-'));
afterAll(() => rmSync(folder, { recursive: true }));
const font = (weight: 400 | 700): Uint8Array =>
  new Uint8Array(readFileSync(join(__dirname, `../../app/public/fonts/next-${weight}.ttf`)));

const reader = (index: number): Statement['ended'][number] => ({
  id: `00000000-0000-4000-8000-${String(index).padStart(12, '0')}`,
  reader: {
    name: index === 0 ? 'Pell Anders' : '',
    address:
      index === 0
        ? 'pell.anders@postbox.example'
        : `reader.${index}@${'a-very-long-department-name.'.repeat(4)}saltmarsh.example`,
  },
  state: index % 2 === 0 ? 'withdrawn' : 'closed',
  endedAt: '2026-11-24T10:00:00.000Z',
  opened:
    index % 3 === 0 ? { count: 0 } : { count: 2, first: '2026-11-20T09:00:00.000Z', last: '2026-11-21T09:00:00.000Z' },
  given: false,
  backupsUntil: '2026-12-29T10:00:00.000Z',
});
const statement = (count = 2): Statement => ({
  format: 'under-lock/statement/2',
  id: '00000000-0000-4000-8000-00000000000f',
  madeAt: '2026-11-24T12:00:00.000Z',
  office: { name: 'Larkmoor Ferries', domain: 'larkmoor.example' },
  message: {
    id: '00000000-0000-4000-8000-0000000000aa',
    reference: 'AR-2611-009',
    sentAt: '2026-11-19T09:00:00.000Z',
    sender: { name: 'Maren Oduya', address: 'maren.oduya@larkmoor.example' },
    contentSha256: 'ab'.repeat(32),
  },
  ended: Array.from({ length: count }, (_, index) => reader(index)),
  stillOpen: 1,
});

async function signed(): Promise<StatementFile>;
async function signed<Of extends AnyStatement>(what: Of): Promise<StatementFile<Of>>;
async function signed(what: AnyStatement = statement()): Promise<StatementFile<AnyStatement>> {
  const pair = await crypto.subtle.generateKey({ name: 'ECDSA', namedCurve: 'P-256' }, true, ['sign', 'verify']);
  const { x, y } = await crypto.subtle.exportKey('jwk', pair.publicKey);
  const key: StatementKey = { kty: 'EC', crv: 'P-256', x: x!, y: y! };
  const jws = await signStatement(
    what,
    await thumbprint(key),
    async (bytes) =>
      new Uint8Array(await crypto.subtle.sign({ name: 'ECDSA', hash: 'SHA-256' }, pair.privateKey, bytes)),
  );
  return { statement: what, jws, key };
}

test('a statement reads back as it was signed, with the thumbprint of its key', async () => {
  const file = await signed();
  expect(await checkStatement(statementFile(file))).toEqual({
    ok: true,
    statement: file.statement,
    keyThumbprint: await thumbprint(file.key),
  });
});

test('the thumbprint is that of RFC 7638 for the example key of RFC 7517 appendix A.1', async () => {
  const key: StatementKey = {
    kty: 'EC',
    crv: 'P-256',
    x: 'MKBCTNIcKUSDii11ySs3526iDZ8AiTo7Tu6KPAqv7D4',
    y: '4Etl6SRW2YiLUrN5vfvVHuhp7x8PxltmWWlbbM4IFyM',
  };
  const python = `import hashlib, json
key = json.loads('''${JSON.stringify(key)}''')
print(hashlib.sha256(json.dumps({k: key[k] for k in sorted(['crv', 'kty', 'x', 'y'])}, separators=(',', ':')).encode()).hexdigest())`;
  expect(await thumbprint(key)).toBe(execFileSync('/usr/bin/python3', ['-c', python], { encoding: 'utf8' }).trim());
});

test('an independent library finds the signature right, and wrong once a letter is changed', async () => {
  const { jws, key, statement: what } = await signed();
  const python = `import json, sys
from jwcrypto import jwk, jws
token = jws.JWS()
token.deserialize(sys.argv[1], jwk.JWK(**json.loads(sys.argv[2])))
print(token.payload.decode())`;
  const judge = (token: string): string =>
    execFileSync('/usr/bin/python3', ['-c', python, token, JSON.stringify(key)], {
      encoding: 'utf8',
      stdio: ['ignore', 'pipe', 'ignore'],
    });
  expect(JSON.parse(judge(jws))).toEqual(what);
  const [head, payload, signature] = jws.split('.') as [string, string, string];
  const other = toBase64Url(utf8(fromUtf8(fromBase64Url(payload)).replace('withdrawn', 'closed')));
  expect(() => judge(`${head}.${other}.${signature}`)).toThrow();
});

test('whatever is changed in the file, the check does not pass', async () => {
  const bytes = statementFile(await signed());
  await fc.assert(
    fc.asyncProperty(fc.nat(bytes.length - 1), fc.integer({ min: 1, max: 255 }), async (at, by) => {
      const changed = bytes.slice();
      changed[at] = (changed[at]! + by) & 255;
      const result = await checkStatement(changed);
      // White space between the parts says nothing; everything else is noticed.
      if (result.ok) expect(String.fromCharCode(bytes[at]!, changed[at]!)).toMatch(/^\s\s$/);
    }),
    { numRuns: 300 },
  );
});

test('a key or signature spelled with other unused bits is another file, and refused', async () => {
  const file = await signed();
  const respelled = (text: string): string =>
    text.slice(0, -1) +
    'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789-_'[
      'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789-_'.indexOf(text.at(-1)!) + 1
    ]!;
  for (const other of [
    { ...file, key: { ...file.key, x: respelled(file.key.x) } },
    { ...file, key: { ...file.key, y: respelled(file.key.y) } },
    { ...file, jws: respelled(file.jws) },
  ]) {
    expect((await checkStatement(utf8(JSON.stringify(other)))).ok).toBe(false);
  }
});

test.each([
  [
    'a readable part that says something else',
    (file: StatementFile) => ({ ...file, statement: { ...file.statement, stillOpen: 0 } }),
    'altered',
  ],
  ['another key', async (file: StatementFile) => ({ ...file, key: (await signed()).key }), 'signature'],
  [
    'no algorithm',
    (file: StatementFile) => ({ ...file, jws: `${toBase64Url(utf8('{"alg":"none"}'))}.${file.jws.split('.')[1]}.` }),
    'signature',
  ],
  [
    'an algorithm of shared keys',
    (file: StatementFile) => ({
      ...file,
      jws: [toBase64Url(utf8('{"alg":"HS256"}')), ...file.jws.split('.').slice(1)].join('.'),
    }),
    'signature',
  ],
  ['a key that is no point', (file: StatementFile) => ({ ...file, key: { ...file.key, y: file.key.x } }), 'signature'],
  ['something else altogether', () => ({ hello: 'world' }), 'not-a-statement'],
] as const)('%s is refused', async (_, change, failure) => {
  const file = await change(await signed());
  expect(await checkStatement(utf8(JSON.stringify(file, null, 2)))).toEqual({ ok: false, failure });
});

test.each([
  ['nothing', ''],
  ['no JSON', 'x{'],
  ['a PDF without a statement', '%PDF-1.7\nhello'],
  ['an array', '[]'],
  ['half a file', '{"statement": {'],
])('%s is no statement', async (_, text) =>
  expect(await checkStatement(utf8(text))).toEqual({ ok: false, failure: 'not-a-statement' }),
);
test('a file of five megabytes is not looked at', async () =>
  expect(await checkStatement(new Uint8Array(5_000_000))).toEqual({ ok: false, failure: 'too-large' }));

describe.each(['a4', 'letter'] as const)('as a PDF on %s', (paper) => {
  const make = async (count: number, subject = 'Accident report MV Teal, Łódź, Ђ') => {
    const file = await signed(statement(count));
    const pdf = await statementPdf({
      file,
      subject,
      fonts: { regular: font(400), bold: font(700) },
      paper,
      say: (instant) => instant.slice(0, 16).replace('T', ' '),
    });
    const path = join(folder, `${paper}-${count}.pdf`);
    writeFileSync(path, pdf);
    return { file, pdf, path };
  };
  const run = (command: string, ...args: string[]): string => execFileSync(command, args, { encoding: 'utf8' });

  it('is sound, says everything, and carries the very file, which the check takes from the PDF too', async () => {
    const { file, pdf, path } = await make(2);
    expect(run('qpdf', '--check', path)).toContain('No syntax or stream encoding errors found');
    const text = run('pdftotext', '-layout', path, '-').replace(/\s+/g, ' ');
    for (const said of [
      'Statement of ended access',
      'Accident report MV Teal, Łódź, ?',
      'Pell Anders <pell.anders@postbox.example>',
      'Withdrawn by the sender 2026-11-24 10:00; never opened.',
      'Closed by its date 2026-11-24 10:00; opened 2 times',
      'One other access',
      inGroups(await thumbprint(file.key)).slice(0, 20),
    ])
      expect(text).toContain(said);
    run('pdfdetach', '-save', '1', '-o', `${path}.json`, path);
    expect(readFileSync(`${path}.json`).equals(Buffer.from(statementFile(file)))).toBe(true);
    expect(await checkStatement(pdf)).toMatchObject({ ok: true });
    const changed = Buffer.from(pdf);
    changed.write('closed', changed.indexOf('"state": "withdrawn"') + 10, 'latin1');
    expect((await checkStatement(new Uint8Array(changed))).ok).toBe(false);
  });

  it('runs on over numbered pages, long addresses broken and none cut', async () => {
    const { path } = await make(60);
    const pages = Number(/Pages:\s+(\d+)/.exec(run('pdfinfo', path))![1]);
    expect(pages).toBeGreaterThan(4);
    expect(run('pdfinfo', path)).toContain(paper === 'a4' ? '(A4)' : '(letter)');
    const text = run('pdftotext', path, '-');
    for (let page = 1; page <= pages; page++) expect(text).toContain(`page ${page} of ${pages}`);
    const whole = text.replace(/\s+/g, '');
    for (let index = 1; index < 60; index++) expect(whole).toContain(`reader.${index}@`);
    // Nothing stands beyond the margins.
    const boxes = [...run('pdftotext', '-bbox', path, '-').matchAll(/<word xMin="([\d.]+)"[^>]*xMax="([\d.]+)"/g)];
    const width = paper === 'a4' ? 595 : 612;
    for (const [, from, to] of boxes) expect([Number(from) >= 55, Number(to) <= width - 55]).toEqual([true, true]);
  });
});

const delivery = (count: number): DeliveryStatement => {
  const { ended: _, stillOpen: __, ...about } = statement();
  return {
    ...about,
    format: 'under-lock/delivery/1',
    accesses: Array.from({ length: count }, (_one, index) => ({
      id: reader(index).id,
      reader: reader(index).reader,
      told:
        index % 2 === 0
          ? { kind: 'notice', state: 'accepted', at: '2026-11-19T09:01:00.000Z', answer: '250 Ok' }
          : { kind: 'list', state: 'accepted' },
      proof: index % 2 === 0 ? { kind: 'text', question: true } : { kind: 'account', question: false },
      opened: reader(index).opened,
      ...(index === 1 ? { confirmedAt: '2026-11-21T09:30:00.000Z' } : {}),
      state: index === 2 ? 'withdrawn' : 'held',
      until: '2026-12-03T17:00:00.000Z',
    })),
    copies: [
      {
        id: reader(99).id,
        reader: { name: 'Harbour Clinic', address: 'records@harbourclinic.example' },
        lock: 'certificate',
        state: 'bounced',
        at: '2026-11-19T10:00:00.000Z',
      },
    ],
  };
};

test('a delivery is on paper what is signed, in whole sentences, and the check takes the PDF', async () => {
  const file = await signed(delivery(3));
  const pdf = await statementPdf({
    file,
    subject: 'Fitness papers',
    fonts: { regular: font(400), bold: font(700) },
    paper: 'a4',
    say: (instant) => instant.slice(0, 16).replace('T', ' '),
  });
  const path = join(folder, 'delivery.pdf');
  writeFileSync(path, pdf);
  const text = execFileSync('pdftotext', ['-layout', path, '-'], { encoding: 'utf8' }).replace(/\s+/g, ' ');
  for (const said of [
    'Statement of delivery',
    'The notice was taken by their mail host 2026-11-19 09:01, which answered “250 Ok”.',
    'Whoever opens it has passed a passcode sent by text message and the answer to a question: never opened.',
    'It lay in their own list in the office.',
    'They confirmed having read it 2026-11-21 09:30.',
    'Withdrawn by the sender 2026-12-03 17:00.',
    'Encrypted to their certificate. The mail came back 2026-11-19 10:00. Whether a copy was opened, nobody but its reader knows.',
  ])
    expect(text).toContain(said);
  expect(await checkStatement(pdf)).toMatchObject({ ok: true, statement: file.statement });
  const changed = Buffer.from(pdf);
  changed.write('2027', changed.indexOf('"confirmedAt": "2026') + 16, 'latin1');
  expect((await checkStatement(new Uint8Array(changed))).ok).toBe(false);
});
