/**
 * A database from a backup forgets what ended since: the journal outside of it ends it again before anybody can ask.
 */
import { execFileSync } from 'node:child_process';
import { appendFileSync, linkSync, mkdtempSync, readFileSync, renameSync, symlinkSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import * as messageApi from '@under-lock/contract/outgoing';
import { lookAtRoom } from '@under-lock/contract/room';
import pg from 'pg';
import { rows } from '../src/data/database';
import { closeDue } from '../src/access/grants';
import { demoMessage, eventually, type House, openHouse, send, type Worker } from './house';

const BIN = '/usr/lib/postgresql/15/bin';
const journal = join(mkdtempSync(join(tmpdir(), 'under-lock-journal-')), 'endings.jsonl');
let house: House;
let maren: Worker;
beforeAll(async () => {
  house = await openHouse({ UNDERLOCK_JOURNAL: journal });
  maren = await house.worker('maren.oduya');
});
afterAll(() => house.stop());
afterEach(() => {
  house.clock.real = true;
});

const lines = (): string[] =>
  readFileSync(journal, 'utf8')
    .split('\n')
    .filter((one) => one !== '');
const message = () => send(maren, demoMessage({ files: [] }));
const stateOf = async (id: string): Promise<string> => (await house.visitor()(lookAtRoom, { params: { id } })).state;

test('what ends is put down, once each, and survives a restore from a backup made before', async () => {
  const [withdrawn, closed, open] = [await message(), await message(), await message()];
  const [a, b, c] = [withdrawn, closed, open].map(({ dispatch }) => dispatch.grants[0]!.id) as [string, string, string];
  const backup = execFileSync(join(BIN, 'pg_dump'), ['-Fc', house.databaseUrl], { maxBuffer: 1 << 30 });
  await maren.client(messageApi.withdrawGrants, { params: { id: withdrawn.id }, body: { grantIds: [a] } });
  await house.server.context.db.query(`UPDATE grants SET closes_at = now() - interval '1 minute' WHERE id = $1`, {
    bind: [b],
  });
  await closeDue(house.server.context);
  await eventually(() => (lines().length === 2 ? true : undefined));
  expect(lines().map((text) => JSON.parse(text) as { access: string; state: string })).toMatchObject([
    { access: a, state: 'withdrawn' },
    { access: b, state: 'closed' },
  ]);
  // Taken out right after it stands in the file.
  await eventually(async () =>
    (await rows(house.server.context.db, 'SELECT 1 FROM endings_to_journal')).length === 0 ? true : undefined,
  );
  // A crash in the middle of a line.
  appendFileSync(journal, '{"access":"half');

  await house.server.stop();
  const name = new URL(house.databaseUrl).pathname.slice(1);
  const cluster = new pg.Client({ connectionString: process.env.UNDERLOCK_TEST_CLUSTER });
  await cluster.connect();
  await cluster.query(`DROP DATABASE ${name} WITH (FORCE)`);
  await cluster.query(`CREATE DATABASE ${name}`);
  await cluster.end();
  execFileSync(join(BIN, 'pg_restore'), ['--no-owner', '-d', house.databaseUrl], { input: backup });
  await house.reopen();
  expect([await stateOf(a), await stateOf(b), await stateOf(c)]).toEqual(['withdrawn', 'closed', 'held']);
  expect(
    await rows(house.server.context.db, 'SELECT 1 FROM grants WHERE id = ANY($1) AND house_share IS NOT NULL', [
      [a, b],
    ]),
  ).toEqual([]);
}, 60_000);

test('what could not be written down is, as soon as it can be', async () => {
  const { id, dispatch } = await message();
  const access = dispatch.grants[0]!.id;
  const [aside, inTheWay] = [`${journal}.aside`, `${journal}.way`];
  linkSync(journal, aside);
  symlinkSync(dirname(journal), inTheWay);
  renameSync(inTheWay, journal);
  const failed = jest.spyOn(house.server.context.log, 'error');
  await maren.client(messageApi.withdrawGrants, { params: { id }, body: { grantIds: [access] } });
  await eventually(() => (failed.mock.calls.some(([what]) => what === 'journal') ? true : undefined));
  expect(
    await rows(house.server.context.db, 'SELECT 1 FROM endings_to_journal WHERE access = $1', [access]),
  ).toHaveLength(1);
  // In one step: a journal that is not there for a moment is begun anew, and what stands in it would go with it.
  renameSync(aside, journal);
  // Tried again after two, ten and sixty seconds: on a busy machine the second may find the place as it was, too.
  await eventually(() => (lines().some((line) => line.includes(access)) ? true : undefined), 80);
}, 120_000);
