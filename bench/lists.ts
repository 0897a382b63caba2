/**
 * Lists at many times their length: Mail › Sent and the desk with 100, 10,000 and 100,000 messages behind them; what is
 * still open stays the same 60.
 */
import { randomUUID } from 'node:crypto';
import { HELD_SORTS, type HeldSort } from '@under-lock/contract/registered';
import { desk } from '../server/src/desk/desk';
import { listSent } from '../server/src/outgoing/sent';
import { run } from '../server/src/data/database';
import { ReaderRow } from '../server/src/data/models';
import { listHeld } from '../server/src/registered/held';
import { openHouse } from '../server/test/house';
import { median } from './measured';
import { type Row } from './row';

const OPEN = 60;
const TURNS = 41;
async function timed(task: () => Promise<unknown>): Promise<number> {
  const times: number[] = [];
  for (let turn = 0; turn < TURNS; turn++) {
    const from = performance.now();
    await task();
    times.push(performance.now() - from);
  }
  return median(times.slice(5));
}

/** A registered reader's list with 10 and with 10,000 messages held for them, among 100,000 of others. */
export async function heldLists(): Promise<Row[]> {
  const house = await openHouse();
  const { account } = await house.worker('maren.oduya');
  const { context } = house.server;
  const readerIds = { few: randomUUID(), many: randomUUID(), other: randomUUID() };
  for (const [name, id] of Object.entries(readerIds)) {
    await run(
      context.db,
      `INSERT INTO readers (id, address, address_key, name, language, hashing, auth_hash, wrapped_secret, public_key, key_suite, sealed_private_key, known_by, since)
      VALUES ($1, $2, $2, '', 'en', '{}', '', '\\x00', '\\x00', 1, '\\x00', 'text', now())`,
      [id, `${name}@postbox.example`],
    );
  }
  const fill = async (prefix: string, readerId: string, count: number): Promise<void> => {
    await run(
      context.db,
      `INSERT INTO messages (id, conversation_id, account_id, reference, handling, size, sent_at, request_digest)
      SELECT md5($1 || n)::uuid, md5($1 || n)::uuid, $2, '', '{}', 1000, now() - n * interval '1 minute', '\\x00' FROM generate_series(1, $3::int) n`,
      [prefix, account.id, count],
    );
    await run(
      context.db,
      `INSERT INTO grants (id, message_id, account_id, position, address, name, role, state, closes_at, arrived_at, house_share, wrapped_key, check_kind, check_hint, reader_kind, reader_id, sealed_share, sealed_summary)
      SELECT md5($1 || 'g' || n)::uuid, md5($1 || n)::uuid, $2, 0, 'x@postbox.example', '', 'to', 'held', now() + interval '5 days', now() - n * interval '1 minute', '\\x00', '\\x00', 'password', '', 'registered', $4,
        decode(repeat('00', 1169), 'hex'), decode(repeat('00', 80), 'hex') FROM generate_series(1, $3::int) n`,
      [prefix, account.id, count, readerId],
    );
  };
  await fill('few', readerIds.few, 10);
  await fill('many', readerIds.many, 10_000);
  await fill('other', readerIds.other, 100_000);
  await run(context.db, 'ANALYZE');
  const [few, many] = [(await ReaderRow.findByPk(readerIds.few))!, (await ReaderRow.findByPk(readerIds.many))!];
  // As long a page for both, so that it is the list's length that is compared and not the page's.
  const pageOf = (reader: ReaderRow, sort: HeldSort): Promise<number> =>
    timed(() => listHeld(context, reader, { sort }, 10));
  const growth: [HeldSort, number][] = [];
  for (const sort of HELD_SORTS) growth.push([sort, (await pageOf(many, sort)) / (await pageOf(few, sort))]);
  await house.stop();
  return growth.map(([sort, value]) => ({
    what: `Registered reader’s list, ${sort}, 10,000 messages ÷ 10`,
    value: value.toFixed(2),
    aim: '≤ 1.3',
  }));
}

export async function lists(): Promise<Row[]> {
  const house = await openHouse();
  const { account } = await house.worker('maren.oduya');
  const { db } = house.server.context;
  const fill = async (from: number, to: number): Promise<void> => {
    await run(
      db,
      `INSERT INTO messages (id, conversation_id, account_id, reference, handling, size, sent_at, request_digest)
      SELECT md5('m' || n)::uuid, md5('m' || n)::uuid, $1, '', '{"closesAt":"2030-01-01T00:00:00Z","check":"text","question":false,"watermark":false,"copies":false,"audience":"anyone","rights":{"reply":true,"replyAll":false,"forward":false,"print":true,"copy":true,"save":true}}', 1000, now() - n * interval '1 minute', '\\x00' FROM generate_series($2::int, $3::int) n`,
      [account.id, from, to],
    );
    await run(
      db,
      `INSERT INTO grants (id, message_id, account_id, position, address, name, role, state, closes_at, ended_at, house_share, wrapped_key, proof_hash, check_kind, check_hint, channel)
      SELECT md5('g' || n)::uuid, md5('m' || n)::uuid, $1, 0, 'x@postbox.example', '', 'to', CASE WHEN n <= $4 THEN 'held' ELSE 'closed' END, now() + interval '5 days', CASE WHEN n <= $4 THEN NULL ELSE now() END,
        CASE WHEN n <= $4 THEN '\\x00'::bytea END, CASE WHEN n <= $4 THEN '\\x00'::bytea END, '\\x00', 'text', '', CASE WHEN n <= $4 THEN '\\x00'::bytea END FROM generate_series($2::int, $3::int) n`,
      [account.id, from, to, OPEN],
    );
    await run(
      db,
      `INSERT INTO vault_items (account_id, kind, id, revision, updated_at, sealed) SELECT $1, 'sent', md5('m' || n)::uuid, 1, now(), decode(repeat('00', 400), 'hex') FROM generate_series($2::int, $3::int) n`,
      [account.id, from, to],
    );
    await run(db, 'ANALYZE');
  };
  const results: { list: number; desk: number }[] = [];
  let filled = 0;
  for (const count of [100, 10_000, 100_000]) {
    await fill(filled + 1, count);
    filled = count;
    results.push({
      list: await timed(() => listSent(house.server.context, account.id, {})),
      desk: await timed(() => desk(house.server.context, account.id)),
    });
  }
  await house.stop();
  const growth = (what: 'list' | 'desk', at: number): string => (results[at]![what] / results[0]![what]).toFixed(2);
  return [
    { what: 'Sent list, 10,000 messages ÷ 100', value: growth('list', 1), aim: '≤ 1.5' },
    { what: 'Sent list, 100,000 messages ÷ 100', value: growth('list', 2), aim: '≤ 1.5' },
    { what: 'Desk, 10,000 messages ÷ 100 (60 still open)', value: growth('desk', 1), aim: '≤ 1.5' },
    { what: 'Desk, 100,000 messages ÷ 100 (60 still open)', value: growth('desk', 2), aim: '≤ 1.5' },
  ];
}
