/**
 * `npm run thorough`: what takes too long for every run of the tests. All of the damaged inputs, a hundred thousand of
 * each kind of format (`UNDERLOCK_SEED` brings a run back), the storm on two servers in full, keys under gigabytes of
 * Argon2, ten thousand malformed submissions to a slot, a hundred kills of what mail goes through.
 */
import { randomInt } from 'node:crypto';
import * as packages from './ground/packages.mjs';
import { at } from './ground/paths.mjs';
import { run } from './ground/run.mjs';

await packages.ensureDebian(Object.values(packages).filter((one) => one?.proof !== undefined));
await packages.ensureModules();
await (await import('./ground/build.mjs')).buildServer();
const { startTestCluster } = await import('./ground/testing.mjs');
const cluster = await startTestCluster();
const seed = process.env.UNDERLOCK_SEED ?? String(randomInt(2 ** 31));
process.stdout.write(`UNDERLOCK_SEED=${seed}\n`);
process.exitCode = await run(
  process.execPath,
  [
    at('node_modules/jest/bin/jest.js'),
    'core/test/certificate/mutated',
    'core/test/openpgp/mutated',
    'core/test/openpgp/vectors',
    'core/test/file/hostile',
    'core/test/carried',
    'core/test/scan/made',
    'server/test/storm',
    'server/test/slots',
    'door/test/kills',
  ],
  {
    env: {
      ...process.env,
      UNDERLOCK_SEED: seed,
      UNDERLOCK_THOROUGH: 'yes',
      UNDERLOCK_TEST_CLUSTER: cluster.url('postgres'),
    },
  },
);
await cluster.stop();
