/** Grants and dispatch under stress: exactly once, states that can't be unlawful, closing by the clock. */
import {
  sendPasscode as sendPasscodeApi,
  enterPasscode as enterPasscodeApi,
  lookAtRoom,
} from '@under-lock/contract/room';
import * as messageApi from '@under-lock/contract/outgoing';
import { shareProof } from '@under-lock/core/locks/room/grant';
import { randomBytes } from '@under-lock/core/bytes';
import { randomUUID } from 'node:crypto';
import { rows, run } from '../src/data/database';
import { deliverNotice } from '../src/outgoing/deliver';
import { closeDue, purge } from '../src/access/grants';
import {
  demoMessage,
  eventually,
  type House,
  noticesGone,
  openHouse,
  prepare,
  send,
  upload,
  type Worker,
} from './house';

let house: House;
let maren: Worker;
beforeAll(async () => {
  house = await openHouse();
  maren = await house.worker('maren.oduya');
});
afterAll(() => house.stop());
afterEach(() => {
  house.world.behaviour.current = { mail: 'deliver', phone: 'deliver' };
  house.clock.real = true;
});

const small = () => demoMessage({ files: [] });
const grantRow = async (id: string) =>
  (await rows<Record<string, unknown>>(house.server.context.db, 'SELECT * FROM grants WHERE id = $1', [id]))[0]!;
const mailsTo = (address: string): number =>
  house.world.store.mails.filter(({ mailbox }) => mailbox === address).length;

test('twenty dispatches of one message at once make one message and one notice', async () => {
  const prepared = await prepare(demoMessage({ files: [], to: [{ name: '', address: 'twenty@postbox.example' }] }));
  await upload(maren.client, prepared.contentBlobId, prepared.content);
  const answers = await Promise.all(
    Array.from({ length: 20 }, () =>
      maren.client(messageApi.dispatchMessage, {
        params: { id: prepared.id },
        body: { ...prepared.dispatch, summary: randomBytes(64) },
      }),
    ),
  );
  expect(answers.filter(({ already }) => !already)).toHaveLength(1);
  expect(new Set(answers.map(({ sentAt }) => sentAt!.toISOString())).size).toBe(1);
  await eventually(() => (mailsTo('twenty@postbox.example') > 0 ? true : undefined));
  const [count] = await rows<{ outbox: number }>(
    house.server.context.db,
    'SELECT count(*)::int AS outbox FROM outbox o JOIN grants g ON g.id = o.grant_id WHERE g.message_id = $1',
    [prepared.id],
  );
  expect(count!.outbox).toBe(1);
  expect(mailsTo('twenty@postbox.example')).toBe(1);
});

test('another message under the same number is refused', async () => {
  const prepared = await send(maren, small());
  await expect(
    maren.client(messageApi.dispatchMessage, {
      params: { id: prepared.id },
      body: { ...prepared.dispatch, reference: 'another' },
    }),
  ).rejects.toMatchObject({ code: 'conflict' });
});

test('a notice that is delivered by two processes at once goes out once', async () => {
  house.world.behaviour.current = { mail: 'down', phone: 'deliver' };
  await send(maren, demoMessage({ files: [], to: [{ name: '', address: 'twice@postbox.example' }] }));
  // Once the server's own first try has been turned away: no try is under way any more.
  const row = await eventually(async () => {
    const [tried] = await rows<{ id: string }>(
      house.server.context.db,
      `SELECT o.id FROM outbox o JOIN grants g ON g.id = o.grant_id WHERE g.address = 'twice@postbox.example' AND g.notice_answer <> '' AND o.leased_until IS NULL`,
    );
    return tried;
  });
  house.world.behaviour.current = { mail: 'deliver', phone: 'deliver' };
  await Promise.all(Array.from({ length: 8 }, () => deliverNotice(house.server.context, row.id)));
  await eventually(() => (mailsTo('twice@postbox.example') > 0 ? true : undefined));
  expect(mailsTo('twice@postbox.example')).toBe(1);
});

