/**
 * @jest-environment node
 *
 * What a fixed draft becomes with fixed randomness, by every lock: the attempt, what each lock is given to seal, the
 * octets of the room's content, and the dispatch. Held in `sending-golden.json`, which a move of code leaves as it is.
 * `UNDERLOCK_GOLDEN=write` writes it anew, when a change is meant.
 */
import { keyFingerprint } from '@under-lock/core/account/key-fingerprint';
import { makeKeyPair } from '@under-lock/core/account/key-pair';
import { sha256, toBase64Url } from '@under-lock/core/bytes';
import { ALL_RIGHTS } from '@under-lock/core/handling/handling';
import { OUR_RULES } from '@under-lock/core/locks/file/rules';
import { type CopyOrder } from '@under-lock/core/locks/index';
import { OUR_LOOK } from '@under-lock/core/notice/look';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { type Draft, emptyDraft } from '@under-lock/core/outgoing/draft';
import { sendDraft } from '../src/sending/send';
import { makePlan, type PlanContext } from '../src/write/usePlan';

const file = join(__dirname, 'sending-golden.json');
const mockSeen: { called: string; with: unknown[] }[] = [];
/** What each lock is given to seal, written down as it always was. */
async function mockSealing({ lock, ...order }: CopyOrder, message: unknown, blobId: string): Promise<void> {
  const given =
    'form' in order
      ? [message, order.recipients, order.form, order.neutralSubject, blobId]
      : 'recipients' in order
        ? [message, order.recipients, order.neutralSubject, blobId]
        : [message, order, blobId];
  mockSeen.push({ called: lock, with: given });
}

jest.mock('../src/api', () => ({
  api: async (endpoint: { path: string }, input: unknown) => {
    mockSeen.push({ called: endpoint.path, with: [input] });
    return { sentAt: new Date('2026-11-24T10:00:00Z') };
  },
}));
jest.mock('../src/clock', () => ({ zone: 'Europe/Lisbon' }));
jest.mock('../src/paper', () => ({ paperHere: () => 'a4' }));
jest.mock('../src/threads/transfer', () => ({
  allowTransfers: () => undefined,
  cancelTransfer: () => undefined,
  discard: async () => undefined,
  download: async () => new Uint8Array(0),
  upload: async (id: string, sealed: readonly Uint8Array[]) =>
    void mockSeen.push({ called: 'upload', with: [id, new Uint8Array(Buffer.concat(sealed))] }),
}));
jest.mock('../src/threads/main/door', () => ({
  callback: (told: unknown) => told,
  door: () => ({
    message: (jest.requireActual('../src/threads/main/message') as { message: unknown }).message,
    vault: {
      sealSent: async (_: string, value: unknown) => new TextEncoder().encode(JSON.stringify(value)),
      sealWords: async (_: string, value: unknown) => new TextEncoder().encode(JSON.stringify(value)),
    },
  }),
}));
jest.mock('../src/threads/keys/door', () => ({
  keysDoor: () => ({
    transfers: { cancel: async () => undefined },
    copies: { put: mockSealing },
  }),
}));

const now = new Date('2026-11-24T10:00:00Z');
const KEPT_AT = '2026-11-01T10:00:00.000Z';
const maren = {
  id: 'a',
  address: 'maren.oduya@larkmoor.example',
  name: 'Maren Oduya',
  title: '',
  role: 'worker',
  further: ['office@larkmoor.example'],
  phone: '+447700900101',
} as const;
const at = (name: string): string => `${name}@postbox.example`;

