/** `npm run bench`: every measurement as a ratio against something measured in the same run. */
import { chromium, curl, ensureDebian, ensureModules, poppler, postgres, sqop } from './ground/packages.mjs';
import { at } from './ground/paths.mjs';
import { run } from './ground/run.mjs';

await ensureDebian([postgres, chromium, sqop, curl, poppler]);
await ensureModules();
const { buildServer, buildWeb } = await import('./ground/build.mjs');
const { startTestCluster } = await import('./ground/testing.mjs');
await buildServer();
await buildWeb();
const cluster = await startTestCluster();
process.exitCode = await run(
  process.execPath,
  [at('node_modules/tsx/dist/cli.mjs'), 'bench/bench.ts', ...process.argv.slice(2)],
  { env: { ...process.env, UNDERLOCK_TEST_CLUSTER: cluster.url('postgres') } },
);
await cluster.stop();
