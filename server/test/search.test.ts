/** What searching asks of the server: sealed words, and sent messages by their state. Each account its own, nobody else's. */
import { listReceived } from '@under-lock/contract/received';
import * as messageApi from '@under-lock/contract/outgoing';
import { fetchWords, findByState } from '@under-lock/contract/search';
import { randomBytes } from '@under-lock/core/bytes';
import { openIncomingKey, openIncomingWords } from '@under-lock/core/incoming/incoming';
import { buildMessage } from '@under-lock/core/message/build';
import { run } from '../src/data/database';
import { keepIncoming } from '../src/incoming/incoming';
import { AccountRow } from '../src/data/models';
import { demoMessage, giveKeyPair, type House, type KeyPair, noticesGone, openHouse, send, type Worker } from './house';

let house: House;
let maren: Worker;
let tobias: Worker;
let key: KeyPair;
beforeAll(async () => {
  house = await openHouse();
  maren = await house.worker('maren.oduya');
  tobias = await house.worker('tobias.quill');
  key = await giveKeyPair(maren);
});
afterAll(() => house.stop());
afterEach(() => (house.clock.real = true));

const to = (...addresses: string[]) =>
  demoMessage({ files: [], to: addresses.map((address) => ({ name: '', address })) });
const nothing = { sent: [], mails: [], held: [] };

test('the words of a sent message are given to whoever sent it, and to nobody else', async () => {
  const words = randomBytes(64);
  const { id } = await send(maren, to('pell.anders@postbox.example'), { words });
  const { id: without } = await send(maren, to('pell.anders@postbox.example'));
  const asked = { ...nothing, sent: [id, without] };
  const { sent } = await maren.client(fetchWords, { body: asked });
  expect(sent).toEqual([{ id, sealed: new Uint8Array(words) }]);
  expect((await tobias.client(fetchWords, { body: asked })).sent).toEqual([]);
});

test('mail that comes readable is found by its text and the names of its files; sealed, and under the mail’s own key', async () => {
  const account = (await AccountRow.findByPk(maren.account.id))!;
  const raw = buildMessage(
    demoMessage({
      from: { name: 'Pell Anders', address: 'pell.anders@postbox.example' },
      text: 'The eyesight test was on Thursday.',
      files: [{ name: 'eyesight.pdf', type: 'application/pdf', bytes: new Uint8Array(2_000_000).fill(7) }],
    }),
  );
  await keepIncoming(house.server.context, account, raw, { from: 'pell.anders@postbox.example' });
  const [mail] = (await maren.client(listReceived)).messages.flatMap((one) => (one.kind === 'mail' ? [one] : []));
  const asked = { ...nothing, mails: [mail!.id] };
  const { mails } = await maren.client(fetchWords, { body: asked });
  const opened = await openIncomingWords(
    mails[0]!.sealed,
    await openIncomingKey(key.privateKey, mail!.sealedKey, mail!.id),
    mail!.id,
  );
  expect(opened).toEqual({ text: expect.stringContaining('eyesight test was on Thursday'), files: ['eyesight.pdf'] });
  expect(Buffer.from(mails[0]!.sealed).includes('eyesight')).toBe(false);
  expect((await tobias.client(fetchWords, { body: asked })).mails).toEqual([]);
  const byId = await maren.client(listReceived, { query: { ids: [mail!.id] } });
  expect(byId.messages.map((one) => (one.kind === 'mail' ? one.id : ''))).toEqual([mail!.id]);
  expect((await tobias.client(listReceived, { query: { ids: [mail!.id] } })).messages).toEqual([]);
});

test('sent messages by what is so now: open, not opened, come back, closing before a time, under a lock', async () => {
  const worker = await house.worker('signe');
  const [first, second, third] = [
    await send(worker, to('one@postbox.example')),
    await send(worker, to('two@postbox.example', 'three@postbox.example')),
    await send(worker, to('four@postbox.example')),
  ];
  const { db } = house.server.context;
  const set = (id: string, change: string) => run(db, `UPDATE grants SET ${change} WHERE message_id = $1`, [id]);
  for (const { id } of [first, second, third]) await noticesGone(house, id);
  await set(first.id, `open_count = 1`);
  await set(second.id, `notice_state = 'bounced'`);
  await worker.client(messageApi.withdrawGrants, {
    params: { id: third.id },
    body: { grantIds: third.dispatch.grants.map(({ id }) => id) },
  });
  const ids = async (query: Parameters<typeof worker.client<typeof findByState>>[1]) =>
    new Set((await worker.client(findByState, query)).ids);
  const lastAt = second.dispatch.handling.closesAt.getTime();
  const firstAt = first.dispatch.handling.closesAt.getTime();
  expect(await ids({ query: {} })).toEqual(new Set([first.id, second.id, third.id]));
  expect(await ids({ query: { states: ['open'] } })).toEqual(new Set([first.id, second.id]));
  expect(await ids({ query: { states: ['unopened'] } })).toEqual(new Set([second.id]));
  expect(await ids({ query: { states: ['open', 'bounced'] } })).toEqual(new Set([second.id]));
  expect(await ids({ query: { closingBefore: new Date(lastAt + 1) } })).toEqual(new Set([first.id, second.id]));
  expect(await ids({ query: { closingBefore: new Date(firstAt - 1) } })).toEqual(new Set());
  expect(await ids({ query: { locks: ['room'] } })).toEqual(new Set([first.id, second.id, third.id]));
  expect(await ids({ query: { locks: ['certificate', 'openpgp'] } })).toEqual(new Set());
  expect((await maren.client(findByState, { query: {} })).ids).not.toContain(first.id);
  // Those of these numbers, and of one's own only.
  const listed = await worker.client(messageApi.listSent, { query: { ids: [first.id, third.id] } });
  expect(new Set(listed.messages.map(({ id }) => id))).toEqual(new Set([first.id, third.id]));
  expect((await maren.client(messageApi.listSent, { query: { ids: [first.id] } })).messages).toEqual([]);
});
