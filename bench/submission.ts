/**
 * The door for mail programs, in a process of its own before a server in this one: what a mail costs under lock and open,
 * what the largest costs beside hashing and encrypting its octets, in time and memory, and what idle and slow programs
 * cost the others.
 */
import { toBase64Url } from '../core/src/bytes';
import { doorKeys } from '../core/src/submission/keys';
import { spawn } from 'node:child_process';
import { createCipheriv, createHash, randomBytes } from 'node:crypto';
import { once } from 'node:events';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { connect, type TLSSocket } from 'node:tls';
import SMTPConnection from 'nodemailer/lib/smtp-connection';
import { type DoorProcess, startDoorProcess } from '../door/test/door-process';
import { localCertificate } from '../door/test/local-certificate';
import { type Correspondent, correspondent, makeRule, papersPreset } from '../door/test/mail-programs';
import { type House, openHouse } from '../server/test/house';
import { median, memoryOf } from './measured';
import { type Row } from './row';

const TURNS = 5;
const MAILS = 8;
const SMALL = 5_000;
/** With base64 and its head just below what the office takes. */
const LARGE = 24_000_000;
const IDLE = 49;
const SLOW = 50;
/** Of one person; the door takes twenty connections of each. */
const SLOW_OF_ONE = 17;

interface Bench {
  house: House;
  door: DoorProcess;
  ca: Buffer;
  caFile: string;
  programs: Correspondent[];
  /** Resolves once so many more mails have been dealt with. */
  dealt(mails: number): Promise<void>;
}

/** To `open.example` it leaves open, to everybody of the office under lock. */
async function openBench(): Promise<Bench> {
  const secret = new Uint8Array(randomBytes(32));
  const { token } = await doorKeys(secret);
  const house = await openHouse({ UNDERLOCK_SUBMISSION_TOKEN: token });
  const admin = await house.worker('ines.varga', 'administrator');
  await papersPreset(admin, { copies: true });
  await makeRule(
    admin,
    'Timetables',
    [{ kind: 'recipient-at', domains: ['open.example'] }],
    [{ kind: 'programs-leave-open' }],
  );
  const programs: Correspondent[] = [];
  for (const name of ['maren.oduya', 'tobias.quill', 'anna.hale', 'bo.lund'])
    programs.push(await correspondent(house, name));
  const { cert, key } = localCertificate();
  const door = await startDoorProcess(process.cwd(), {
    server: house.origin,
    secret: toBase64Url(secret),
    cert,
    key,
  });
  let seen = 0;
  let heard: () => void = () => undefined;
  door.child.stdout!.on('data', (chunk: Buffer) => {
    seen += chunk.toString().split('"event":"dealt"').length - 1;
    heard();
  });
  return {
    house,
    door,
    ca: readFileSync(cert),
    caFile: cert,
    programs,
    dealt: async (mails) => {
      const until = seen + mails;
      while (seen < until) await new Promise<void>((resolve) => (heard = resolve));
    },
  };
}

/** Milliseconds of the door's processor so far. Linux counts them in hundredths of a second. */
function processorOfDoor({ door }: Bench): number {
  const fields = readFileSync(`/proc/${door.child.pid}/stat`, 'latin1').split(') ')[1]!.split(' ');
  return (Number(fields[11]) + Number(fields[12])) * 10;
}

/** Milliseconds of both processors, the server's and the door's; what others do on the machine is not counted. */
async function costOf(bench: Bench, task: () => Promise<unknown>): Promise<number> {
  const [door, here] = [processorOfDoor(bench), process.cpuUsage()];
  await task();
  const { user, system } = process.cpuUsage(here);
  return processorOfDoor(bench) - door + (user + system) / 1000;
}

async function signedIn(
  { door, ca }: Bench,
  { account: { address }, password }: Correspondent,
): Promise<SMTPConnection> {
  const connection = new SMTPConnection({ host: 'localhost', port: door.tls, secure: true, tls: { ca } });
  await new Promise<void>((resolve, reject) => {
    connection.once('error', reject);
    connection.connect(() => resolve());
  });
  await new Promise<void>((resolve, reject) =>
    connection.login({ user: address, pass: password }, (error) => (error ? reject(error) : resolve())),
  );
  return connection;
}

