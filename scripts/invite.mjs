/**
 * `npm run invite -- --address … --name …`: a set-up link, with the settings `npm start` uses, whether the product runs
 * or not.
 */
import { at } from './ground/paths.mjs';
import { run } from './ground/run.mjs';
import { buildServer } from './ground/build.mjs';
import { startCluster } from './ground/cluster.mjs';
import { preparedDatabase } from './ground/database.mjs';
import { secretIn } from './ground/secret.mjs';

await buildServer();
const data = process.env.UNDERLOCK_DATA ?? at('data');
const cluster = process.env.DATABASE_URL === undefined ? await startCluster(data) : undefined;
try {
  const database = cluster === undefined ? {} : await preparedDatabase(cluster, 'under_lock');
  const env = { ...process.env, ...database, UNDERLOCK_SECRET: process.env.UNDERLOCK_SECRET ?? secretIn(data) };
  process.exitCode = await run(process.execPath, [at('dist/invite.mjs'), ...process.argv.slice(2)], { env });
} finally {
  // One that serves a running product goes on; ours would keep this command from ending.
  if (cluster?.started) await cluster.stop();
}
