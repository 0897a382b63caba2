/**
 * Passing on: never wider, never longer, never after the end; and no order of events by anybody releases more than the
 * parent had.
 */
import * as messageApi from '@under-lock/contract/outgoing';
import * as rulesApi from '@under-lock/contract/rules';
import * as roomApi from '@under-lock/contract/room';
import * as writingApi from '@under-lock/contract/writing';
import { readMessage } from '@under-lock/core/message/read';
import { answerProof } from '@under-lock/core/identity/answer';
import { randomBytes } from '@under-lock/core/bytes';
import { ALL_RIGHTS, NO_RIGHTS } from '@under-lock/core/handling/handling';
import { joinKey, shareProof } from '@under-lock/core/locks/room/grant';
import { splitKey } from '@under-lock/core/locks/room/split';
import fc from 'fast-check';
import PostalMime from 'postal-mime';
import { type Rule } from '@under-lock/core/rules/rule';
import { randomUUID } from 'node:crypto';
import { rows } from '../src/data/database';
import { closeDue } from '../src/access/grants';
import { tellOfRules } from '../src/rules/tell';
import {
  ANSWER,
  answerOf,
  eventually,
  demoMessage,
  type House,
  linkFromMail,
  openHouse,
  send,
  type Worker,
} from './house';

let house: House;
let maren: Worker;
beforeAll(async () => {
  house = await openHouse();
  maren = await house.worker('maren.oduya');
});
afterEach(() => {
  house.clock.real = true;
});
afterAll(() => house.stop());

interface Held {
  messageId: string;
  id: string;
  readerShare: Uint8Array<ArrayBuffer>;
  reader: ReturnType<House['visitor']>;
}

async function identified(
  messageId: string,
  id: string,
  readerShare: Uint8Array<ArrayBuffer>,
  answer?: string,
): Promise<Held> {
  const reader = house.visitor();
  const proof = await shareProof(readerShare);
  await reader(roomApi.sendPasscode, { params: { id }, body: { proof } });
  await reader(roomApi.enterPasscode, {
    params: { id },
    body: {
      proof,
      passcode: /^\d{6}/.exec(house.world.store.texts.at(-1)!.text)![0],
      ...(answer === undefined ? {} : { answerProof: await answerProof(answer, readerShare) }),
    },
  });
  return { messageId, id, readerShare, reader };
}

async function held(options: Parameters<typeof send>[2] = {}): Promise<Held & { key: Uint8Array }> {
  const sent = await send(
    maren,
    demoMessage({ files: [], to: [{ name: 'Pell', address: 'pell.anders@postbox.example' }] }),
    { ...options, terms: { rights: { ...NO_RIGHTS, forward: true }, ...options.terms } },
  );
  const [{ id, readerShare }] = sent.dispatch.grants as [(typeof sent.dispatch.grants)[0]];
  return {
    ...(await identified(sent.id, id, readerShare, options.terms?.question === true ? ANSWER : undefined)),
    key: sent.contentKey.key,
  };
}

/** Splits and passes on as the page does. */
async function passOn(
  from: Held,
  address: string,
  channel: messageApi.Channel = { kind: 'text', target: '+447700900262' },
): Promise<Omit<Held, 'reader'>> {
  const released = await from.reader(roomApi.openRoom, { params: { id: from.id } });
  const key = await joinKey(from.readerShare, released, { grantId: from.id, messageId: from.messageId });
  const id = randomUUID();
  const { readerShare, house: halves } = await splitKey(key, { grantId: id, messageId: from.messageId });
  await from.reader(writingApi.forwardRoom, {
    params: { id: from.id },
    body: { id, address, name: 'One more', ...halves, readerShare, channel },
  });
  return { messageId: from.messageId, id, readerShare };
}

