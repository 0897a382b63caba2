/** Whatever a mail does to the thread that deals with it, the others are dealt with, and its writer is told. */
import { type Bytes, randomBytes } from '@under-lock/core/bytes';
import { doorKeys } from '@under-lock/core/submission/keys';
import { makeKeyPair } from '@under-lock/core/account/key-pair';
import { join } from 'node:path';
import { eventually } from '../../server/test/house';
import { type Lying } from '../src/dealing';
import { Desk } from '../src/desk';
import { type Door } from '../src/house';

let secret: Bytes;
let desk: Desk;
/** By mail: what its writer was told. */
let told: Map<string, string>;
let said: { event: string; id?: string; became?: string }[];

const lying = (id: string): Lying => ({ id, deviceId: 'device', blobId: 'blob', label: new Uint8Array() });

async function open(atServer: Lying[] = []): Promise<void> {
  secret = randomBytes(32);
  [told, said] = [new Map(), []];
  const key = await makeKeyPair();
  const client = (async (
    endpoint: { path: string },
    input?: { params: { id: string }; body: { sentence: string } },
  ) => {
    if (endpoint.path.endsWith('/mails')) return { mails: atServer.filter(({ id }) => !told.has(id)) };
    if (endpoint.path.endsWith('/wait')) return void told.set(input!.params.id, input!.body.sentence);
    return { account: {}, key };
  }) as unknown as Door['client'];
  const door: Door = {
    keys: await doorKeys(secret),
    client,
    inNameOf: () => client,
    log: {
      info: (event, data) => void said.push({ event, ...data }),
      error: (event, error, data) => void said.push({ event, ...data, error: String(error) } as never),
    },
  };
  const config = { server: 'http://127.0.0.1:1', secret, threadFile: join(__dirname, 'threads/odd.mjs') };
  desk = new Desk(door, config, { again: 50, aMail: 2_000, aStop: 500, idle: 0 });
}
afterEach(() => desk.stop());

const dealtWith = (id: string): boolean => said.some((one) => one.event === 'dealt' && one.id === id);

test.each(['hangs', 'ends', 'fails'])(
  'one that %s is tried once more, then its writer is told; those beside it go',
  async (how) => {
    const all = ['one', how, 'two', 'three', 'four', 'five'].map(lying);
    await open(all);
    for (const mail of all) desk.put(mail, randomBytes(1_000));
    await eventually(() => (told.has(how) ? true : undefined));
    expect(told.get(how)).toBe('it could not be made ready at the door; look at it once and send it from here');
    expect([...told.keys()]).toEqual([how]);
    expect(said.filter(({ event, id }) => event === 'deal' && id === how)).toHaveLength(2);
    await eventually(() => (['one', 'two', 'three', 'four', 'five'].every(dealtWith) ? true : undefined));
  },
);

test('as long as the server can’t be asked, it is tried again, and nobody is told anything', async () => {
  await open([lying('later')]);
  await desk.takeUp();
  await eventually(() => (said.filter(({ became }) => became === 'later').length > 5 ? true : undefined));
  expect(told.size).toBe(0);
});

test('a desk that is closed ends what takes for ever, and begins nothing', async () => {
  await open();
  desk.put(lying('hangs'));
  await desk.stop();
  desk.put(lying('one'));
  await desk.idle().catch(() => undefined);
  expect(dealtWith('one')).toBe(false);
});
