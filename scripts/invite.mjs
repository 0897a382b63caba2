/** `npm run invite -- --address … --name …`: a set-up link, with the settings `npm start` uses, whether the product runs or not. */
import { at } from './ground/paths.mjs';
import { run } from './ground/run.mjs';
import { buildServer } from './ground/build.mjs';
import { ensureDatabase, startCluster } from './ground/cluster.mjs';
import { secretIn } from './ground/secret.mjs';

await buildServer();
const data = process.env.UNDERLOCK_DATA ?? at('data');
const cluster = process.env.DATABASE_URL === undefined ? await startCluster(data) : undefined;
try {
  if (cluster !== undefined) await ensureDatabase(cluster, 'under_lock');
  const env = { ...process.env, DATABASE_URL: process.env.DATABASE_URL ?? cluster.url('under_lock'), UNDERLOCK_SECRET: process.env.UNDERLOCK_SECRET ?? secretIn(data) };
  process.exitCode = await run(process.execPath, [at('dist/invite.mjs'), ...process.argv.slice(2)], { env });
} finally {
  // One that serves a running product goes on; ours would keep this command from ending.
  if (cluster?.started) await cluster.stop();
}
