/** Passwords by text message: the server gives leave for one text to one number, and what stands in it goes past it. */
import { permitText } from '@under-lock/contract/phone';
import { setOwnPhone } from '@under-lock/contract/account';
import { createPhoneDoor } from '../src/phone/door';
import { codeOf, type House, openHouse, type Worker } from './house';

let house: House;
let maren: Worker;
beforeAll(async () => {
  house = await openHouse();
  maren = await house.worker('maren.oduya');
});
afterAll(() => house.stop());
afterEach(() => {
  house.world.behaviour.current = { mail: 'deliver', phone: 'deliver' };
});

const handIn = (url: string, permit: string, text = 'Password: tide-harbour') =>
  fetch(url, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ permit, text }),
  });

test('one text to the number that was named, once', async () => {
  const { url, permit } = await maren.client(permitText, { body: { to: '+447700900417' } });
  expect((await handIn(url, permit)).status).toBe(202);
  expect(house.world.store.texts.at(-1)).toMatchObject({ number: '+447700900417', text: 'Password: tide-harbour' });
  expect((await handIn(url, permit)).status).toBe(403);
  expect((await handIn(url, 'guessed')).status).toBe(403);
});

test('not to one’s own number, and not when the gateway gives no leave', async () => {
  await maren.client(setOwnPhone, { body: { phone: '+447700900101' } });
  expect(await codeOf(maren.client(permitText, { body: { to: '+447700900101' } }))).toBe('own-number');
  house.world.behaviour.current = { mail: 'deliver', phone: 'down' };
  expect(await codeOf(maren.client(permitText, { body: { to: '+447700900417' } }))).toBe('unreachable');
});

test('a gateway that names another place for the text is not followed', async () => {
  const server = (await import('node:http')).createServer((_, response) =>
    response
      .setHeader('Content-Type', 'application/json')
      .end(JSON.stringify({ url: 'https://elsewhere.example/', permit: 'x' })),
  );
  await new Promise<void>((resolve) => void server.listen(0, '127.0.0.1', resolve));
  const { port } = server.address() as { port: number };
  const door = createPhoneDoor({
    textUrl: `http://127.0.0.1:${port}/texts`,
    callUrl: `http://127.0.0.1:${port}/calls`,
    token: undefined,
  });
  expect(await door.permit('+447700900417', 'id')).toBeUndefined();
  server.close();
});

test('after sixty in an hour one has to wait', async () => {
  let code = 'done';
  for (let asked = 0; asked < 70 && code === 'done'; asked++)
    code = await codeOf(maren.client(permitText, { body: { to: '+447700900418' } }));
  expect(code).toBe('too-many-tries');
});