test('a dispatch that was answered survives the process: the notice goes out after a restart, once', async () => {
  house.world.behaviour.current = { mail: 'down', phone: 'deliver' };
  await send(maren, demoMessage({ files: [], to: [{ name: '', address: 'restart@postbox.example' }] }));
  await house.restart();
  house.world.behaviour.current = { mail: 'deliver', phone: 'deliver' };
  // Each try that failed doubles the wait for the next one, and a slow machine fits in several before it is back.
  await eventually(() => (mailsTo('restart@postbox.example') > 0 ? true : undefined), 90);
  await new Promise((done) => setTimeout(done, 1500));
  expect(mailsTo('restart@postbox.example')).toBe(1);
}, 120_000);

test('a refused recipient is said and holds nobody else up', async () => {
  const prepared = await send(
    maren,
    demoMessage({
      files: [],
      to: [
        { name: '', address: 'no-such-person@postbox.example' },
        { name: '', address: 'fine@postbox.example' },
      ],
    }),
  );
  const states = await eventually(async () => {
    const { grants } = await maren.client(messageApi.getSent, { params: { id: prepared.id } });
    return grants.some(({ notice }) => notice.state === 'waiting')
      ? undefined
      : grants.map(({ notice }) => notice.state);
  });
  expect(states).toEqual(['refused', 'accepted']);
});

test('mail filed as junk is known as such', async () => {
  house.world.behaviour.current = { mail: 'junk', phone: 'deliver' };
  const prepared = await send(maren, small());
  expect(
    await eventually(async () => {
      const { grants } = await maren.client(messageApi.getSent, { params: { id: prepared.id } });
      return grants[0]!.notice.state === 'waiting' ? undefined : grants[0]!.notice.state;
    }),
  ).toBe('junk');
});

test('an access without its share is withdrawn or closed: the database itself refuses anything else', async () => {
  const prepared = await send(maren, small());
  const { db } = house.server.context;
  const id = prepared.dispatch.grants[0]!.id;
  await expect(run(db, 'UPDATE grants SET house_share = NULL WHERE id = $1', [id])).rejects.toThrow(/check/);
  await expect(run(db, `UPDATE grants SET state = 'withdrawn', ended_at = now() WHERE id = $1`, [id])).rejects.toThrow(
    /check/,
  );
  await expect(run(db, `UPDATE grants SET house_share = NULL, wrapped_key = NULL WHERE id = $1`, [id])).rejects.toThrow(
    /check/,
  );
});

test('what is withdrawn stays withdrawn: the means are gone, and it can’t be moved, told or withdrawn again', async () => {
  const prepared = await send(maren, small());
  const [{ id: grantId, readerShare }] = prepared.dispatch.grants as [(typeof prepared.dispatch.grants)[0]];
  const params = { id: prepared.id };
  await maren.client(messageApi.withdrawGrants, { params, body: { grantIds: [grantId] } });
  expect(await grantRow(grantId)).toMatchObject({
    state: 'withdrawn',
    house_share: null,
    wrapped_key: null,
    channel: null,
    passcode_hash: null,
  });
  expect(await maren.client(messageApi.withdrawGrants, { params, body: { grantIds: [grantId] } })).toEqual({
    withdrawn: 0,
    hadOpened: 0,
  });
  expect(
    await maren.client(messageApi.moveClosing, {
      params,
      body: { grantIds: [grantId], closesAt: new Date(Date.now() + 86_400_000) },
    }),
  ).toEqual({ moved: 0 });
  await expect(
    maren.client(messageApi.tellAgain, { params: { ...params, grantId }, body: { readerShare } }),
  ).rejects.toMatchObject({ code: 'grant-withdrawn' });
  const proof = await shareProof(readerShare);
  await expect(house.visitor()(sendPasscodeApi, { params: { id: grantId }, body: { proof } })).rejects.toMatchObject({
    code: 'grant-withdrawn',
  });
});

