/**
 * Before the server's tests: its threads are programs of their own, which have to be built; and the keys of the world
 * outside are made once for all houses. The server waits for an authority as long as is decent, not for it to be made.
 */
import { execFileSync } from 'node:child_process';
import { rmSync } from 'node:fs';

export default async function prepare() {
  // For the other of the two that have a server.
  if (process.env.UNDERLOCK_TEST_KEYS !== undefined) return;
  const { buildServer } = await import('./ground/build.mjs');
  const { at } = await import('./ground/paths.mjs');
  await buildServer();
  process.env.UNDERLOCK_TEST_KEYS = at('.tmp', 'test-keys');
  rmSync(process.env.UNDERLOCK_TEST_KEYS, { recursive: true, force: true });
  execFileSync(process.execPath, [at('dist/outside-keys.mjs'), process.env.UNDERLOCK_TEST_KEYS]);
}
