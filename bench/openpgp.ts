/**
 * The OpenPGP lock against a native command on the same machine: 25 MB signed and encrypted, opened and checked; and
 * one message of three locks for a hundred recipients against each lock alone.
 */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Bytes, randomBytes } from '../core/src/bytes';
import { readCertificate } from '../core/src/certificate/certificate';
import { LOOSEST_TERMS } from '../core/src/handling/handling';
import { sealForCertificates } from '../core/src/locks/certificate/seal';
import { lockKinds } from '../core/src/locks/list';
import { type LockName } from '../core/src/locks/index';
import { type Recipient } from '../core/src/locks/lock';
import { openOpenPgp } from '../core/src/locks/openpgp/layers';
import { sealForOpenPgp } from '../core/src/locks/openpgp/seal';
import { sealForRoom } from '../core/src/locks/room/seal';
import { unwrapMail } from '../core/src/locks/unwrap';
import { armoured } from '../core/src/openpgp/armour';
import { readOpenPgpKey, readSecretKey } from '../core/src/openpgp/key';
import { makeOpenPgpKey } from '../core/src/openpgp/make-key';
import { ringOf } from '../core/src/openpgp/message';
import { planDelivery } from '../core/src/outgoing/delivery-plan';
import { openAuthorities } from '../standins/src/authority/authorities';
import { inWorker } from './in-worker';
import { median } from './measured';
import { type Row } from './row';

const inBrowser = `
import { openOpenPgp } from './core/src/locks/openpgp/layers';
import { sealForOpenPgp } from './core/src/locks/openpgp/seal';
import { unwrapMail } from './core/src/locks/unwrap';
import { readOpenPgpKey, readSecretKey } from './core/src/openpgp/key';
import { ringOf } from './core/src/openpgp/message';
const bytes = (text) => Uint8Array.from(atob(text), (one) => one.charCodeAt(0));
const median = (list) => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)];
const timed = async (task) => { const from = performance.now(); await task(); return performance.now() - from; };
onmessage = async ({ data }) => {
  const [secret, key] = [await readSecretKey(bytes(data.secret)), await readOpenPgpKey(bytes(data.secret))];
  const file = new Uint8Array(data.size);
  for (let at = 0; at < file.length; at += 65536) crypto.getRandomValues(file.subarray(at, Math.min(at + 65536, file.length)));
  const address = data.address;
  const message = { messageId: 'a@b.example', from: { name: '', address }, to: [{ name: '', address }], cc: [], subject: 'x', date: new Date(), reference: '', text: 'x', html: '', files: [{ name: 'x', type: 'a/b', bytes: file }] };
  const times = { seal: [], open: [] };
  for (let turn = 0; turn < data.turns; turn++) {
    let mail;
    times.seal.push(await timed(async () => { mail = await sealForOpenPgp({ message, signer: secret, recipients: [key], form: 'mime', signedAt: new Date(), neutralSubject: 'x' }); }));
    times.open.push(await timed(async () => { const { layers } = await unwrapMail(mail, [], (form, entity) => openOpenPgp(form, entity, { secret: [secret], known: ringOf([key]) })); if (layers.length !== 2) throw new Error('not both layers'); }));
  }
  postMessage({ seal: median(times.seal), open: median(times.open) });
};`;

const SIZE = 25_000_000;
const TURNS = 5;
const ADDRESS = 'nils@northquay.example';
async function timed(task: () => Promise<unknown> | unknown): Promise<number> {
  const from = performance.now();
  await task();
  return performance.now() - from;
}
const messageWith = (file: Bytes, addresses: readonly string[]) => ({
  messageId: 'a@b.example',
  from: { name: '', address: ADDRESS },
  to: addresses.map((address) => ({ name: '', address })),
  cc: [],
  subject: 'x',
  date: new Date(),
  reference: '',
  text: 'x',
  html: '',
  files: [{ name: 'x', type: 'a/b', bytes: file }],
});