test('whoever is named reads with a link and a check of their own; the sender sees who gave it to whom', async () => {
  const pell = await held();
  const child = await passOn(pell, 'office@saltmarsh.example');
  const link = await linkFromMail(house, 'office@saltmarsh.example');
  expect(link.grantId).toBe(child.id);
  const yard = await identified(child.messageId, child.id, child.readerShare);
  expect(house.world.store.texts.at(-1)!.number).toBe('+447700900262');
  const released = await yard.reader(roomApi.openRoom, { params: { id: child.id } });
  expect(await joinKey(child.readerShare, released, { grantId: child.id, messageId: child.messageId })).toEqual(
    pell.key,
  );
  const sent = await maren.client(messageApi.getSent, { params: { id: pell.messageId } });
  expect(sent.grants.find(({ id }) => id === child.id)).toMatchObject({
    passedOn: { parentId: pell.id, address: 'pell.anders@postbox.example' },
    opened: { count: 1 },
  });
  expect(sent.events.map(({ kind }) => kind)).toContain('passed-on');
  expect((await pell.reader(writingApi.listForwards, { params: { id: pell.id } })).forwards).toMatchObject([
    { address: 'office@saltmarsh.example', state: 'held' },
  ]);
});

test.each([
  [
    'where it is not allowed',
    { terms: { rights: { ...ALL_RIGHTS, forward: false } } },
    'new@postbox.example',
    { kind: 'text', target: '+447700900262' },
    'right-not-given',
  ],
  ['by a weaker check', {}, 'new@postbox.example', { kind: 'email', target: 'x@islandmail.example' }, 'below-preset'],
  [
    'without the question that is asked besides',
    { terms: { question: true } },
    'new@postbox.example',
    { kind: 'text', target: '+447700900262' },
    'below-preset',
  ],
  [
    'with the passcode to their own phone',
    {},
    'new@postbox.example',
    { kind: 'text', target: '+447700900417' },
    'own-number',
  ],
  ['to nobody', {}, 'no address', { kind: 'text', target: '+447700900262' }, 'invalid-input'],
  [
    'to somebody who reads it',
    {},
    'PELL.anders@postbox.example',
    { kind: 'text', target: '+447700900262' },
    'reads-already',
  ],
  ['to the sender', {}, 'maren.oduya@larkmoor.example', { kind: 'text', target: '+447700900262' }, 'reads-already'],
] as const)('refused %s', async (_, options, address, channel, code) => {
  const pell = await held(options as Parameters<typeof send>[2]);
  await expect(passOn(pell, address, channel)).rejects.toMatchObject({ code });
});

test('the office’s rules, as they are now, hold for whoever it is passed on to; the reader learns no rule’s name', async () => {
  const admin = await house.worker('ines.varga', 'administrator');
  const pell = await held();
  const { version: over } = await admin.client(rulesApi.getPolicy);
  const value: Rule = {
    id: randomUUID(),
    name: 'Nothing to rivals',
    sentence: 'Rivals get nothing.',
    state: 'on',
    when: { allOf: [{ kind: 'recipient-at', domains: ['rival.example'] }], anyOf: [], noneOf: [] },
    effects: [{ kind: 'stop', sentence: 'Not to them.' }],
  };
  await admin.client(rulesApi.putPolicyItem, {
    params: { id: value.id },
    body: { item: { kind: 'rule', value }, over },
  });
  const answer = await answerOf(passOn(pell, 'spy@rival.example'));
  expect(answer).toMatch(/^breaks-rule: /);
  expect(answer).not.toMatch(/Nothing to rivals|Not to them/);
  const child = await passOn(pell, 'office@saltmarsh.example');
  const yard = await identified(child.messageId, child.id, child.readerShare);
  const spysPhone = { kind: 'text', target: '+447700900348' } as const;
  await expect(passOn(yard, 'spy@rival.example', spysPhone)).rejects.toMatchObject({ code: 'breaks-rule' });
  await admin.client(rulesApi.removePolicyItem, { params: { id: value.id } });
  await passOn(pell, 'spy@rival.example');
});