test('closing happens by the clock, at the moment itself and for good when it is swept', async () => {
  const closesAt = new Date(Date.now() + 60_000);
  const prepared = await send(maren, small(), { closesAt });
  const [{ id, readerShare }] = prepared.dispatch.grants as [(typeof prepared.dispatch.grants)[0]];
  house.clock.real = false;
  house.clock.now = closesAt;
  const visitor = house.visitor();
  expect((await visitor(lookAtRoom, { params: { id } })).state).toBe('closed');
  await expect(
    visitor(sendPasscodeApi, { params: { id }, body: { proof: await shareProof(readerShare) } }),
  ).rejects.toMatchObject({ code: 'grant-closed' });
  await closeDue(house.server.context);
  expect(await grantRow(id)).toMatchObject({ state: 'closed', house_share: null, wrapped_key: null });
});

test('access can be given again with a new split, once', async () => {
  const prepared = await send(maren, small());
  const [old] = prepared.dispatch.grants as [(typeof prepared.dispatch.grants)[0]];
  await maren.client(messageApi.withdrawGrants, { params: { id: prepared.id }, body: { grantIds: [old.id] } });
  const again = (await prepare(small())).dispatch.grants[0]!;
  const body = {
    replaces: old.id,
    grant: { ...again, id: randomUUID() },
    closesAt: new Date(Date.now() + 86_400_000),
    summary: randomBytes(64),
  };
  await maren.client(messageApi.giveAgain, { params: { id: prepared.id }, body });
  await expect(
    maren.client(messageApi.giveAgain, {
      params: { id: prepared.id },
      body: { ...body, grant: { ...again, id: randomUUID() } },
    }),
  ).rejects.toMatchObject({ code: 'conflict' });
  const { grants } = await maren.client(messageApi.getSent, { params: { id: prepared.id } });
  expect(grants).toHaveLength(1);
  expect(grants[0]).toMatchObject({ id: body.grant.id, state: 'held' });
});

test('somebody more is let in under the message’s own handling, once; a wrong address is put right, and its access ends', async () => {
  const prepared = await send(maren, small(), { terms: { check: 'text' } });
  const params = { id: prepared.id };
  const [wrong] = prepared.dispatch.grants as [(typeof prepared.dispatch.grants)[0]];
  const closesAt = new Date(Date.now() + 86_400_000);
  const reader = async (address: string, change: object = {}) => ({
    closesAt,
    summary: randomBytes(64),
    grant: { ...(await prepare(small(), { addresses: [address] })).dispatch.grants[0]!, ...change },
  });
  const more = await reader('yard@saltmarsh.example');
  await maren.client(messageApi.addReader, { params, body: more });
  await expect(
    maren.client(messageApi.addReader, { params, body: { ...(await reader('Yard@Saltmarsh.example')) } }),
  ).rejects.toMatchObject({ code: 'reads-already' });
  const byQuestion = {
    kind: 'link' as const,
    channel: { kind: 'email' as const, target: 'other@postbox.example' },
    readerShare: more.grant.readerShare,
  };
  await expect(
    maren.client(messageApi.addReader, { params, body: await reader('lax@saltmarsh.example', { reader: byQuestion }) }),
  ).rejects.toMatchObject({ code: 'below-preset' });
  // Only what did not arrive can be corrected.
  await noticesGone(house, prepared.id);
  const corrected = { ...(await reader('office@saltmarsh.example')), corrects: wrong.id };
  await rows(house.server.context.db, `UPDATE grants SET notice_state = 'accepted' WHERE id = $1 RETURNING id`, [
    wrong.id,
  ]);
  await expect(maren.client(messageApi.addReader, { params, body: corrected })).rejects.toMatchObject({
    code: 'conflict',
  });
  await rows(house.server.context.db, `UPDATE grants SET notice_state = 'bounced' WHERE id = $1 RETURNING id`, [
    wrong.id,
  ]);
  await maren.client(messageApi.addReader, { params, body: corrected });
  const { grants, events } = await maren.client(messageApi.getSent, { params });
  expect(Object.fromEntries(grants.map(({ address, state }) => [address, state]))).toEqual({
    [wrong.address]: 'withdrawn',
    'yard@saltmarsh.example': 'held',
    'office@saltmarsh.example': 'held',
  });
  expect(events.filter(({ kind }) => kind === 'reader-added')).toHaveLength(2);
});

