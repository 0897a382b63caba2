/** An opening that takes its time: what is released is what may be released when the answer is made. */
import * as messageApi from '@under-lock/contract/outgoing';
import { NO_RIGHTS } from '@under-lock/core/handling/handling';
import { connect, type Socket } from 'node:net';
import { type Transaction } from 'sequelize';
import { askedOften, rows } from '../src/data/database';
import { demoMessage, type House, identified, openHouse, send, type Worker } from './house';

let house: House;
let maren: Worker;
beforeAll(async () => {
  house = await openHouse();
  maren = await house.worker('maren.oduya');
});
const sockets: Socket[] = [];
afterAll(async () => {
  for (const socket of sockets) socket.destroy();
  await house.stop();
});

/** An access whose reader has proved who they are, with the cookie that says so. */
async function opened() {
  const sent = await send(maren, demoMessage({ files: [] }), { terms: { rights: { ...NO_RIGHTS, save: true } } });
  const [grant] = sent.dispatch.grants as [(typeof sent.dispatch.grants)[0]];
  const { cookies } = await identified(house, grant);
  return { id: grant.id, messageId: sent.id, cookie: `under_lock_room=${[...cookies.values()][0]}` };
}

interface Begun {
  socket: Socket;
  answer: Promise<string>;
}

/** The head of a request alone, whose body is still to come. */
function begin(path: string, cookie: string, length: string): Begun {
  const socket = connect(house.server.port, '127.0.0.1');
  sockets.push(socket);
  socket.write(
    `POST ${path} HTTP/1.1\r\nHost: x\r\nOrigin: ${house.origin}\r\nCookie: ${cookie}\r\nContent-Type: application/json\r\n${length}\r\nConnection: close\r\n\r\n`,
  );
  const answer = new Promise<string>((resolve, reject) => {
    let text = '';
    socket.on('data', (chunk) => (text += chunk.toString()));
    socket.on('end', () => resolve(text));
    socket.on('error', reject);
  });
  return { socket, answer };
}

const withdraw = (messageId: string, id: string) =>
  maren.client(messageApi.withdrawGrants, { params: { id: messageId }, body: { grantIds: [id] } });

test('an opening is answered when it is asked, without waiting for a body that could come after the end', async () => {
  const { id, messageId, cookie } = await opened();
  const opening = begin(`/room/api/grants/${id}/open`, cookie, 'Content-Length: 2');
  expect(await opening.answer).toMatch(/^HTTP\/1\.1 200[\s\S]*"houseShare"/);
  await withdraw(messageId, id);
  const late = begin(`/room/api/grants/${id}/open`, cookie, 'Content-Length: 2');
  expect(await late.answer).toMatch(/^HTTP\/1\.1 (401|410)/);
});

test.each(['Content-Length: 100000', 'Transfer-Encoding: chunked'])(
  'what would go on sending where nothing is asked is refused: %s',
  async (length) => {
    const { id, cookie } = await opened();
    expect(await begin(`/room/api/grants/${id}/open`, cookie, length).answer).toMatch(/^HTTP\/1\.1 413/);
  },
);

test('what is no JSON is refused, also where nothing is read of it', async () => {
  const { id, cookie } = await opened();
  const answer = await fetch(`${house.origin}/room/api/grants/${id}/open`, {
    method: 'POST',
    headers: { Cookie: cookie, Origin: house.origin, 'Content-Type': 'text/plain' },
    body: '{}',
  });
  expect(answer.status).toBe(415);
});

test('who was let in before the end and sends their wish after it is refused, and nothing is recorded', async () => {
  const { id, messageId, cookie } = await opened();
  const saving = begin(`/room/api/grants/${id}/use`, cookie, 'Content-Length: 16');
  await new Promise((done) => setTimeout(done, 200));
  await withdraw(messageId, id);
  saving.socket.write('{"what":"saved"}');
  expect(await saving.answer).toMatch(/^HTTP\/1\.1 410/);
  const kinds = await rows<{ kind: string }>(house.server.context.db, 'SELECT kind FROM events WHERE grant_id = $1', [
    id,
  ]);
  expect(kinds.map(({ kind }) => kind)).not.toContain('saved');
});

test('a statement asked by its name goes on after the database has ended the connection', async () => {
  const { db } = house.server.context;
  const statement = { name: 'of-this-test', sql: 'SELECT pg_backend_pid() AS pid, $1::text AS said' };
  const [first] = await askedOften<{ pid: number; said: string }>(db, statement, ['one']);
  expect(first!.said).toBe('one');
  await rows(db, 'SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE pid = $1 AND pid <> pg_backend_pid()', [
    first!.pid,
  ]);
  await new Promise((done) => setTimeout(done, 100));
  const again = await askedOften<{ pid: number; said: string }>(db, statement, ['two']);
  expect(again[0]!.said).toBe('two');
});

test('a statement inside of a transaction does not wait for a second connection: whoever leaves the transaction out is told', async () => {
  const { db } = house.server.context;
  const askedIn = (transaction?: Transaction) => rows<{ one: number }>(db, 'SELECT 1 AS one', [], transaction);
  await expect(db.transaction(() => askedIn())).rejects.toThrow(/left the transaction out/);
  await expect(
    db.transaction(() => askedOften(db, { name: 'also-of-this-test', sql: 'SELECT 1' }, [])),
  ).rejects.toThrow(/left the transaction out/);
  // More at once than there are connections, and what a transaction starts for afterwards is free again.
  const all = await Promise.all(
    Array.from({ length: 40 }, () => db.transaction((transaction) => askedIn(transaction))),
  );
  expect(all.flat()).toHaveLength(40);
  expect(await askedIn()).toEqual([{ one: 1 }]);
});