async function large(): Promise<Row[]> {
  const folder = mkdtempSync(join(tmpdir(), 'under-lock-bench-'));
  const made = await makeOpenPgpKey('wide', { name: 'Nils', addresses: [ADDRESS] }, new Date(Date.now() - 60_000));
  const [secret, key] = [await readSecretKey(made.secret), await readOpenPgpKey(made.secret)];
  writeFileSync(join(folder, 'sec'), armoured('PRIVATE KEY BLOCK', made.secret));
  writeFileSync(join(folder, 'pub'), armoured('PUBLIC KEY BLOCK', key.bytes));
  const file = new Uint8Array(SIZE) as Bytes;
  for (let at = 0; at < SIZE; at += 65536) file.set(randomBytes(Math.min(65536, SIZE - at)), at);
  const message = messageWith(file, [ADDRESS]);
  const plain = Buffer.concat([
    Buffer.from('Content-Type: application/octet-stream\r\nContent-Transfer-Encoding: base64\r\n\r\n'),
    Buffer.from(
      Buffer.from(file)
        .toString('base64')
        .replace(/(.{76})/g, '$1\r\n'),
    ),
  ]);
  const sqop = (args: string[], input: Buffer): Buffer => {
    const { status, stdout } = spawnSync('/usr/bin/sqop', args, { cwd: folder, input, maxBuffer: 512 * 1024 * 1024 });
    if (status !== 0) throw new Error(`sqop ${args[0]} ended with ${status}`);
    return stdout;
  };
  const times = { ours: [] as number[], theirs: [] as number[], open: [] as number[], theirOpen: [] as number[] };
  for (let turn = 0; turn < TURNS; turn++) {
    let mail = new Uint8Array(0) as Bytes;
    let sealed = Buffer.alloc(0);
    times.ours.push(
      await timed(async () => {
        mail = await sealForOpenPgp({
          message,
          signer: secret,
          recipients: [key],
          form: 'mime',
          signedAt: new Date(),
          neutralSubject: 'x',
        });
      }),
    );
    times.theirs.push(
      await timed(() => {
        sealed = sqop(['encrypt', '--sign-with=sec', 'pub'], plain) as typeof sealed;
      }),
    );
    times.open.push(
      await timed(() =>
        unwrapMail(mail, [], (form, entity) => openOpenPgp(form, entity, { secret: [secret], known: ringOf([key]) })),
      ),
    );
    times.theirOpen.push(
      await timed(() => sqop(['decrypt', `--verify-out=verified-${turn}`, '--verify-with=pub', 'sec'], sealed)),
    );
  }
  const browser = await inWorker<{ seal: number; open: number }>(inBrowser, {
    secret: Buffer.from(made.secret).toString('base64'),
    address: ADDRESS,
    size: SIZE,
    turns: TURNS,
  });
  return [
    {
      what: '25 MB signed and encrypted in a Chromium worker ÷ sqop',
      value: (browser.seal / median(times.theirs)).toFixed(2),
      aim: '≤ 2, way to ≤ 1',
    },
    {
      what: '25 MB opened and verified in a Chromium worker ÷ sqop',
      value: (browser.open / median(times.theirOpen)).toFixed(2),
      aim: '≤ 2, way to ≤ 1',
    },
    {
      what: '25 MB signed and encrypted in Node ÷ sqop',
      value: (median(times.ours) / median(times.theirs)).toFixed(2),
      aim: '≤ 2',
    },
    {
      what: '25 MB opened and verified in Node ÷ sqop',
      value: (median(times.open) / median(times.theirOpen)).toFixed(2),
      aim: '≤ 2',
    },
  ];
}