test('whom a rule tells learns of whom it is passed on to as well: once for each rule, when there is a new one again', async () => {
  const admin = await house.worker('orla.finn', 'administrator');
  const put = async (name: string, domain: string): Promise<string> => {
    const { version: over } = await admin.client(rulesApi.getPolicy);
    const value: Rule = {
      id: randomUUID(),
      name,
      sentence: 'Somebody looks at it.',
      state: 'on',
      when: { allOf: [{ kind: 'recipient-at', domains: [domain] }], anyOf: [], noneOf: [] },
      effects: [{ kind: 'tell', addresses: [admin.account.address] }],
    };
    await admin.client(rulesApi.putPolicyItem, {
      params: { id: value.id },
      body: { item: { kind: 'rule', value }, over },
    });
    return value.id;
  };
  const told = async (count: number): Promise<string[]> => {
    await tellOfRules(house.server.context);
    const mails = await eventually(() => {
      const found = house.world.store.mails.filter(({ mailbox }) => mailbox === admin.account.address);
      return found.length >= count ? found : undefined;
    });
    return Promise.all(mails.map(async ({ raw }) => (await PostalMime.parse(Buffer.from(raw, 'base64'))).text ?? ''));
  };
  const pell = await held();
  const rules = [
    await put('Rivals are looked at', 'rival.example'),
    await put('Yards are looked at', 'saltmarsh.example'),
  ];
  await passOn(pell, 'spy@rival.example');
  const first = await told(1);
  expect(first).toHaveLength(1);
  expect(first[0]).toContain('“Rivals are looked at”');
  expect(first[0]).toContain('to 2 people');
  await passOn(pell, 'other@rival.example');
  expect(await told(1)).toHaveLength(1);
  await passOn(pell, 'office@saltmarsh.example');
  const second = await told(2);
  expect(second).toHaveLength(2);
  expect(second.at(-1)).toContain('“Yards are looked at”');
  for (const id of rules) await admin.client(rulesApi.removePolicyItem, { params: { id } });
});

test('passing on, using and telling again at the same time never stand in one another’s way', async () => {
  for (let round = 0; round < 12; round++) {
    const pell = await held();
    const readerShare = pell.readerShare;
    await Promise.all([
      ...Array.from({ length: 3 }, (_, index) => passOn(pell, `round${round}.${index}@postbox.example`)),
      ...Array.from({ length: 3 }, () => pell.reader(roomApi.openRoom, { params: { id: pell.id } })),
      maren.client(messageApi.tellAgain, { params: { id: pell.messageId, grantId: pell.id }, body: { readerShare } }),
      maren.client(messageApi.moveClosing, {
        params: { id: pell.messageId },
        body: { grantIds: [pell.id], closesAt: new Date(Date.now() + 86_400_000) },
      }),
    ]);
  }
});

test('two at once name the same person once; the chain ends at five', async () => {
  const pell = await held();
  const outcomes = await Promise.allSettled(Array.from({ length: 5 }, () => passOn(pell, 'office@saltmarsh.example')));
  expect(outcomes.filter(({ status }) => status === 'fulfilled')).toHaveLength(1);
  let at: Held = await held();
  const phones = ['+447700900262', '+447700900417'];
  for (let step = 0; step < 5; step++) {
    const child = await passOn(at, `step${step}@postbox.example`, { kind: 'text', target: phones[step % 2]! });
    at = await identified(child.messageId, child.id, child.readerShare);
  }
  await expect(passOn(at, 'too.far@postbox.example', { kind: 'voice', target: '+447700900348' })).rejects.toMatchObject(
    { code: 'below-preset' },
  );
  await expect(passOn(at, 'too.far@postbox.example', { kind: 'text', target: '+447700900348' })).rejects.toMatchObject({
    code: 'right-not-given',
  });
});