test('ten wrong guesses at once count as what they are: at most five are looked at', async () => {
  const prepared = await send(maren, small());
  const [{ id, readerShare }] = prepared.dispatch.grants as [(typeof prepared.dispatch.grants)[0]];
  const proof = await shareProof(readerShare);
  await house.visitor()(sendPasscodeApi, { params: { id }, body: { proof } });
  const right = /^\d{6}/.exec(house.world.store.texts.at(-1)!.text)![0];
  const wrong = right === '000000' ? '000001' : '000000';
  const codes = await Promise.all(
    Array.from({ length: 10 }, () =>
      house
        .visitor()(enterPasscodeApi, { params: { id }, body: { proof, passcode: wrong } })
        .then(
          () => 'right',
          (error: { code: string }) => error.code,
        ),
    ),
  );
  expect(codes.filter((code) => code === 'passcode-wrong')).toHaveLength(4);
  expect(codes.filter((code) => code === 'passcode-paused')).toHaveLength(6);
  await expect(
    house.visitor()(enterPasscodeApi, { params: { id }, body: { proof, passcode: right } }),
  ).rejects.toMatchObject({ code: 'passcode-paused' });
  expect(await grantRow(id)).toMatchObject({ wrong_tries: 5, passcode_pauses: 1 });
});

test('a phone that takes no text is said at once, and another try needs no minute of waiting', async () => {
  const prepared = await send(maren, small());
  const [{ id, readerShare }] = prepared.dispatch.grants as [(typeof prepared.dispatch.grants)[0]];
  const proof = await shareProof(readerShare);
  house.world.behaviour.current = { mail: 'deliver', phone: 'down' };
  await expect(house.visitor()(sendPasscodeApi, { params: { id }, body: { proof } })).rejects.toMatchObject({
    code: 'unreachable',
    details: { status: 502 },
  });
  house.world.behaviour.current = { mail: 'deliver', phone: 'deliver' };
  await house.visitor()(sendPasscodeApi, { params: { id }, body: { proof } });
  await expect(house.visitor()(sendPasscodeApi, { params: { id }, body: { proof } })).rejects.toMatchObject({
    code: 'passcode-too-soon',
  });
});

test('looking at a link, however often, sends, spends and counts nothing', async () => {
  const prepared = await send(maren, small());
  const [{ id }] = prepared.dispatch.grants as [(typeof prepared.dispatch.grants)[0]];
  const texts = house.world.store.texts.length;
  await eventually(async () => ((await grantRow(id)).notice_state === 'accepted' ? true : undefined));
  const before = await grantRow(id);
  for (let visit = 0; visit < 5; visit++) await house.visitor()(lookAtRoom, { params: { id } });
  await fetch(`${house.origin}/room/${id}`);
  expect(await grantRow(id)).toEqual(before);
  expect(house.world.store.texts).toHaveLength(texts);
});

