/**
 * How readers are known: by a call, by a question, by both a passcode and a question; a budget of wrong tries that only
 * the sender renews.
 */
import * as messageApi from '@under-lock/contract/outgoing';
import {
  askOtherWay,
  enterPasscode,
  lookAtRoom,
  openRoom,
  sendPasscode,
  recordRoomUse,
} from '@under-lock/contract/room';
import { answerProof, openQuestion, sealQuestion } from '@under-lock/core/identity/answer';
import { NO_RIGHTS } from '@under-lock/core/handling/handling';
import { shareProof } from '@under-lock/core/locks/room/grant';
import { toldProof } from '@under-lock/core/identity/told';
import { PASSCODE_BUDGET } from '@under-lock/core/identity/passcode';
import { rows } from '../src/data/database';
import { demoMessage, demoTerms, type House, openHouse, prepare, upload, type Worker } from './house';

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

type Way = 'question' | 'voice' | 'text' | 'text and question' | 'told' | 'told and question';
const TOLD = '4821 0937';

async function held(way: Way, terms = {}) {
  const check = way === 'text and question' ? ('text' as const) : way === 'told and question' ? ('told' as const) : way;
  const prepared = await prepare(demoMessage({ files: [] }), { terms: { check, ...terms } });
  const [grant] = prepared.dispatch.grants as [(typeof prepared.dispatch.grants)[0]];
  const { id, readerShare } = grant;
  const question = {
    sealed: await sealQuestion('Which boat did we meet on?', readerShare, id),
    answerProof: await answerProof('MV Teal', readerShare),
  };
  const target = '+447700900417';
  const channel: messageApi.Channel =
    way === 'question'
      ? { kind: 'question', question }
      : check === 'told'
        ? {
            kind: check,
            toldProof: await toldProof(TOLD, readerShare),
            ...(way === 'told' ? {} : { question }),
          }
        : way === 'text and question'
          ? { kind: 'text', target, question }
          : { kind: way as 'text' | 'voice', target };
  await upload(maren.client, prepared.contentBlobId, prepared.content);
  await maren.client(messageApi.dispatchMessage, {
    params: { id: prepared.id },
    body: { ...prepared.dispatch, grants: [{ ...grant, reader: { kind: 'link', channel, readerShare } }] },
  });
  const proof = await shareProof(readerShare);
  const visitor = house.visitor();
  return {
    messageId: prepared.id,
    id,
    readerShare,
    proof,
    visitor,
    enter: (given: { passcode?: string; answer?: string; told?: string }) =>
      (async () =>
        visitor(enterPasscode, {
          params: { id },
          body: {
            proof,
            ...(given.passcode === undefined ? {} : { passcode: given.passcode }),
            ...(given.answer === undefined ? {} : { answerProof: await answerProof(given.answer, readerShare) }),
            ...(given.told === undefined ? {} : { toldProof: await toldProof(given.told, readerShare) }),
          },
        }))().then(
        () => 'right',
        (problem: { code: string }) => problem.code,
      ),
    async ring() {
      await visitor(sendPasscode, { params: { id }, body: { proof } });
      return house.world.store.texts.at(-1)!;
    },
  };
}

test('a call reads the digits out one by one, and they open', async () => {
  const grant = await held('voice');
  const call = await grant.ring();
  expect(call.spoken).toBe(true);
  expect(call.text).toMatch(/Your passcode is: (\d), (\d), (\d), (\d), (\d), (\d)\. Once more:/);
  const passcode = /is: ([\d, ]+)\./.exec(call.text)![1]!.replace(/\D/g, '');
  expect(await grant.enter({ passcode })).toBe('right');
  expect((await grant.visitor(openRoom, { params: { id: grant.id } })).openedBefore).toBe(0);
});

test('a question is read by the holder of the link, answered in any spelling, and sends no passcode', async () => {
  const grant = await held('question');
  const room = await grant.visitor(lookAtRoom, { params: { id: grant.id } });
  if (room.state !== 'held') throw new Error(room.state);
  expect(await openQuestion(room.check.question!, grant.readerShare, grant.id)).toBe('Which boat did we meet on?');
  await expect(grant.ring()).rejects.toMatchObject({ code: 'invalid-input' });
  expect(await grant.enter({ answer: 'the Heron' })).toBe('answer-wrong');
  expect(await grant.enter({ passcode: '123456' })).toBe('invalid-input');
  expect(await grant.enter({ answer: '  m.v. TÉAL' })).toBe('right');
});

test('two checks together: neither alone opens, and a wrong answer leaves the passcode in force', async () => {
  const grant = await held('text and question');
  const passcode = /^\d{6}/.exec((await grant.ring()).text)![0];
  expect(await grant.enter({ passcode })).toBe('invalid-input');
  expect(await grant.enter({ answer: 'MV Teal' })).toBe('invalid-input');
  expect(await grant.enter({ passcode: passcode === '111111' ? '222222' : '111111', answer: 'MV Teal' })).toBe(
    'passcode-wrong',
  );
  expect(await grant.enter({ passcode, answer: 'Heron' })).toBe('answer-wrong');
  await expect(grant.visitor(openRoom, { params: { id: grant.id } })).rejects.toMatchObject({ code: 'not-identified' });
  expect(await grant.enter({ passcode, answer: 'mv teal' })).toBe('right');
  expect(await grant.enter({ passcode, answer: 'mv teal' })).toBe('passcode-expired');
});

