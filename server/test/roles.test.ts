/**
 * The role the server runs as changes rows and nothing else; the owner prepares the database, also one from before
 * there were roles.
 */
import { getSent, withdrawGrants } from '@under-lock/contract/outgoing';
import { randomUUID } from 'node:crypto';
import pg from 'pg';
import { ensureRoles } from '../../scripts/ground/roles.mjs';
import { prepareDatabase } from '../src/data/prepare';
import { demoMessage, eventually, freshDatabase, type House, openHouse, send } from './house';

const name = `r_${randomUUID().slice(0, 8)}`;
const roles = {
  owner: { name: `${name}_owner`, password: randomUUID() },
  server: { name: `${name}_server`, password: randomUUID() },
};
let superuserUrl: string;
let urls: Awaited<ReturnType<typeof ensureRoles>>;
let house: House;

beforeAll(async () => {
  // A database that an earlier version filled as the superuser is handed over, rows and all.
  const before = await openHouse();
  await before.worker('maren.oduya');
  superuserUrl = before.databaseUrl;
  await before.stop();
  urls = await ensureRoles(superuserUrl, roles);
  await prepareDatabase(urls.ownerUrl, urls.running);
  house = await openHouse({ DATABASE_URL: urls.serverUrl, UNDERLOCK_MIGRATE: 'no' });
}, 60_000);
afterAll(async () => {
  await house.stop();
  await asRole(superuserUrl, `DROP OWNED BY ${roles.owner.name}, ${roles.server.name} CASCADE`);
});

async function asRole(url: string, sql: string): Promise<string> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    await client.query(sql);
    return 'done';
  } catch (error) {
    return (error as Error).message;
  } finally {
    await client.end();
  }
}

test('a message is sent, told and withdrawn by it', async () => {
  const tobias = await house.worker('tobias.quill');
  const { id, dispatch } = await send(tobias, demoMessage());
  const [grant] = dispatch.grants;
  await eventually(() => (house.world.store.mails.length > 0 ? true : undefined));
  await tobias.client(withdrawGrants, { params: { id }, body: { grantIds: [grant!.id] } });
  const { grants } = await tobias.client(getSent, { params: { id } });
  expect(grants[0]!.state).toBe('withdrawn');
}, 30_000);

test.each([
  ['makes no table', 'CREATE TABLE mine (id int)', /permission denied for schema public/],
  ['changes no table', 'ALTER TABLE grants DROP CONSTRAINT grants_pkey CASCADE', /must be owner of table grants/],
  ['switches off no trigger', 'ALTER TABLE office_log DISABLE TRIGGER ALL', /must be owner of table office_log/],
  ['empties no table', 'TRUNCATE grants CASCADE', /permission denied for table/],
  ['rewrites no log', `UPDATE office_log SET at = now()`, /permission denied for table office_log/],
  ['deletes no log', 'DELETE FROM office_log', /permission denied for table office_log/],
  ['pretends no step', `DELETE FROM migrations`, /permission denied for table migrations/],
  [
    'runs no program',
    `COPY (SELECT 1) TO PROGRAM 'true'`,
    /must be superuser or have privileges of the pg_execute_server_program role/,
  ],
  ['reads no file', `SELECT pg_read_file('/etc/hostname')`, /permission denied for function pg_read_file/],
  ['reads no other role’s password', 'SELECT * FROM pg_authid', /permission denied for table pg_authid/],
  ['makes no role', 'CREATE ROLE another', /permission denied to create role/],
  ['is not the owner', `SET ROLE ${roles.owner.name}`, /permission denied to set role/],
])('it %s', async (_, sql, refusal) => expect(await asRole(urls.serverUrl, sql)).toMatch(refusal));

test('nor does the owner get beyond its database', async () => {
  expect(await asRole(urls.ownerUrl, `COPY (SELECT 1) TO PROGRAM 'true'`)).toMatch(
    /must be superuser or have privileges of the pg_execute_server_program role/,
  );
  expect(await asRole(urls.ownerUrl, 'CREATE ROLE another')).toMatch(/permission denied to create role/);
});

test('a database that nobody has prepared is said to be so', async () => {
  const empty = await freshDatabase();
  const { serverUrl } = await ensureRoles(empty, roles);
  await expect(openHouse({ DATABASE_URL: serverUrl, UNDERLOCK_MIGRATE: 'no' })).rejects.toThrow(
    /The database is \d+ steps behind this program/,
  );
});
