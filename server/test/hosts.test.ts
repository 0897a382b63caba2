/** What the server says to a host, and how its cookies are spelled where there is encryption. */
import { type Cookie, DEVICES, READER, REGISTERED, SESSION, spelledName } from '../src/http/cookie';
import { eventually, giveKeyPair, type House, openHouse } from './house';
import { freePort } from './free-port';
import { createTransport } from 'nodemailer';
import { spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { request } from 'node:http';
import { join } from 'node:path';

const settings = {
  UNDERLOCK_ORIGIN: 'https://desk.larkmoor.example',
  UNDERLOCK_ROOM_ORIGIN: 'https://room.larkmoor.example',
};
let house: House;
beforeAll(async () => {
  house = await openHouse(settings);
});
afterAll(() => house.stop());

interface Answer {
  status: number;
  cookies: string[];
}

const ask = (
  path: string,
  { host, method = 'GET', body, origin }: { host: string; method?: string; body?: unknown; origin?: string },
): Promise<Answer> =>
  new Promise((resolve, reject) => {
    const sent = request(
      {
        host: '127.0.0.1',
        port: house.server.port,
        path,
        method,
        headers: { host, 'content-type': 'application/json', ...(origin === undefined ? {} : { origin }) },
      },
      (response) => {
        response.resume();
        response.once('end', () =>
          resolve({ status: response.statusCode!, cookies: response.headers['set-cookie'] ?? [] }),
        );
      },
    );
    sent.once('error', reject);
    sent.end(body === undefined ? undefined : JSON.stringify(body));
  });

test.each([
  ['room.larkmoor.example', '/room/', 200],
  ['room.larkmoor.example', '/', 404],
  ['room.larkmoor.example', '/desk', 404],
  ['room.larkmoor.example', '/api/office', 404],
  ['room.larkmoor.example', '/.well-known/openpgpkey/larkmoor.example/policy', 404],
  ['desk.larkmoor.example', '/api/office', 200],
  ['desk.larkmoor.example', '/desk', 200],
])('at %s, %s answers %d', async (host, path, status) => expect((await ask(path, { host })).status).toBe(status));

test('behind encryption every cookie has a prefix that browsers hold to, and none is set elsewhere', async () => {
  const started = await ask('/room/api/reset/code', {
    host: 'room.larkmoor.example',
    origin: settings.UNDERLOCK_ROOM_ORIGIN,
    method: 'POST',
    body: { address: 'nobody@postbox.example' },
  });
  expect(started.cookies).toHaveLength(1);
  expect(started.cookies[0]).toMatch(/^__Secure-under_lock_reset=[^;]+; path=\/room\/api\/reset;.* secure;.*httponly/i);
  const spelled = (cookie: Cookie): string => spelledName(house.server.context.config, cookie);
  expect([SESSION, DEVICES.worker, DEVICES.reader, REGISTERED, READER('x')].map(spelled)).toEqual([
    '__Host-under_lock',
    '__Secure-under_lock_device',
    '__Secure-under_lock_reader_device',
    '__Secure-under_lock_reader',
    '__Secure-under_lock_room',
  ]);
  expect(spelledName({ origin: 'http://127.0.0.1:8420' }, SESSION)).toBe('under_lock');
});

test('a request from another site changes nothing, whichever host it names', async () => {
  for (const origin of ['https://elsewhere.example', settings.UNDERLOCK_ROOM_ORIGIN, 'http://desk.larkmoor.example']) {
    expect((await ask('/api/session', { host: 'desk.larkmoor.example', origin, method: 'DELETE' })).status).toBe(403);
  }
});

const isRoot = process.getuid?.() === 0;
(isRoot ? test : test.skip)(
  'started by root it keeps the rights of another user, goes on serving, and takes in large mail',
  async () => {
    const [port, mailPort] = [await freePort(), await freePort()];
    const plain = await openHouse();
    await giveKeyPair(await plain.worker('maren.oduya'));
    const { UNDERLOCK_TEST_CLUSTER: _, ...env } = process.env;
    const child = spawn(process.execPath, [join(__dirname, '../../dist/server.mjs')], {
      cwd: join(__dirname, '../..'),
      env: {
        ...env,
        DATABASE_URL: plain.databaseUrl,
        UNDERLOCK_SECRET: 'A'.repeat(43),
        UNDERLOCK_PORT: String(port),
        UNDERLOCK_MAIL_PORT: String(mailPort),
        UNDERLOCK_COMMON_PASSWORDS: '0',
        UNDERLOCK_USER: 'nobody',
      },
      stdio: 'ignore',
    });
    try {
      const uids = await eventually(async () => {
        const answered = await fetch(`http://127.0.0.1:${port}/api/office`).then(
          (response) => response.ok,
          () => false,
        );
        const said = answered ? /^Uid:\s+(\d+)\s+(\d+)/m.exec(readFileSync(`/proc/${child.pid}/status`, 'utf8')) : null;
        return said === null || said[1] === '0' ? undefined : [said[1], said[2]];
      }, 30);
      expect(uids.every((uid) => uid !== '0')).toBe(true);
      expect((await fetch(`http://127.0.0.1:${port}/api/office`)).ok).toBe(true);
      // More than is kept in memory: it lies on disk meanwhile, where that user may write.
      const sender = createTransport({ host: '127.0.0.1', port: mailPort, ignoreTLS: true });
      const { response } = await sender.sendMail({
        from: 'pell.anders@postbox.example',
        to: 'maren.oduya@larkmoor.example',
        subject: 'Large',
        text: 'x'.repeat(1_000_000),
      });
      expect(response).toMatch(/^250/);
    } finally {
      child.kill('SIGTERM');
      await new Promise((done) => child.once('exit', done));
      await plain.stop();
    }
  },
  60_000,
);
