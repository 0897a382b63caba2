/**
 * Statements of what ended: only of what has, only by its sender, with what the records hold; and the records hold no
 * means any more.
 */
import { getOffice } from '@under-lock/contract/office';
import { randomUUID } from 'node:crypto';
import { randomBytes } from '@under-lock/core/bytes';
import { splitKey } from '@under-lock/core/locks/room/split';
import * as messageApi from '@under-lock/contract/outgoing';
import { checkStatement, statementFile } from '@under-lock/core/statement/statement';
import { createHash } from 'node:crypto';
import { rows, run } from '../src/data/database';
import * as presetApi from '@under-lock/contract/handling';
import * as receivedApi from '@under-lock/contract/received';
import { NO_RIGHTS } from '@under-lock/core/handling/handling';
import { codeOf, demoMessage, giveKeyPair, type House, openHouse, send, sendToColleague, type Worker } from './house';

let house: House;
let maren: Worker;
let tobias: Worker;
beforeAll(async () => {
  house = await openHouse();
  maren = await house.worker('maren.oduya');
  tobias = await house.worker('tobias.quill');
});
afterEach(() => {
  house.clock.real = true;
});
afterAll(() => house.stop());

const people = ['pell.anders@postbox.example', 'office@saltmarsh.example', 'claims@northquay.example'];
const three = () => send(maren, demoMessage({ files: [], to: people.map((address) => ({ name: '', address })) }));

test('what was withdrawn and what closed by its date is stated with openings; what is open is only counted', async () => {
  const sent = await three();
  const [first, second, third] = sent.dispatch.grants.map(({ id }) => id) as [string, string, string];
  const { db } = house.server.context;
  await run(db, 'UPDATE grants SET open_count = 2, first_opened_at = now(), last_opened_at = now() WHERE id = $1', [
    first,
  ]);
  await maren.client(messageApi.withdrawGrants, { params: { id: sent.id }, body: { grantIds: [first] } });
  await run(db, `UPDATE grants SET closes_at = now() - interval '1 minute' WHERE id = $1`, [second]);
  const made = await maren.client(messageApi.makeStatement, {
    params: { id: sent.id },
    body: { grantIds: [first, second, third] },
  });
  expect(made.statement).toMatchObject({
    office: { name: 'Larkmoor Ferries' },
    stillOpen: 1,
    message: {
      reference: 'CR-2611-204',
      sender: { address: 'maren.oduya@larkmoor.example' },
      contentSha256: createHash('sha256').update(sent.content).digest('hex'),
    },
    ended: [
      { id: first, state: 'withdrawn', opened: { count: 2 }, given: false },
      { id: second, state: 'closed', opened: { count: 0 } },
    ],
  });
  // True at this moment: the sweep had not come by yet.
  expect(
    await rows(
      db,
      'SELECT 1 FROM grants WHERE id = ANY($1) AND (house_share IS NOT NULL OR wrapped_key IS NOT NULL OR channel IS NOT NULL)',
      [[first, second]],
    ),
  ).toEqual([]);
  const checked = await checkStatement(statementFile(made));
  expect(checked).toMatchObject({
    ok: true,
    statement: made.statement,
    keyThumbprint: (await maren.client(getOffice)).statementKey,
  });
  expect(
    (await maren.client(messageApi.getSent, { params: { id: sent.id } })).events.map(({ kind }) => kind),
  ).toContain('statement-made');
  expect(JSON.stringify(made)).not.toContain('Fitness papers');
});

test('of what is still open nothing is stated, and of other people’s messages neither', async () => {
  const sent = await three();
  const grantIds = sent.dispatch.grants.map(({ id }) => id);
  await expect(
    maren.client(messageApi.makeStatement, { params: { id: sent.id }, body: { grantIds } }),
  ).rejects.toMatchObject({ code: 'conflict' });
  await maren.client(messageApi.withdrawGrants, { params: { id: sent.id }, body: { grantIds } });
  await expect(
    tobias.client(messageApi.makeStatement, { params: { id: sent.id }, body: { grantIds } }),
  ).rejects.toMatchObject({ code: 'not-found' });
  const other = await three();
  const { statement } = await maren.client(messageApi.makeStatement, {
    params: { id: sent.id },
    body: { grantIds: [...grantIds, other.dispatch.grants[0]!.id] },
  });
  expect(statement.ended.map(({ id }) => id)).toEqual(grantIds);
});

test('every process signs with the same key, whose private half lies sealed', async () => {
  const before = (await maren.client(getOffice)).statementKey;
  await house.restart();
  expect((await maren.client(getOffice)).statementKey).toBe(before);
  const [stored] = await rows<{ sealed_private_key: Buffer }>(
    house.server.context.db,
    'SELECT sealed_private_key FROM statement_keys',
  );
  expect(stored!.sealed_private_key.includes('PRIVATE KEY')).toBe(false);
});