let count = 0;
const mailFrom = ({ account: { address } }: Correspondent, to: string, body: string): string =>
  `From: ${address}\r\nTo: ${to}\r\nSubject: Number ${++count}\r\nMessage-ID: <${count}@bench.example>\r\n` +
  `Date: Sun, 29 Nov 2026 09:00:00 +0000\r\n${body}`;

const handIn = (
  connection: SMTPConnection,
  { account: { address } }: Correspondent,
  to: string,
  raw: string,
): Promise<void> =>
  new Promise((resolve, reject) =>
    connection.send({ from: address, to: [to] }, raw, (error) => (error ? reject(error) : resolve())),
  );

/** So many small mails to one person, handed in one after another and all dealt with. */
async function few(bench: Bench, connection: SMTPConnection, to: string): Promise<void> {
  const [program] = bench.programs as [Correspondent];
  const done = bench.dealt(MAILS);
  for (let index = 0; index < MAILS; index++)
    await handIn(connection, program, to, mailFrom(program, to, `\r\n${'x'.repeat(70)}\r\n`.repeat(SMALL / 74)));
  await done;
}

const COLLEAGUE = 'tobias.quill@larkmoor.example';
const OPEN = 'pier@open.example';

async function lockedToOpen(bench: Bench): Promise<number> {
  const connection = await signedIn(bench, bench.programs[0]!);
  await few(bench, connection, COLLEAGUE);
  await few(bench, connection, OPEN);
  const ratios: number[] = [];
  for (let turn = 0; turn < TURNS; turn++) {
    const locked = await costOf(bench, () => few(bench, connection, COLLEAGUE));
    ratios.push((await costOf(bench, () => few(bench, connection, OPEN))) / locked);
  }
  connection.quit();
  return median(ratios);
}

/** Hashed, and encrypted with AES-256-GCM, once each. */
function hashedAndEncrypted(bytes: Buffer): void {
  createHash('sha256').update(bytes).digest();
  createCipheriv('aes-256-gcm', randomBytes(32), randomBytes(12)).update(bytes);
}

/** The most that the door holds while `task` runs, above what it held before. */
async function grownBy(bench: Bench, task: () => Promise<unknown>): Promise<number> {
  // Forgets the most that it ever held.
  const pid = bench.door.child.pid!;
  writeFileSync(`/proc/${pid}/clear_refs`, '5');
  const before = (await memoryOf(pid)).now;
  await task();
  return (await memoryOf(pid)).peak - before;
}

/** Handed in by a program of its own, whose work is not the door's. @throws Error when it is not taken */
async function handInByCurl({ door, caFile }: Bench, from: Correspondent, to: string, mail: string): Promise<void> {
  const { address } = from.account;
  const as = ['--user', `${address}:${from.password}`, '--mail-from', address, '--mail-rcpt', to];
  const where = ['-sS', '--cacert', caFile, '--url', `smtps://localhost:${door.tls}`];
  const curl = spawn('curl', [...where, ...as, '--upload-file', mail], { stdio: 'inherit' });
  const [code] = (await once(curl, 'exit')) as [number | null];
  if (code !== 0) throw new Error(`curl ended with ${code}`);
}

async function large(bench: Bench): Promise<{ cost: number; memory: number }> {
  const [program] = bench.programs as [Correspondent];
  const file = randomBytes(1_000_000).toString('base64').replace(/.{76}/g, '$&\r\n');
  const head =
    'MIME-Version: 1.0\r\nContent-Type: multipart/mixed; boundary=b\r\n\r\n--b\r\nContent-Type: text/plain\r\n\r\nAs agreed.\r\n--b\r\nContent-Type: application/octet-stream\r\nContent-Disposition: attachment; filename="large.bin"\r\nContent-Transfer-Encoding: base64\r\n\r\n';
  const body = `${head}${`${file}\r\n`.repeat(LARGE / 1_000_000)}\r\n--b--\r\n`;
  const folder = mkdtempSync(join(tmpdir(), 'under-lock-bench-'));
  const mail = join(folder, 'mail');
  const write = (): void => writeFileSync(mail, mailFrom(program, COLLEAGUE, body), 'latin1');
  const send = async (): Promise<void> => {
    const done = bench.dealt(1);
    await handInByCurl(bench, program, COLLEAGUE, mail);
    await done;
  };
  const bytes = Buffer.from(body, 'latin1');
  try {
    // The first: afterwards the door keeps some of what it had.
    write();
    const grown = await grownBy(bench, send);
    const costs: number[] = [];
    for (let turn = 0; turn < 5; turn++) {
      write();
      const base = await costOf(bench, async () => hashedAndEncrypted(bytes));
      costs.push((await costOf(bench, send)) / base);
    }
    return { cost: median(costs), memory: grown / bytes.length };
  } finally {
    rmSync(folder, { recursive: true });
  }
}

