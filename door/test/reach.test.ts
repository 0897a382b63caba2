/** The server as the door reaches it: a line that was found dead is no reason to leave a mail lying. */
import { listUnfinished } from '@under-lock/contract/submission';
import { isProblem } from '@under-lock/contract/problem';
import { randomBytes } from '@under-lock/core/bytes';
import { doorKeys } from '@under-lock/core/submission/keys';
import { createServer, type Server } from 'node:http';
import { type AddressInfo } from 'node:net';
import { clientsOf } from '../src/house';

let server: Server;
let dead = 0;
let asked = 0;
beforeAll(async () => {
  server = createServer((request, response) => {
    asked += 1;
    if (asked <= dead) return void request.socket.destroy();
    response.setHeader('Content-Type', 'application/json');
    return void response.end(JSON.stringify({ mails: [] }));
  });
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
});
afterAll(() => new Promise((done) => server.close(done)));

const ask = async (deadOnes: number) => {
  [dead, asked] = [deadOnes, 0];
  const keys = await doorKeys(randomBytes(32));
  const { client } = clientsOf(`http://127.0.0.1:${(server.address() as AddressInfo).port}`, keys);
  return client(listUnfinished);
};

test('dead lines are left for a new one', async () => expect(await ask(3)).toEqual({ mails: [] }));
test('a server that is not there is said not to be', async () => {
  const error: unknown = await ask(100).catch((cause: unknown) => cause);
  expect(isProblem(error, 'unreachable')).toBe(true);
  expect(asked).toBe(4);
});