test('a statement says what a person saw over all accesses they had, and until when backups may hold the means', async () => {
  const sent = await send(maren, demoMessage({ files: [], to: [{ name: '', address: people[0]! }] }));
  const [{ id: first }] = sent.dispatch.grants as [(typeof sent.dispatch.grants)[0]];
  await run(
    house.server.context.db,
    'UPDATE grants SET open_count = 3, first_opened_at = now(), last_opened_at = now() WHERE id = $1',
    [first],
  );
  const params = { id: sent.id };
  await maren.client(messageApi.withdrawGrants, { params, body: { grantIds: [first] } });
  const again = randomUUID();
  const { readerShare, house: halves } = await splitKey(sent.contentKey.key, { grantId: again, messageId: sent.id });
  const grant: messageApi.NewGrant = {
    id: again,
    address: people[0]!.toUpperCase(),
    name: '',
    role: 'to',
    ...halves,
    reader: { kind: 'link', readerShare, channel: { kind: 'text', target: '+447700900417' } },
  };
  await maren.client(messageApi.giveAgain, {
    params,
    body: { replaces: first, grant, closesAt: new Date(Date.now() + 86_400_000), summary: randomBytes(64) },
  });
  expect((await maren.client(messageApi.getSent, { params })).grants).toMatchObject([
    { id: again, opened: { count: 3, here: 0 } },
  ]);
  // Before withdrawing one is told, and the record says so.
  expect(await maren.client(messageApi.withdrawGrants, { params, body: { grantIds: [again] } })).toEqual({
    withdrawn: 1,
    hadOpened: 1,
  });
  const { statement } = await maren.client(messageApi.makeStatement, { params, body: { grantIds: [again] } });
  expect(statement.ended).toMatchObject([{ id: again, opened: { count: 3 }, given: false }]);
  const [ended] = statement.ended;
  expect(Date.parse(ended!.backupsUntil) - Date.parse(ended!.endedAt)).toBe(35 * 86_400_000);
  expect(JSON.stringify(statement)).not.toMatch(/destroy/i);
});

describe('of a delivery', () => {
  test('where nobody asks there is nothing to confirm; what ended stays in it, also when it is given again', async () => {
    const sent = await three();
    const [first] = sent.dispatch.grants as [(typeof sent.dispatch.grants)[0]];
    await maren.client(messageApi.withdrawGrants, { params: { id: sent.id }, body: { grantIds: [first.id] } });
    const { statement } = await maren.client(messageApi.makeDeliveryStatement, { params: { id: sent.id } });
    expect(statement.accesses.map(({ reader, state }) => [reader.address, state])).toEqual([
      [people[0], 'withdrawn'],
      [people[1], 'held'],
      [people[2], 'held'],
    ]);
    for (const { told, proof, confirmedAt } of statement.accesses) {
      expect(told.kind).toBe('notice');
      expect(proof).toEqual({ kind: 'text', question: false });
      expect(confirmedAt).toBeUndefined();
    }
  });

  test('it says who was told and how they were known, who opened it and confirmed that, and is checked alone', async () => {
    const admin = await house.worker('ines.varga', 'administrator');
    const presetId = randomUUID();
    const terms = {
      closing: { kind: 'end-of-quarter' as const },
      check: 'text' as const,
      question: false,
      rights: NO_RIGHTS,
      watermark: false,
      copies: false,
      clear: false,
      textOpen: false,
      audience: 'anyone' as const,
      receipt: false,
      confirm: true,
      remindHours: 0,
      mayLoosen: { closing: true, identity: false, rights: false },
    };
    await admin.client(presetApi.putPreset, {
      params: { id: presetId },
      body: { name: 'Read and confirmed', sentence: 'x', terms, active: true },
    });
    const key = await giveKeyPair(tobias);
    const { messageId, id } = await sendToColleague(maren, tobias, key, { terms: { rights: NO_RIGHTS } }, { presetId });
    const open = () => tobias.client(receivedApi.openReceived, { params: { id } });
    const confirm = (client = tobias.client) => client(receivedApi.confirmReceived, { params: { id } });
    // Nobody has read what they have not opened, and nobody says so for somebody else.
    expect(await codeOf(confirm())).toBe('conflict');
    expect((await open()).confirm).toEqual({});
    expect(await codeOf(confirm(maren.client))).toBe('not-found');
    const { at } = await confirm();
    house.clock.real = false;
    house.clock.now = new Date(Date.now() + 60_000);
    expect((await confirm()).at).toEqual(at);
    expect((await open()).confirm).toEqual({ at });
    const made = await maren.client(messageApi.makeDeliveryStatement, { params: { id: messageId } });
    expect(made.statement).toMatchObject({
      format: 'under-lock/delivery/1',
      message: { sender: { address: 'maren.oduya@larkmoor.example' } },
      accesses: [
        {
          reader: { address: tobias.account.address },
          told: { kind: 'list' },
          proof: { kind: 'account' },
          opened: { count: 1 },
          confirmedAt: at.toISOString(),
          state: 'held',
        },
      ],
      copies: [],
    });
    expect(await checkStatement(statementFile(made))).toMatchObject({ ok: true, statement: made.statement });
    const [access] = made.statement.accesses;
    const changed = { ...made, statement: { ...made.statement, accesses: [{ ...access!, opened: { count: 9 } }] } };
    expect(await checkStatement(statementFile(changed))).toEqual({ ok: false, failure: 'altered' });
    const { messages } = await maren.client(messageApi.listSent, {});
    expect(messages.find((one) => one.id === messageId)!.grants[0]).toMatchObject({ confirmedAt: at });
    const events = await maren.client(messageApi.listEvents, { params: { id: messageId }, query: {} });
    expect(events.events.map(({ kind }) => kind)).toEqual(expect.arrayContaining(['confirmed', 'delivery-stated']));
    expect(events.events.filter(({ kind }) => kind === 'confirmed')).toHaveLength(1);
    expect(await codeOf(tobias.client(messageApi.makeDeliveryStatement, { params: { id: messageId } }))).toBe(
      'not-found',
    );
  });
});