test('content is purged when the office’s time after the last access is over, and the record says so', async () => {
  const prepared = await send(maren, small());
  await maren.client(messageApi.withdrawGrants, {
    params: { id: prepared.id },
    body: { grantIds: [prepared.dispatch.grants[0]!.id] },
  });
  house.clock.real = false;
  house.clock.now = new Date(Date.now() + 29 * 86_400_000);
  await purge(house.server.context);
  expect(
    await rows(house.server.context.db, 'SELECT 1 FROM blobs WHERE id = $1', [prepared.contentBlobId]),
  ).toHaveLength(1);
  house.clock.now = new Date(Date.now() + 31 * 86_400_000);
  await purge(house.server.context);
  expect(
    await rows(house.server.context.db, 'SELECT 1 FROM blob_parts WHERE blob_id = $1', [prepared.contentBlobId]),
  ).toHaveLength(0);
  expect(
    await rows(house.server.context.db, `SELECT 1 FROM events WHERE message_id = $1 AND kind = 'purged'`, [
      prepared.id,
    ]),
  ).toHaveLength(1);
});

test('everything one person can still read is found across messages and withdrawn at once, and nobody else’s', async () => {
  const [iris, other] = [await house.worker('iris'), await house.worker('olav')];
  const to = (...addresses: string[]) =>
    demoMessage({ files: [], to: addresses.map((address) => ({ name: '', address })) });
  const first = await send(iris, to('records@harbourclinic.example', 'office@saltmarsh.example'));
  const second = await send(iris, to('Records@harbourclinic.example'));
  await send(other, to('records@harbourclinic.example'));
  const readers = (await iris.client(messageApi.listReaders)).readers;
  expect(readers).toMatchObject([
    { address: 'records@harbourclinic.example', accesses: 2, messages: 2, opened: 0 },
    { address: 'office@saltmarsh.example', accesses: 1 },
  ]);
  const theirs = await iris.client(messageApi.listAccesses, { query: { address: 'RECORDS@harbourclinic.example' } });
  expect(theirs.total).toBe(2);
  expect(theirs.accesses.map(({ messageId }) => messageId).sort()).toEqual([first.id, second.id].sort());
  expect(theirs.accesses.every(({ grant, summary }) => grant.state === 'held' && summary.length > 0)).toBe(true);
  expect(
    await iris.client(messageApi.withdrawFromReaders, { body: { addresses: ['RECORDS@harbourclinic.example'] } }),
  ).toEqual({ withdrawn: 2, hadOpened: 0, messages: 2 });
  expect((await iris.client(messageApi.listReaders)).readers.map(({ address }) => address)).toEqual([
    'office@saltmarsh.example',
  ]);
  expect(await iris.client(messageApi.listAccesses, { query: { address: 'records@harbourclinic.example' } })).toEqual({
    accesses: [],
    total: 0,
  });
  expect((await other.client(messageApi.listReaders)).readers).toHaveLength(1);
  const states = async (id: string) =>
    (await iris.client(messageApi.getSent, { params: { id } })).grants.map(({ state }) => state);
  expect([await states(first.id), await states(second.id)]).toEqual([['withdrawn', 'held'], ['withdrawn']]);
});

test('withdrawing and telling again while notices are under way: whoever comes first, nothing waits for ever and nothing fails', async () => {
  const worker = await house.worker('signe');
  const addresses = Array.from({ length: 12 }, (_, index) => `crew${index}@postbox.example`);
  for (let round = 0; round < 6; round++) {
    const sent = await send(
      worker,
      demoMessage({ files: [], to: addresses.map((address) => ({ name: '', address })) }),
    );
    const [first, ...others] = sent.dispatch.grants as [(typeof sent.dispatch.grants)[0]];
    const again = worker
      .client(messageApi.tellAgain, {
        params: { id: sent.id, grantId: first.id },
        body: { readerShare: first.readerShare },
      })
      .catch((problem: { code: string }) => problem.code);
    const outcome = await worker.client(messageApi.withdrawGrants, {
      params: { id: sent.id },
      body: { grantIds: others.map(({ id }) => id) },
    });
    expect(outcome.withdrawn).toBe(addresses.length - 1);
    expect(await again).not.toBe('server-error');
  }
});