test('moving the date of one moves nobody below past it; withdrawing one ends the branch, and only that', async () => {
  const pell = await held({ closesAt: new Date(Date.now() + 9 * 86_400_000) });
  const child = await passOn(pell, 'office@saltmarsh.example');
  const yard = await identified(child.messageId, child.id, child.readerShare);
  const grandchild = await passOn(yard, 'claims@northquay.example', { kind: 'text', target: '+447700900348' });
  const grants = async () =>
    new Map(
      (await maren.client(messageApi.getSent, { params: { id: pell.messageId } })).grants.map((grant) => [
        grant.id,
        grant,
      ]),
    );
  const soon = new Date(Date.now() + 2 * 86_400_000);
  await maren.client(messageApi.moveClosing, {
    params: { id: pell.messageId },
    body: { grantIds: [pell.id], closesAt: soon },
  });
  for (const id of [child.id, grandchild.id]) expect((await grants()).get(id)!.closesAt).toEqual(soon);
  // Later for the child alone: no later than its parent.
  await maren.client(messageApi.moveClosing, {
    params: { id: pell.messageId },
    body: { grantIds: [child.id], closesAt: new Date(Date.now() + 5 * 86_400_000) },
  });
  expect((await grants()).get(child.id)!.closesAt).toEqual(soon);
  await maren.client(messageApi.withdrawGrants, { params: { id: pell.messageId }, body: { grantIds: [child.id] } });
  expect([...(await grants()).values()].map(({ id, state }) => [id, state]).sort()).toEqual(
    [
      [pell.id, 'held'],
      [child.id, 'withdrawn'],
      [grandchild.id, 'withdrawn'],
    ].sort(),
  );
  await expect(yard.reader(roomApi.openRoom, { params: { id: child.id } })).rejects.toMatchObject({
    code: 'not-identified',
  });
});

test('a number that is taken is not taken over', async () => {
  const pell = await held();
  const released = await pell.reader(roomApi.openRoom, { params: { id: pell.id } });
  expect(released.openedBefore).toBe(0);
  const body = {
    id: pell.id,
    address: 'new@postbox.example',
    name: '',
    houseShare: randomBytes(32),
    wrappedKey: randomBytes(61),
    readerShare: randomBytes(32),
    channel: { kind: 'text' as const, target: '+447700900262' },
  };
  await expect(pell.reader(writingApi.forwardRoom, { params: { id: pell.id }, body })).rejects.toMatchObject({
    code: 'conflict',
  });
});

test('what a reader calls whom they name is in no notice, and the notice comes from the office', async () => {
  const pell = await held();
  const released = await pell.reader(roomApi.openRoom, { params: { id: pell.id } });
  const key = await joinKey(pell.readerShare, released, { grantId: pell.id, messageId: pell.messageId });
  const id = randomUUID();
  const { readerShare, house: halves } = await splitKey(key, { grantId: id, messageId: pell.messageId });
  const lure = 'URGENT Call 0900 to claim your prize';
  await pell.reader(writingApi.forwardRoom, {
    params: { id: pell.id },
    body: {
      id,
      address: 'victim@postbox.example',
      name: lure,
      ...halves,
      readerShare,
      channel: { kind: 'text', target: '+447700900263' },
    },
  });
  const raw = await eventually(() => {
    const mail = house.world.store.mails.find(({ mailbox }) => mailbox === 'victim@postbox.example');
    return mail === undefined ? undefined : Buffer.from(mail.raw, 'base64');
  });
  const mail = await readMessage(new Uint8Array(raw));
  expect(JSON.stringify([mail.subject, mail.text, mail.html, mail.to, mail.from])).not.toContain('prize');
  expect(mail.from).toEqual({ name: 'Larkmoor Ferries', address: 'reading-room@larkmoor.example' });
  expect(mail.to).toEqual([{ name: '', address: 'victim@postbox.example' }]);
});

test.each(['+449012345678', '+448712345678', '+870773111632', '+8816123456789', '+88213300555', '+979123456789'])(
  'no code goes to %s, which costs a fortune',
  async (target) => {
    const pell = await held();
    await expect(passOn(pell, 'new@postbox.example', { kind: 'text', target })).rejects.toMatchObject({
      code: 'invalid-input',
    });
  },
);