async function context(): Promise<PlanContext> {
  const pair = await makeKeyPair();
  const key = { suite: pair.suite, publicKey: pair.publicKey };
  const person = (value: object) =>
    ({ id: crypto.randomUUID(), revision: 1, updatedAt: now, value }) as PlanContext['people'][number];
  const certificate = { certificate: 'Y2VydA', addedAt: KEPT_AT, from: 'file', capabilities: ['aes-256-gcm'] };
  const openPgpKey = { key: 'a2V5', fingerprint: 'ab', keyIds: [], addedAt: KEPT_AT, from: 'file' };
  const terms = {
    closing: { kind: 'two-weeks' },
    check: 'email',
    question: false,
    rights: ALL_RIGHTS,
    watermark: true,
    copies: true,
    clear: false,
    textOpen: true,
    audience: 'anyone',
    receipt: true,
    remindHours: 24,
    mayLoosen: { closing: true, identity: true, rights: true },
  };
  const known = { level: 'valid', findings: [] };
  return {
    office: {
      name: 'Larkmoor Ferries',
      mailDomain: 'larkmoor.example',
      calendar: { zone: 'Europe/Lisbon', dayEnds: '17:00', weekEndsOn: 5, maxDays: 366 },
      limits: { maxBytes: 25_000_000, maxRecipients: 200 },
      undoSeconds: 10,
      unopenedAfterDays: 3,
      roomOrigin: 'https://room.larkmoor.example',
      look: OUR_LOOK,
      statementKey: 'ab',
    },
    account: maren,
    people: [
      person({ name: 'Pell Anders', address: at('pell'), phone: '+447700900417', language: 'de' }),
      person({ name: 'Quin', address: at('quin'), secondAddress: 'quin@elsewhere.example', check: 'email' }),
      person({ name: 'Cert One', address: at('cert.one'), certificates: [certificate] }),
      person({ name: 'Cert Two', address: at('cert.two'), certificates: [certificate] }),
      person({ name: 'Cert Unseen', address: at('cert.unseen'), certificates: [certificate] }),
      person({ name: 'Key Mime', address: at('key.mime'), keys: [openPgpKey] }),
      person({ name: 'Key Attached', address: at('key.attached'), keys: [openPgpKey], mailForm: 'attachments' }),
      person({ name: 'Locked', address: at('locked'), language: 'pt' }),
      person({ name: 'Own Password', address: at('own.password') }),
    ],
    colleagues: [
      {
        id: 'c1',
        address: 'tobias.quill@larkmoor.example',
        name: 'Tobias Quill',
        title: '',
        role: 'worker',
        further: ['claims@larkmoor.example'],
        setUp: true,
        key,
      },
    ],
    knownKeys: { c1: keyFingerprint(key.publicKey) },
    registered: [{ id: 'r1', address: at('mira'), since: now, knownBy: 'text', key }],
    presets: [{ id: 'p1', name: 'Everyday papers', sentence: 'x', active: true, isDefault: true, terms }],
    certificates: new Map(
      ['cert.one', 'cert.two', 'cert.unseen'].map((name) => [at(name), { kept: certificate, verdict: known }]),
    ),
    keys: new Map(
      ['key.mime', 'key.attached'].map((name) => [at(name), { kept: openPgpKey, verdict: known, readsNewest: false }]),
    ),
    signs: { certificate: true, openpgp: true },
    passwords: [
      {
        id: 'w1',
        revision: 1,
        updatedAt: now,
        value: {
          address: at('locked'),
          direction: 'out',
          password: 'tide-table-on-the-pier',
          guesses: 14,
          since: KEPT_AT,
          toldAt: KEPT_AT,
          before: [],
          note: '',
        },
      },
    ],
    fileRules: OUR_RULES,
    now,
  } as unknown as PlanContext;
}

const draft: Draft = {
  ...emptyDraft,
  from: 'office@larkmoor.example',
  subject: ' Fitness papers ',
  reference: 'CR-2611-204',
  text: 'The eyesight test is on page two.',
  html: '<p>The eyesight test is on page two.</p>',
  answers: ['earlier@postbox.example'],
  recipients: [
    { name: '', address: at('pell'), role: 'to', check: 'text', lock: 'room' },
    {
      name: '',
      address: at('quin'),
      role: 'cc',
      question: 'Which boat?',
      answer: 'MV Teal',
      check: 'question',
      lock: 'room',
    },
    { name: '', address: at('mira'), role: 'to', lock: 'room' },
    {
      name: 'Wren',
      address: at('wren'),
      role: 'to',
      check: 'question',
      question: 'Which pier?',
      answer: 'North',
      lock: 'carried',
    },
    { name: '', address: 'claims@larkmoor.example', role: 'cc' },
    { name: '', address: at('cert.one'), role: 'to', lock: 'certificate' },
    { name: '', address: at('cert.two'), role: 'cc', lock: 'certificate' },
    { name: '', address: at('cert.unseen'), role: 'bcc', lock: 'certificate' },
    { name: '', address: at('key.mime'), role: 'to', lock: 'openpgp' },
    { name: '', address: at('key.attached'), role: 'to', lock: 'openpgp' },
    { name: '', address: at('locked'), role: 'to', lock: 'file' },
    {
      name: '',
      address: at('own.password'),
      role: 'cc',
      lock: 'file',
      scope: 'everything',
      password: { password: 'seven knots by lantern', guesses: 15, told: false, remember: false },
    },
  ],
};