async function threeLocks(): Promise<Row[]> {
  const clinic = (await openAuthorities(undefined, new Date())).correspondent('records@harbourclinic.example')!;
  const certificate = readCertificate(new Uint8Array(Buffer.from(clinic.certificate, 'base64')));
  const signer = { certificate, privateKey: new Uint8Array(Buffer.from(clinic.key, 'base64')) };
  const secret = await readSecretKey(
    (await makeOpenPgpKey('wide', { name: 'x', addresses: [ADDRESS] }, new Date(Date.now() - 60_000))).secret,
  );
  const keys = await Promise.all(
    Array.from({ length: 33 }, async (_, index) =>
      readOpenPgpKey(
        (await makeOpenPgpKey('wide', { name: 'x', addresses: [`k${index}@a.example`] }, new Date(Date.now() - 60_000)))
          .secret,
      ),
    ),
  );
  const file = randomBytes(60_000);
  const recipients = Array.from({ length: 100 }, (_, index): Recipient => ({
    name: `Reader ${index}`,
    address: index < 33 ? `k${index}@a.example` : `r${index}@a.example`,
    role: 'to',
    phone: `+4477009${String(10_000 + index)}`,
    ...(index < 33
      ? { openpgp: { level: 'valid', readsNewest: false } }
      : index < 67
        ? { certificate: { level: 'valid' } }
        : {}),
  }));
  const plan = (some: readonly Recipient[]) =>
    planDelivery(
      {
        recipients: some,
        handling: {
          ...LOOSEST_TERMS,
          clear: false,
          check: 'text',
          leastCheck: 'question',
          closing: { ok: true, closesAt: new Date(Date.now() + 86_400_000) },
        },
        subject: 'x',
        text: 'x',
        fileSizes: [file.length],
        limits: { maxBytes: 25_000_000, maxRecipients: 200 },
        context: {
          message: 'x',
          fileCount: 1,
          size: 1_000,
          sender: { address: ADDRESS, signs: true, signsOpenPgp: true, phones: [], addresses: [] },
          others: [],
        },
      },
      lockKinds,
    );
  const seal: Record<
    Exclude<LockName, 'file' | 'carried' | 'open'>,
    (some: readonly Recipient[]) => Promise<unknown>
  > = {
    openpgp: (some) =>
      sealForOpenPgp({
        message: messageWith(
          file,
          some.map(({ address }) => address),
        ),
        signer: secret,
        recipients: keys.slice(0, some.length),
        form: 'mime',
        signedAt: new Date(),
        neutralSubject: 'x',
      }),
    certificate: (some) =>
      sealForCertificates({
        message: messageWith(
          file,
          some.map(({ address }) => address),
        ),
        signer,
        recipients: some.map(() => ({ certificate })),
        neutralSubject: 'x',
      }),
    room: (some) =>
      sealForRoom(
        messageWith(
          file,
          some.map(({ address }) => address),
        ),
        { key: randomBytes(32), salt: randomBytes(32) },
      ),
  };
  const planAndSeal = async (some: readonly Recipient[]): Promise<void> => {
    const { lines } = plan(some);
    for (const lock of ['openpgp', 'certificate', 'room'] as const) {
      const chosen = lines.filter((line) => line.chosen.lock === lock).map(({ recipient }) => recipient);
      if (chosen.length > 0) await seal[lock](chosen);
    }
  };
  const parts = [recipients.slice(0, 33), recipients.slice(33, 67), recipients.slice(67)];
  await planAndSeal(recipients);
  const times = { together: [] as number[], apart: [] as number[] };
  for (let turn = 0; turn < 9; turn++) {
    times.together.push(await timed(() => planAndSeal(recipients)));
    times.apart.push(
      await timed(async () => {
        for (const part of parts) await planAndSeal(part);
      }),
    );
  }
  return [
    {
      what: 'Three locks for 100 recipients, planned and sealed ÷ the sum of the locks alone',
      value: (median(times.together) / median(times.apart)).toFixed(2),
      aim: '≤ 1.3',
    },
  ];
}

export const openpgp = async (): Promise<Row[]> => [...(await large()), ...(await threeLocks())];