test('however patient and however many at once: nine guesses in the life of an access, until the sender lets them try again', async () => {
  const grant = await held('question');
  house.clock.real = false;
  house.clock.now = new Date();
  let looked = 0;
  for (let day = 0; day < 2.5; day += 0.25) {
    house.clock.now = new Date(house.clock.now.getTime() + 6 * 3_600_000);
    const codes = await Promise.all(Array.from({ length: 6 }, () => grant.enter({ answer: 'Heron' })));
    const [row] = await rows<{ wrong_tries: number }>(
      house.server.context.db,
      'SELECT wrong_tries FROM grants WHERE id = $1',
      [grant.id],
    );
    looked = row!.wrong_tries;
    expect(codes).not.toContain('right');
  }
  expect(looked).toBe(PASSCODE_BUDGET);
  expect(await grant.enter({ answer: 'MV Teal' })).toBe('passcode-stopped');
  house.clock.real = true; // the sender has not been away for days: their session would be over
  const sent = async () => (await maren.client(messageApi.getSent, { params: { id: grant.messageId } })).grants[0]!;
  expect((await sent()).stopped).toBe(true);
  expect((await maren.client(messageApi.getDesk)).needs.map(({ kind }) => kind)).toContain('passcode-paused');
  await maren.client(messageApi.renewTries, { params: { id: grant.messageId, grantId: grant.id } });
  expect((await sent()).stopped).toBe(false);
  expect(await grant.enter({ answer: 'MV Teal' })).toBe('right');
});

test('simulated guessing of passcodes, many at once and day after day, meets at most nine of a million', async () => {
  const grant = await held('text');
  house.clock.real = false;
  house.clock.now = new Date();
  for (let turn = 0; turn < 4; turn++) {
    house.clock.now = new Date(house.clock.now.getTime() + 12 * 3_600_000);
    const right = await grant.ring().then(
      ({ text }) => /^\d{6}/.exec(text)![0],
      (problem: { code: string }) => problem.code,
    );
    await Promise.all(
      Array.from({ length: 25 }, (_, guess) =>
        grant.enter({ passcode: String(guess).padStart(6, '0') === right ? '999999' : String(guess).padStart(6, '0') }),
      ),
    );
  }
  const [row] = await rows<{ wrong_tries: number }>(
    house.server.context.db,
    'SELECT wrong_tries FROM grants WHERE id = $1',
    [grant.id],
  );
  expect(row!.wrong_tries).toBe(PASSCODE_BUDGET);
  await expect(grant.ring()).rejects.toMatchObject({ code: 'passcode-stopped' });
});

test('a reader who can’t get at the phone asks for another way; the sender sees it and changes it, and the question stays', async () => {
  const grant = await held('text and question');
  await grant.visitor(askOtherWay, {
    params: { id: grant.id },
    body: { proof: grant.proof, wish: 'call my landline' },
  });
  const sent = async () => (await maren.client(messageApi.getSent, { params: { id: grant.messageId } })).grants[0]!;
  expect((await sent()).otherWay).toMatchObject({ wish: 'call my landline' });
  expect((await maren.client(messageApi.getDesk)).needs.map(({ kind }) => kind)).toContain('other-way');
  await maren.client(messageApi.changeChannel, {
    params: { id: grant.messageId, grantId: grant.id },
    body: { kind: 'voice', target: '+447700900262' },
  });
  expect(await sent()).toMatchObject({ check: { kind: 'voice', question: true } });
  expect((await sent()).otherWay).toBeUndefined();
});

test('saving and printing are refused where they are not given, and recorded where they are', async () => {
  const refused = await held('question', { rights: NO_RIGHTS });
  await refused.enter({ answer: 'mv teal' });
  await expect(
    refused.visitor(recordRoomUse, { params: { id: refused.id }, body: { what: 'saved' } }),
  ).rejects.toMatchObject({ code: 'right-not-given' });
  const given = await held('question', { ...demoTerms, check: 'question', rights: { ...NO_RIGHTS, save: true } });
  await given.enter({ answer: 'mv teal' });
  await given.visitor(recordRoomUse, { params: { id: given.id }, body: { what: 'saved' } });
  await expect(
    given.visitor(recordRoomUse, { params: { id: given.id }, body: { what: 'printed' } }),
  ).rejects.toMatchObject({ code: 'right-not-given' });
  const { events } = await maren.client(messageApi.getSent, { params: { id: given.messageId } });
  expect(events.map(({ kind }) => kind)).toContain('saved');
});

