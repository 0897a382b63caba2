/** `npm run screenshots`: makes docs/screenshots anew from the demo's data. */
import { chromium, ensureDebian, ensureModules, postgres } from './ground/packages.mjs';
import { at } from './ground/paths.mjs';
import { run } from './ground/run.mjs';

await ensureDebian([postgres, chromium]);
await ensureModules();
const { buildServer, buildWeb } = await import('./ground/build.mjs');
const { startTestCluster } = await import('./ground/testing.mjs');
await buildServer();
await buildWeb();
const cluster = await startTestCluster();
process.exitCode = await run(
  process.execPath,
  [at('node_modules/@playwright/test/cli.js'), 'test', '-c', 'e2e/screenshots.config.ts'],
  { env: { ...process.env, UNDERLOCK_TEST_CLUSTER: cluster.url('postgres') } },
);
await cluster.stop();