// The last one: hours pass in it, and with them the sessions of whoever was signed in before.
test('whatever sender, readers, clock and sweepers do, in any order: nothing is released after the end, and nobody has more than who gave it to them', async () => {
  const step = fc.oneof(
    fc.record({ do: fc.constant('pass-on' as const), from: fc.nat(5) }),
    fc.record({ do: fc.constant('open' as const), from: fc.nat(5) }),
    fc.record({ do: fc.constant('withdraw' as const), from: fc.nat(5) }),
    fc.record({ do: fc.constant('move' as const), from: fc.nat(5), hours: fc.integer({ min: 1, max: 40 }) }),
    fc.record({ do: fc.constant('wait' as const), hours: fc.integer({ min: 1, max: 6 }) }),
    fc.record({ do: fc.constant('sweep' as const) }),
  );
  let run = 0;
  await fc.assert(
    fc.asyncProperty(fc.array(step, { minLength: 4, maxLength: 14 }), async (steps) => {
      house.clock.real = true;
      // The worker of this run signs in anew: hours pass, and sessions with them.
      maren = await house.worker(`sender${run++}`);
      const root = await held({ closesAt: new Date(Date.now() + 20 * 3_600_000) });
      const chain: Held[] = [root];
      const ended = new Set<string>();
      const offset = { ms: 0 };
      house.clock.real = false;
      const tick = (): void => void (house.clock.now = new Date(Date.now() + offset.ms));
      const db = house.server.context.db;
      const state = () =>
        rows<{ id: string; parent_id: string | null; state: string; closes_at: Date; house_share: Buffer | null }>(
          db,
          'SELECT id, parent_id, state, closes_at, house_share FROM grants WHERE message_id = $1',
          [root.messageId],
        );
      for (const one of steps) {
        tick();
        const at = 'from' in one ? chain[one.from % chain.length]! : root;
        if (one.do === 'pass-on') {
          const address = `p${run}-${chain.length}@postbox.example`;
          const child = await passOn(at, address, {
            kind: 'text',
            target: chain.length % 2 === 0 ? '+447700900417' : '+447700900262',
          }).catch(() => undefined);
          // Identified by the row, not by another text: what is tried here is not the passcode.
          if (child !== undefined) chain.push(await identified(child.messageId, child.id, child.readerShare));
        } else if (one.do === 'open') {
          const mayOpen = (await state()).some(
            (row) => row.id === at.id && row.state === 'held' && row.closes_at > house.clock.now,
          );
          const released = await at.reader(roomApi.openRoom, { params: { id: at.id } }).catch(() => undefined);
          if (released !== undefined && (!mayOpen || ended.has(at.id)))
            throw new Error(`released ${JSON.stringify(one)}`);
        } else if (one.do === 'withdraw')
          await maren
            .client(messageApi.withdrawGrants, { params: { id: root.messageId }, body: { grantIds: [at.id] } })
            .catch(() => undefined);
        else if (one.do === 'move')
          await maren
            .client(messageApi.moveClosing, {
              params: { id: root.messageId },
              body: { grantIds: [at.id], closesAt: new Date(house.clock.now.getTime() + one.hours * 3_600_000) },
            })
            .catch(() => undefined);
        else if (one.do === 'wait') offset.ms += one.hours * 3_600_000;
        else await closeDue(house.server.context);
        tick();
        const now = await state();
        const byId = new Map(now.map((row) => [row.id, row]));
        for (const row of now) {
          if (ended.has(row.id) && row.state === 'held') throw new Error('an ended access came back');
          if (row.state !== 'held') {
            ended.add(row.id);
            if (row.house_share !== null) throw new Error('an ended access kept its share');
          }
          const parent = row.parent_id === null ? undefined : byId.get(row.parent_id)!;
          if (
            parent !== undefined &&
            row.state === 'held' &&
            (parent.state !== 'held' || row.closes_at > parent.closes_at)
          )
            throw new Error(`more than its parent had, after ${JSON.stringify(one)}`);
        }
      }
    }),
    { numRuns: 12 },
  );
}, 120_000);