test('six hundred savings hide nothing: one line with its number, and pages for the rest', async () => {
  const given = await held('question', { ...demoTerms, check: 'question', rights: { ...NO_RIGHTS, save: true } });
  await given.enter({ answer: 'mv teal' });
  await Promise.all(
    Array.from({ length: 600 }, () =>
      given.visitor(recordRoomUse, { params: { id: given.id }, body: { what: 'saved' } }),
    ),
  );
  const sent = await maren.client(messageApi.getSent, { params: { id: given.messageId } });
  const saved = sent.events.filter(({ kind }) => kind === 'saved');
  // A line each for those that were under way when there was none, and no more.
  expect(saved.length).toBeLessThanOrEqual(40);
  expect(saved.reduce((sum, { times = 1 }) => sum + times, 0)).toBe(600);
  expect(sent.events.map(({ kind }) => kind)).toContain('dispatched');
  // However long they go on, the lines of one access stay few; and older ones come page by page.
  const { db } = house.server.context;
  await db.query(
    `INSERT INTO events (id, message_id, grant_id, at, kind, data) SELECT gen_random_uuid(), $1, NULL, now() - n * interval '1 minute', 'statement-made', '{}' FROM generate_series(1, 250) n`,
    { bind: [given.messageId] },
  );
  const all = new Set<string>();
  let page = await maren
    .client(messageApi.getSent, { params: { id: given.messageId } })
    .then(({ events, earlierEvents }) => ({ events, earlier: earlierEvents }));
  for (;;) {
    for (const { id } of page.events) all.add(id);
    if (page.earlier === undefined) break;
    page = {
      earlier: undefined,
      ...(await maren.client(messageApi.listEvents, {
        params: { id: given.messageId },
        query: { before: page.earlier },
      })),
    };
  }
  expect(all.size).toBe((await rows(db, 'SELECT 1 FROM events WHERE message_id = $1', [given.messageId])).length);
}, 60_000);

describe('a one-time password that the sender tells', () => {
  test('opens one session and no other; another one comes from the sender only', async () => {
    const { id, messageId, enter, visitor, proof, readerShare } = await held('told');
    expect(await visitor(lookAtRoom, { params: { id } })).toMatchObject({
      check: { kind: 'told', hint: '', used: false },
    });
    // Nothing is sent for it.
    await expect(visitor(sendPasscode, { params: { id }, body: { proof } })).rejects.toMatchObject({
      code: 'invalid-input',
    });
    expect(await enter({})).toBe('invalid-input');
    expect(await enter({ told: '1111 1111' })).toBe('passcode-wrong');
    expect(await enter({ told: TOLD })).toBe('right');
    await visitor(openRoom, { params: { id } });
    const elsewhere = house.visitor();
    const again = { params: { id }, body: { proof, toldProof: await toldProof(TOLD, readerShare) } };
    await expect(elsewhere(enterPasscode, again)).rejects.toMatchObject({ code: 'passcode-expired' });
    expect(await elsewhere(lookAtRoom, { params: { id } })).toMatchObject({ check: { used: true } });
    const { messages } = await maren.client(messageApi.listSent, {});
    expect(messages.find((one) => one.id === messageId)!.grants[0]!.check).toMatchObject({ kind: 'told', used: true });
    await maren.client(messageApi.changeChannel, {
      params: { id: messageId, grantId: id },
      body: { kind: 'told', toldProof: await toldProof('7777 1234', readerShare) },
    });
    await expect(elsewhere(enterPasscode, again)).rejects.toMatchObject({ code: 'passcode-wrong' });
    await elsewhere(enterPasscode, { ...again, body: { proof, toldProof: await toldProof('7777 1234', readerShare) } });
  });

  test('is not spent by a wrong answer to the question beside it, and its tries end', async () => {
    const both = await held('told and question', { question: true });
    expect(await both.enter({ told: TOLD, answer: 'MV Gull' })).toBe('answer-wrong');
    expect(await both.enter({ told: TOLD, answer: 'mv teal' })).toBe('right');
    const tried = await held('told');
    const codes = [];
    for (let tries = 0; tries < 6; tries++) codes.push(await tried.enter({ told: `0000 000${tries}` }));
    expect(codes).toEqual([...Array.from({ length: 4 }, () => 'passcode-wrong'), 'passcode-paused', 'passcode-paused']);
    expect(await tried.enter({ told: TOLD })).toBe('passcode-paused');
  });

  test('is nowhere in the database, and gone with the access', async () => {
    const { id, messageId } = await held('told');
    const kept = () =>
      rows<{ told_hash: Buffer | null }>(house.server.context.db, 'SELECT told_hash FROM grants WHERE id = $1', [id]);
    expect((await kept())[0]!.told_hash).not.toBeNull();
    await maren.client(messageApi.withdrawGrants, { params: { id: messageId }, body: { grantIds: [id] } });
    expect((await kept())[0]!.told_hash).toBeNull();
  });
});