/** What the door says next. @throws Error when it ends the line instead, or refuses */
async function answer(socket: TLSSocket): Promise<void> {
  const ended = new AbortController();
  const [said] = (await Promise.race([
    once(socket, 'data', { signal: ended.signal }),
    once(socket, 'close', { signal: ended.signal }).then(() => ['closed']),
  ])) as [Buffer | string];
  ended.abort();
  if (!/^[23]/.test(said.toString())) throw new Error(`The door said: ${said.toString()}`);
}

/** A line to the door, spoken by hand. */
async function line({ door, ca }: Bench): Promise<TLSSocket> {
  const socket = connect({ host: '127.0.0.1', servername: 'localhost', port: door.tls, ca });
  await answer(socket);
  return socket;
}

async function ask(socket: TLSSocket, text: string): Promise<void> {
  socket.write(`${text}\r\n`);
  await answer(socket);
}

/** In the middle of a mail, of which a line comes every second. */
async function slowLine(bench: Bench, { account: { address }, password }: Correspondent): Promise<() => void> {
  const socket = await line(bench);
  await ask(socket, 'EHLO here');
  await ask(socket, `AUTH PLAIN ${Buffer.from(`\0${address}\0${password}`).toString('base64')}`);
  await ask(socket, `MAIL FROM:<${address}>`);
  await ask(socket, `RCPT TO:<${COLLEAGUE}>`);
  await ask(socket, 'DATA');
  const speaking = setInterval(() => socket.write('One more line.\r\n'), 1_000);
  return () => {
    clearInterval(speaking);
    socket.destroy();
  };
}

/** How much longer a mail takes beside others' lines, turn by turn, from its first octet until it is dealt with. */
async function besides(bench: Bench, others: () => Promise<() => void>): Promise<number> {
  const connection = await signedIn(bench, bench.programs[0]!);
  const timed = async (): Promise<number> => {
    const from = performance.now();
    await few(bench, connection, COLLEAGUE);
    return performance.now() - from;
  };
  const ratios: number[] = [];
  for (let turn = 0; turn < TURNS; turn++) {
    const alone = await timed();
    const end = await others();
    ratios.push((await timed()) / alone);
    end();
    // Until the door has noticed.
    await wait(500);
  }
  connection.quit();
  return median(ratios);
}

async function measured(bench: Bench): Promise<Row[]> {
  const { programs } = bench;
  const open = await lockedToOpen(bench);
  const { cost, memory } = await large(bench);
  const idle = await besides(bench, async () => {
    const lines = await Promise.all(Array.from({ length: IDLE }, () => line(bench)));
    return () => lines.forEach((one) => one.destroy());
  });
  const slow = await besides(bench, async () => {
    const ends = await Promise.all(
      Array.from({ length: SLOW }, (_, index) => slowLine(bench, programs[1 + Math.floor(index / SLOW_OF_ONE)]!)),
    );
    return () => ends.forEach((end) => end());
  });
  return [
    { what: 'Mails a second at the door: 5 KB under lock ÷ relayed open', value: open.toFixed(2), aim: '≥ 0.3' },
    { what: '24 MB of files at the door ÷ SHA-256 and AES of the mail', value: cost.toFixed(1), aim: '≤ 2' },
    { what: 'Memory of the door for it ÷ the mail', value: memory.toFixed(1), aim: '≤ 3' },
    { what: `A mail beside ${IDLE} idle programs ÷ alone`, value: idle.toFixed(2), aim: '≤ 1.2' },
    { what: `A mail beside ${SLOW} slow programs ÷ alone`, value: slow.toFixed(2), aim: '≤ 1.2' },
  ];
}

export async function mailPrograms(): Promise<Row[]> {
  const bench = await openBench();
  try {
    return await measured(bench);
  } finally {
    bench.door.child.kill();
    await once(bench.door.child, 'exit');
    await bench.house.stop();
  }
}
