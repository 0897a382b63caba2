/**
 * Everything that changes the database's shape, done by a role that may, and then what the running server's role may
 * do:
 * read and write rows, nothing else. A server that somebody has taken over can then neither change tables nor rewrite
 * the log, nor read or run anything on the database's machine.
 */
import { type Sequelize } from 'sequelize';
import { consoleLog, type Log } from '../context';
import { startJobs } from '../jobs/jobs';
import { connect } from './database';
import { migrate } from './migrations';

const SCHEMAS = ['public', 'pgboss'];
/** What tells what happened is added to and read; its triggers refuse the rest to everybody. */
const ONLY_ADDED_TO = ['office_log'];
const ONLY_READ = ['migrations'];

async function grantTo(db: Sequelize, role: string): Promise<void> {
  const who = `"${role.replaceAll('"', '""')}"`;
  const statements = [
    ...SCHEMAS.flatMap((schema) => [
      `GRANT USAGE ON SCHEMA ${schema} TO ${who}`,
      `GRANT SELECT, INSERT, UPDATE, DELETE ON ALL TABLES IN SCHEMA ${schema} TO ${who}`,
      `GRANT USAGE, SELECT ON ALL SEQUENCES IN SCHEMA ${schema} TO ${who}`,
    ]),
    ...ONLY_ADDED_TO.map((table) => `REVOKE UPDATE, DELETE ON ${table} FROM ${who}`),
    ...ONLY_READ.map((table) => `REVOKE INSERT, UPDATE, DELETE ON ${table} FROM ${who}`),
  ];
  await db.transaction(async (transaction) => {
    for (const statement of statements) await db.query(statement, { transaction });
  });
}

/** @param ownerUrl A role that owns the database. @param role The one the server runs as; it must exist. */
export async function prepareDatabase(ownerUrl: string, role: string, log: Log = consoleLog): Promise<void> {
  const db = connect(ownerUrl, 2);
  try {
    await migrate(db);
    await (await startJobs(ownerUrl, db, log)).stop();
    await grantTo(db, role);
  } finally {
    await db.close();
  }
}