/** Octets by their SHA-256 where they are many; the same on every run, whatever ends first. */
async function plain(value: unknown): Promise<unknown> {
  if (value instanceof Uint8Array)
    return value.length > 100
      ? `sha256 ${toBase64Url(await sha256(value as Uint8Array<ArrayBuffer>))} of ${value.length}`
      : toBase64Url(value);
  if (value instanceof Date) return value.toISOString();
  if (Array.isArray(value)) return Promise.all(value.map(plain));
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    await Promise.all(Object.entries(value).map(async ([key, inside]) => [key, await plain(inside)])),
  );
}

test('a fixed draft with fixed randomness goes out as it always did', async () => {
  // The same octets at every draw: in which order the draws come makes no difference.
  jest.spyOn(globalThis.crypto, 'getRandomValues').mockImplementation((into) => {
    new Uint8Array(into!.buffer, into!.byteOffset, into!.byteLength).fill(7);
    return into;
  });
  let count = 0;
  jest
    .spyOn(globalThis.crypto, 'randomUUID')
    .mockImplementation(() => `00000000-0000-4000-8000-${String(++count).padStart(12, '0')}`);
  const known = await context();
  const planned = makePlan(draft, known);
  expect(
    planned.plan.lines.flatMap(({ recipient, chosen }) =>
      chosen.missing.map((what) => `${recipient.address}: ${JSON.stringify(what)}`),
    ),
  ).toEqual([]);
  let attempt: unknown;
  const { messageId, leavesAt } = await sendDraft({
    ...known,
    draft,
    draftId: 'd1',
    planned,
    progress: () => undefined,
    signal: new AbortController().signal,
    keepAttempt: async (kept) => void (attempt = kept),
  });
  const seen = [...mockSeen].sort(
    (a, b) => a.called.localeCompare(b.called) || JSON.stringify(a.with).localeCompare(JSON.stringify(b.with)),
  );
  const golden = JSON.parse(
    JSON.stringify(
      await plain({
        ways: planned.plan.lines.map(({ recipient, chosen }) => [recipient.address, chosen.lock]),
        attempt,
        sent: { messageId, leavesAt },
        seen,
      }),
    ),
  ) as unknown;
  if (process.env.UNDERLOCK_GOLDEN === 'write') writeFileSync(file, `${JSON.stringify(golden, null, 2)}\n`);
  expect(golden).toEqual(JSON.parse(readFileSync(file, 'utf8')));
});

test('what is no secret goes signed in the clear to people who have no certificate', async () => {
  jest.restoreAllMocks();
  mockSeen.length = 0;
  const known = { ...(await context()), people: [], certificates: new Map(), keys: new Map() };
  const [everyday] = known.presets as [PlanContext['presets'][number]];
  known.presets = [{ ...everyday, terms: { ...everyday.terms, clear: true } }];
  const open: Draft = {
    ...draft,
    presetId: 'p1',
    openReason: 'It hangs on the pier',
    recipients: [at('press'), at('radio')].map((address) => ({ name: '', address, role: 'to' })),
  };
  const planned = makePlan(open, known);
  await sendDraft({
    ...known,
    draft: open,
    draftId: 'd2',
    planned,
    progress: () => undefined,
    signal: new AbortController().signal,
    keepAttempt: async () => undefined,
  });
  const copies = mockSeen.filter(({ called }) => called === 'certificate');
  expect(copies).toHaveLength(1);
  expect(copies[0]!.with[1]).toBe('clear');
  expect(mockSeen.find(({ called }) => called.endsWith('/dispatch'))!.with[0]).toMatchObject({
    body: { openReason: 'It hangs on the pier', handling: { clear: true } },
  });
});
