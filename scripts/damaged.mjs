/** `npm run damaged`: all of the damaged inputs, a hundred thousand of each kind of format; `UNDERLOCK_SEED` brings a run back. */
import { randomInt } from 'node:crypto';
import { ensureDebian, ensureModules, openssl, sqop } from './ground/packages.mjs';
import { at } from './ground/paths.mjs';
import { run } from './ground/run.mjs';

await ensureDebian([openssl, sqop]);
await ensureModules();
const seed = process.env.UNDERLOCK_SEED ?? String(randomInt(2 ** 31));
process.stdout.write(`UNDERLOCK_SEED=${seed}\n`);
process.exitCode = await run(
  process.execPath,
  [
    at('node_modules/jest/bin/jest.js'),
    'core/test/certificate/mutated',
    'core/test/openpgp/mutated',
    'core/test/file/hostile',
    'core/test/carried',
  ],
  { env: { ...process.env, UNDERLOCK_SEED: seed, UNDERLOCK_DAMAGED: 'all' } },
);
