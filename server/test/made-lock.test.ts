/**
 * A lock made here, of a folder and a line in the list: planned, wanted, sealed, judged, dispatched, delivered and
 * opened by everything that the house's own locks go through.
 */
import './knot/in-the-list';
import { getSent } from '@under-lock/contract/outgoing';
import { utf8 } from '@under-lock/core/bytes';
import { COPY_LOCKS, LOCKS } from '@under-lock/core/locks/index';
import { unwrapMail } from '@under-lock/core/locks/unwrap';
import { type Draft, draftSchema, emptyDraft, plainTerms } from '@under-lock/core/outgoing/draft';
import { tasks } from '../src/thread/tasks';
import { type Threads } from '../src/thread/pool';
import { codeOf, eventually, type House, openHouse, upload, type Worker } from './house';
import { knownTo, NO_MEANS, sendByProgram } from './program';

let house: House;
let maren: Worker;
beforeAll(async () => {
  house = await openHouse();
  maren = await house.worker('maren.oduya');
  // The list of the built threads has no such line: what they would run is run here.
  const here: Pick<Threads, 'run'> = { run: async (task, input) => tasks[task](input as never) as never };
  Object.assign(house.server.context.threads, here);
}, 60_000);
afterAll(() => house.stop());

const REEF = 'reef@postbox.example';
const draft: Draft = {
  ...emptyDraft,
  subject: 'Tide tables',
  text: 'High water at six.',
  terms: { ...plainTerms, copies: true },
  recipients: [
    { name: 'Reef', address: REEF, role: 'to', lock: 'knot' as never },
    { name: 'Wren', address: 'wren@postbox.example', role: 'to', lock: 'knot' as never },
  ],
};
const program = { files: new Map(), means: NO_MEANS };

test('it stands among the locks by its line in the list', () => {
  expect(LOCKS).toContain('knot');
  expect(COPY_LOCKS).toContain('knot');
  expect(draftSchema.parse(draft).recipients[0]!.lock).toBe('knot');
});

test('it is planned, sealed, judged, sent and opened', async () => {
  const { messageId, attempt, locks } = await sendByProgram(maren, draft, await knownTo(maren), program);
  expect([...locks.values()]).toEqual(['knot', 'knot']);
  expect(attempt.copies).toMatchObject([
    { lock: 'knot', clear: false, how: { turns: 3 }, recipients: [{ address: REEF }] },
    { lock: 'knot', recipients: [{ address: 'wren@postbox.example' }] },
  ]);
  const { copies } = await eventually(async () => {
    const sent = await maren.client(getSent, { params: { id: messageId } });
    return sent.copies.every(({ state }) => state === 'accepted') ? sent : undefined;
  });
  expect(copies.map(({ lock }) => lock)).toEqual(['knot', 'knot']);
  const mail = house.world.store.mails.find(({ mailbox }) => mailbox === REEF)!;
  const raw = new Uint8Array(Buffer.from(mail.raw, 'base64'));
  expect(Buffer.from(raw).toString('latin1')).not.toContain(draft.text);
  const { message, headerProtected } = await unwrapMail(raw, []);
  expect(headerProtected).toBe(true);
  expect([message.subject, message.text.trim()]).toEqual([draft.subject, draft.text]);
});

test('what is not under it leaves under its name as little as under any other', async () => {
  const known = await knownTo(maren);
  const openly = utf8(
    `From: <${maren.account.address}>\r\nTo: <${REEF}>\r\nContent-Type: application/x-knot\r\n\r\nHigh water at six.`,
  );
  const toReef = () => house.world.store.mails.filter(({ mailbox }) => mailbox === REEF);
  const before = toReef().length;
  const changed: Worker = {
    ...maren,
    client: (async (endpoint: { path: string }, input: { body?: { copies?: { blobId: string }[] } }) => {
      for (const copy of input?.body?.copies ?? []) {
        copy.blobId = crypto.randomUUID();
        await upload(maren.client, copy.blobId, openly);
      }
      return maren.client(endpoint as never, input as never);
    }) as never,
  };
  const [recipient] = draft.recipients;
  expect(await codeOf(sendByProgram(changed, { ...draft, recipients: [recipient!] }, known, program))).toBe(
    'invalid-input',
  );
  expect(toReef()).toHaveLength(before);
});
