/**
 * What the server asks for on others' behalf: never inside the house, by whatever name or spelling; the office's own
 * doors may be, and are asked with their token.
 */
import { createServer, type IncomingMessage, type Server } from 'node:http';
import { type AddressInfo } from 'node:net';
import { type LookupAddress } from 'node:dns';
import { type Duplex } from 'node:stream';
import { Agent, fetch } from 'undici';
import { askDoor, fetchOutside, isInside, outsideOnly, WebError } from '../src/certificate/web';
import { readConfig } from '../src/config';
import { type Context } from '../src/context';

let server: Server;
let port: number;
const seen: IncomingMessage[] = [];
beforeAll(async () => {
  server = createServer((request, response) => {
    seen.push(request);
    if (request.url === '/away') response.writeHead(302, { Location: `http://127.0.0.1:${port}/secret` }).end();
    else response.end('secret of the house');
  });
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  ({ port } = server.address() as AddressInfo);
});
afterAll(() => new Promise((done) => server.close(done)));
beforeEach(() => void (seen.length = 0));

const context = (settings: Record<string, string> = {}) =>
  ({ config: readConfig({ DATABASE_URL: 'x', UNDERLOCK_SECRET: 'A'.repeat(43), ...settings }) }) as Context;
const address = (ip: string): LookupAddress => ({ address: ip, family: ip.includes(':') ? 6 : 4 });

test.each([
  '127.0.0.1',
  '10.1.2.3',
  '172.31.255.255',
  '192.168.1.1',
  '169.254.169.254',
  '100.64.0.1',
  '0.0.0.0',
  '192.0.0.8',
  '192.0.2.1',
  '192.88.99.1',
  '198.18.0.1',
  '198.51.100.1',
  '203.0.113.1',
  '224.0.0.1',
  '240.0.0.1',
  '255.255.255.255',
  '::',
  '::1',
  '::127.0.0.1',
  '::ffff:10.0.0.1',
  '::ffff:a9fe:a9fe',
  '::ffff:0:127.0.0.1',
  '64:ff9b::7f00:1',
  '64:ff9b:1::1',
  '100::1',
  '2001::1',
  '2001:0:4136:e378::1',
  '2001:db8::1',
  '2002:7f00:1::',
  '3fff::1',
  '5f00::1',
  'fc00::1',
  'fdff::1',
  'fe80::1',
  'fec0::1',
  'ff02::1',
  '2606:2800:220:1:0:5efe:7f00:1',
])('%s is inside', (ip) => expect(isInside(ip)).toBe(true));
test.each(['93.184.216.34', '1.1.1.1', '172.32.0.1', '100.128.0.1', '2606:2800:220:1::1', '2a00:1450:4001::1'])(
  '%s is outside',
  (ip) => expect(isInside(ip)).toBe(false),
);

/** What a name says the first time, the second, … */
const naming = (...answers: string[][]) => {
  let asked = 0;
  const resolver = (
    _host: string,
    _options: { all: true },
    done: (error: Error | null, addresses: LookupAddress[]) => void,
  ): void => done(null, (answers[Math.min(asked++, answers.length - 1)] ?? []).map(address));
  return { resolver, asked: () => asked };
};
const through = (...lookup: Parameters<typeof outsideOnly>) =>
  fetch(`http://rebound.example:${port}/`, {
    dispatcher: new Agent({ connect: { lookup: outsideOnly(...lookup) as never, timeout: 1500 } }),
    signal: AbortSignal.timeout(3000),
  }).then(
    (response) => response.text(),
    (error: Error) => String(error.cause ?? error),
  );

test('a name that leads inside is not followed, alone or among others', async () => {
  expect(await through(naming(['127.0.0.1']).resolver)).toContain('inside the house');
  expect(await through(naming(['93.184.216.34', '127.0.0.1']).resolver)).toContain('inside the house');
  expect(await through(naming(['::ffff:127.0.0.1']).resolver)).toContain('inside the house');
  expect(seen).toHaveLength(0);
});

test('a name is asked once, and the connection goes where it was said to lead then', async () => {
  // Here one address of this machine stands for the outside, and every other for the house.
  const { resolver, asked } = naming(['127.0.0.1'], ['127.0.0.9']);
  expect(await through(resolver, (ip) => ip !== '127.0.0.1')).toBe('secret of the house');
  expect(asked()).toBe(1);
  expect(await through(resolver, (ip) => ip !== '127.0.0.1')).toContain('inside the house');
});

test('nothing of the house is fetched, whichever way it is spelled', async () => {
  for (const url of [
    `http://127.0.0.1:${port}/`,
    'http://2130706433/',
    'http://0x7f.1/',
    'http://[::1]/',
    'http://localhost/',
    'http://localhost./',
    'http://127.1/',
  ])
    await expect(fetchOutside(context(), url, 1000)).rejects.toBeInstanceOf(WebError);
  expect(seen).toHaveLength(0);
});

test('a door of the office is asked inside, with its own token; where it leads on to is not', async () => {
  const doors = context({
    UNDERLOCK_AUTHORITY_TOKEN: 'of the authority',
    UNDERLOCK_DIRECTORY_TOKEN: 'of the directory',
  });
  expect(String(await askDoor(doors, 'authority', `http://127.0.0.1:${port}/certificates`, 1000))).toBe(
    'secret of the house',
  );
  await askDoor(doors, 'keys', `http://127.0.0.1:${port}/pks`, 1000);
  expect(seen.map(({ headers }) => headers.authorization)).toEqual(['Bearer of the authority', undefined]);
  await expect(askDoor(doors, 'authority', `http://127.0.0.1:${port}/away`, 1000)).rejects.toBeInstanceOf(WebError);
  expect(seen.map(({ url }) => url)).not.toContain('/secret');
  await expect(askDoor(doors, 'authority', `http://127.0.0.1:${port}/`, 5)).rejects.toMatchObject({
    message: 'larger than allowed',
  });
});

test('with a proxy set, what strangers named is asked through it and nowhere else', async () => {
  const tunnels: (string | undefined)[] = [];
  server.on('connect', (request: IncomingMessage, socket: Duplex) => {
    tunnels.push(request.url);
    socket.end('HTTP/1.1 403 Forbidden\r\n\r\n');
  });
  await expect(
    fetchOutside(
      context({ UNDERLOCK_FETCH_PROXY: `http://127.0.0.1:${port}` }),
      'http://lists.authority.test/list.crl',
      1000,
    ),
  ).rejects.toBeInstanceOf(WebError);
  expect(tunnels).toEqual(['lists.authority.test:80']);
});
