/** One server in several processes, each with a part of the work (UNDERLOCK_ROLES). */
import { createTransport } from 'nodemailer';
import { readConfig } from '../src/config';
import { type RunningServer, startServer } from '../src/server';
import { freePort } from './free-port';
import { eventually, giveKeyPair, type House, openHouse, receivedOf, type Worker } from './house';

let house: House;
let maren: Worker;
const others: RunningServer[] = [];
beforeAll(async () => {
  house = await openHouse();
  maren = await house.worker('maren.oduya');
  await giveKeyPair(maren);
});
afterAll(async () => {
  for (const other of others) await other.stop();
  await house.stop();
});

const silent = { info: () => undefined, error: () => undefined };

async function another(roles: RunningServer['context']['config']['roles']): Promise<RunningServer> {
  const mailPort = await freePort();
  const other = await startServer({ ...house.server.context.config, roles, mailPort, port: 0 }, silent as never);
  others.push(other);
  return other;
}

test('a process for mail alone takes mail in, for the whole office, and serves nothing else', async () => {
  const { mailPort, port } = await another(['mail']);
  expect(port).toBe(0);
  const transport = createTransport({ host: '127.0.0.1', port: mailPort });
  await transport.sendMail({
    from: 'pell@postbox.example',
    to: maren.account.address,
    subject: 'By the other process',
    text: 'High water at seven.',
  });
  transport.close();
  await eventually(async () => ((await receivedOf(maren)).mails.length > 0 ? true : undefined));
});

test('a process for pages alone takes no mail in', async () => {
  const { mailPort, port } = await another(['web']);
  expect(mailPort).toBe(0);
  expect((await fetch(`http://127.0.0.1:${port}/api/office`)).status).toBe(200);
});

test.each(['', 'web,post', 'everything'])('roles spelled %j are refused at the start', (UNDERLOCK_ROLES) => {
  const env = { DATABASE_URL: 'postgres://x', UNDERLOCK_SECRET: 'A'.repeat(43), UNDERLOCK_ROLES };
  expect(() => readConfig(env)).toThrow(/UNDERLOCK_ROLES/);
});
