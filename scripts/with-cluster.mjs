/** Runs a command with a throw-away test cluster: `node scripts/with-cluster.mjs npx jest …`. */
import { startTestCluster } from './ground/testing.mjs';
import { run } from './ground/run.mjs';

const cluster = await startTestCluster();
const code = await run(process.argv[2], process.argv.slice(3), {
  env: { ...process.env, UNDERLOCK_TEST_CLUSTER: cluster.url('postgres') },
});
await cluster.stop();
process.exit(code);
