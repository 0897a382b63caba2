/**
 * The door for mail under siege: idle hosts, many large mails at once, hosts that hang up; and encryption where the
 * office has a certificate.
 */
import { execFile, execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync } from 'node:fs';
import { connect, type Socket } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { createTransport } from 'nodemailer';
import { rows } from '../src/data/database';
import { openMailDoor } from '../src/incoming/door';
import { openSpool, SpoolFullError } from '../src/incoming/spool';
import { giveKeyPair, type House, openHouse, type Worker } from './house';

let house: House;
let maren: Worker;
beforeAll(async () => {
  house = await openHouse();
  maren = await house.worker('maren.oduya');
  await giveKeyPair(maren);
}, 60_000);
afterAll(() => house.stop());

const raw = (text: string): Buffer =>
  Buffer.from(`From: <pell.anders@postbox.example>\r\nTo: <${maren.account.address}>\r\nSubject: x\r\n\r\n${text}`);
async function deliver(port: number, text: string, options: object = { ignoreTLS: true }): Promise<string> {
  const transport = createTransport({ host: '127.0.0.1', port, ...options });
  try {
    return (
      (await transport.sendMail({
        envelope: { from: 'pell.anders@postbox.example', to: [maren.account.address] },
        raw: raw(text),
      })) as { response: string }
    ).response;
  } catch (error) {
    return (error as { response?: string; message: string }).response ?? String(error);
  } finally {
    transport.close();
  }
}

/** A connection that says nothing, from a host of its own; resolves with the greeting. */
function idle(port: number, localAddress: string): Promise<{ socket: Socket; greeting: string }> {
  return new Promise((resolve, reject) => {
    const socket = connect({ port, host: '127.0.0.1', localAddress });
    socket.once('data', (data) => resolve({ socket, greeting: data.toString() }));
    socket.on('error', reject);
  });
}

test('idle hosts take their own connections and nobody else’s', async () => {
  const door = await openMailDoor(house.server.context);
  const sockets: Socket[] = [];
  const greetings: string[] = [];
  for (let count = 0; count < 14; count++) {
    const { socket, greeting } = await idle(door.port, '127.0.0.2');
    sockets.push(socket);
    greetings.push(greeting.slice(0, 3));
  }
  for (let host = 3; host < 8; host++) sockets.push((await idle(door.port, `127.0.0.${host}`)).socket);
  expect(greetings).toEqual([...Array<string>(10).fill('220'), ...Array<string>(4).fill('421')]);
  expect(await deliver(door.port, 'beside them')).toMatch(/^250/);
  for (const socket of sockets) socket.destroy();
  await door.close();
}, 30_000);

test('a dozen large mails at once are all kept, one or two in memory at a time', async () => {
  const door = await openMailDoor(house.server.context);
  const answers = await Promise.all(
    Array.from({ length: 12 }, (_, index) =>
      deliver(door.port, `${index} `.repeat(4_000_000).slice(0, 8_000_000).replace(/.{70}/g, '$&\r\n')),
    ),
  );
  expect(
    answers.filter((answer) => answer.startsWith('250')).length +
      answers.filter((answer) => answer.startsWith('421')).length,
  ).toBe(12);
  expect(answers.filter((answer) => answer.startsWith('250')).length).toBeGreaterThanOrEqual(10);
  await door.close();
}, 120_000);

