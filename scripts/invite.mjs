/** `npm run invite -- --address … --name …`: a set-up link, with the settings `npm start` uses. */
import { readFileSync } from 'node:fs';
import { at } from './ground/paths.mjs';
import { run } from './ground/run.mjs';
import { buildServer } from './ground/build.mjs';

await buildServer();
const own = process.env.DATABASE_URL === undefined;
const { startCluster } = await import('./ground/cluster.mjs');
const data = process.env.UNDERLOCK_DATA ?? at('data');
const cluster = own ? await startCluster(data) : undefined;
const env = { ...process.env, DATABASE_URL: process.env.DATABASE_URL ?? cluster.url('under_lock'), UNDERLOCK_SECRET: process.env.UNDERLOCK_SECRET ?? readFileSync(`${data}/secret`, 'utf8').trim() };
process.exitCode = await run(process.execPath, [at('dist/invite.mjs'), ...process.argv.slice(2)], { env });
