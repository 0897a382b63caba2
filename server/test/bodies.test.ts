/** Bodies made to cost: nested, never ending, larger than they say, and many at once. */
import { allEndpoints } from '@under-lock/contract/index';
import { rawBytes } from '@under-lock/contract/endpoint';
import { connect, type Socket } from 'node:net';
import { BodyBudget, depthOf } from '../src/http/body';
import { type House, openHouse } from './house';

let house: House;
beforeAll(async () => {
  house = await openHouse();
});
afterAll(() => house.stop());

const post = (path: string, body: string): Promise<number> =>
  fetch(house.origin + path, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', Origin: house.origin },
    body,
  }).then((response) => response.status);

test('nobody who has not signed in can send more than kilobytes, at any endpoint', async () => {
  for (const endpoint of allEndpoints.filter(({ access, method }) => access === 'anybody' && method !== 'GET')) {
    expect([endpoint.path, endpoint.maxBytes]).toEqual([endpoint.path, 16 * 1024]);
    expect([
      endpoint.path,
      await post(endpoint.path.replace(/:\w+/g, crypto.randomUUID()), `{"address":"${'x'.repeat(20_000)}"}`),
    ]).toEqual([endpoint.path, 413]);
  }
  // What is larger is said where it is larger, and nothing has no limit.
  for (const { body, maxBytes } of allEndpoints) expect(body === rawBytes || maxBytes <= 8_000_000).toBe(true);
});

test('depth is counted before anything is parsed, and strings don’t count', async () => {
  expect(depthOf(Buffer.from('{"a":[[{}]]}'))).toBe(4);
  expect(depthOf(Buffer.from('{"a":"[[[[\\"[[["}'))).toBe(1);
  expect(depthOf(Buffer.from('[[[['))).toBe(4);
  const parse = jest.spyOn(JSON, 'parse');
  const deep = `{"address":${'['.repeat(7000)}${']'.repeat(7000)}}`;
  expect(await post('/api/sign-in/start', deep)).toBe(400);
  expect(parse.mock.calls.some(([text]) => String(text).includes('[[[['))).toBe(false);
  parse.mockRestore();
});

/** Begins a request and never ends it. */
function begun(length: number, sent: number): Promise<Socket> {
  return new Promise((resolve, reject) => {
    const socket = connect(house.server.port, '127.0.0.1', () => {
      socket.write(
        `POST /api/sign-in HTTP/1.1\r\nHost: x\r\nOrigin: ${house.origin}\r\nContent-Type: application/json\r\nContent-Length: ${length}\r\n\r\n${'x'.repeat(sent)}`,
        () => resolve(socket),
      );
    });
    socket.on('error', () => reject(new Error('refused')));
  });
}

test('a hundred and fifty bodies that never end hold kilobytes, and others are served', async () => {
  const sockets = await Promise.all(Array.from({ length: 150 }, () => begun(16_000, 12_000)));
  await new Promise((done) => setTimeout(done, 300));
  expect((await fetch(`${house.origin}/api/office`)).status).toBe(200);
  for (const socket of sockets) socket.destroy();
});

test('what has begun is counted by place and in all, and forgotten when it ends', () => {
  const budget = new BodyBudget();
  for (let count = 0; count < 100; count++) budget.begin('here');
  expect(() => budget.begin('here')).toThrow(expect.objectContaining({ code: 'busy' }));
  budget.begin('there');
  expect(() => budget.add('here', 65 * 1024 * 1024)).toThrow(expect.objectContaining({ code: 'busy' }));
  budget.end('here', 65 * 1024 * 1024);
  for (let count = 1; count < 100; count++) budget.end('here', 0);
  budget.end('there', 0);
  expect(budget.unfinished).toEqual({ bodies: 0, bytes: 0 });
});