test('what lies on disk meanwhile says nothing, has a bound, comes back as it was, and goes', async () => {
  const within = mkdtempSync(join(tmpdir(), 'spool-'));
  const spool = openSpool({ onDiskBytes: 3_000_000, inMemoryBytes: 1_000_000, within });
  const mail = spool.begin();
  const said = Buffer.from('The quince orchard. '.repeat(60_000));
  for (let at = 0; at < said.length; at += 50_000) await mail.write(said.subarray(at, at + 50_000));
  const folder = join(within, readdirSync(within)[0]!);
  const [file] = readdirSync(folder);
  expect(readFileSync(join(folder, file!)).includes('quince')).toBe(false);
  expect(Buffer.from(await mail.read()).equals(said)).toBe(true);
  const other = spool.begin();
  await expect(other.write(new Uint8Array(2_000_000))).rejects.toBeInstanceOf(SpoolFullError);
  await mail.drop();
  await other.write(new Uint8Array(2_000_000));
  await other.drop();
  expect(readdirSync(folder)).toEqual([]);
  // Larger than all the room passes alone; the others wait for it.
  const [one, two] = [spool.begin(), spool.begin()];
  await one.write(new Uint8Array(900_000));
  await two.write(new Uint8Array(100));
  const order: string[] = [];
  await Promise.all([
    spool.whole(one, async () => {
      await new Promise((done) => setTimeout(done, 50));
      order.push('large');
    }),
    spool.whole(two, async () => void order.push('small')),
  ]);
  expect(order).toEqual(['large', 'small']);
  await Promise.all([one.drop(), two.drop()]);
  await spool.close();
});

test('with a certificate the door offers encryption, and mail comes in through it', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'under-lock-certificate-'));
  const [key, certificate] = [join(folder, 'key.pem'), join(folder, 'certificate.pem')];
  execFileSync(
    '/usr/bin/openssl',
    [
      'req',
      '-x509',
      '-newkey',
      'ec',
      '-pkeyopt',
      'ec_paramgen_curve:P-256',
      '-nodes',
      '-days',
      '2',
      '-subj',
      '/CN=mail.larkmoor.example',
      '-keyout',
      key,
      '-out',
      certificate,
    ],
    { stdio: 'ignore' },
  );
  const { context } = house.server;
  const door = await openMailDoor({
    ...context,
    config: { ...context.config, mailCertificate: certificate, mailKey: key },
  });
  expect(
    await deliver(door.port, 'under TLS', {
      requireTLS: true,
      tls: { ca: readFileSync(certificate), servername: 'mail.larkmoor.example', checkServerIdentity: () => undefined },
    }),
  ).toMatch(/^250/);
  // Another program's word for it. Not in one step: the door is in this process, and has to answer.
  const asked = promisify(execFile)(
    '/usr/bin/openssl',
    ['s_client', '-starttls', 'smtp', '-connect', `127.0.0.1:${door.port}`, '-brief', '-CAfile', certificate],
    { timeout: 60_000 },
  );
  asked.child.stdin!.end('QUIT\r\n');
  expect((await asked).stderr).toMatch(/Verification: OK/);
  await door.close();
  // Without one it offers none, rather than one that nobody can trust.
  const plain = await openMailDoor(context);
  expect(await deliver(plain.port, 'in the clear', { requireTLS: true })).toMatch(/^500/);
  await plain.close();
}, 30_000);

test('a host that hangs up in the middle leaves nothing behind and stops nobody', async () => {
  const door = await openMailDoor(house.server.context);
  const count = async () =>
    (await rows<{ count: number }>(house.server.context.db, 'SELECT count(*)::int AS count FROM incoming'))[0]!.count;
  const before = await count();
  const { socket } = await idle(door.port, '127.0.0.9');
  socket.write(`EHLO x\r\nMAIL FROM:<a@postbox.example>\r\nRCPT TO:<${maren.account.address}>\r\nDATA\r\n`);
  await new Promise((done) => setTimeout(done, 200));
  socket.write('Subject: half\r\n\r\nhalf a mail');
  await new Promise((done) => setTimeout(done, 100));
  socket.destroy();
  expect(await deliver(door.port, 'a whole one')).toMatch(/^250/);
  expect(await count()).toBe(before + 1);
  await door.close();
}, 30_000);

test('where nothing can be written to disk, a large mail is refused for now and not left waiting', async () => {
  const door = await openMailDoor(house.server.context, '/nonexistent');
  expect(await deliver(door.port, 'x'.repeat(1_000_000))).toMatch(/^451 Could not be kept, try again later/);
  expect(await deliver(door.port, 'small')).toMatch(/^250/);
  await door.close();
}, 60_000);
