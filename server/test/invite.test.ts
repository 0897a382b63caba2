/**
 * `npm run invite` on a machine where nothing runs: it makes what it needs, prints a link that works, stops what it
 * started, and ends.
 */
import { execFile } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';

const script = join(__dirname, '../../scripts/invite.mjs');

test('the first administrator is invited before the product ever ran, by a command that ends and leaves nothing running', async () => {
  const data = mkdtempSync(join(tmpdir(), 'under-lock-invite-'));
  const { DATABASE_URL: _, UNDERLOCK_TEST_CLUSTER: __, ...rest } = process.env;
  const env = { ...rest, UNDERLOCK_DATA: data };
  const invite = (...args: string[]) =>
    promisify(execFile)(process.execPath, [script, ...args], { env, timeout: 100_000 });
  try {
    const { stdout } = await invite(
      '--address',
      'ada.frost@larkmoor.example',
      '--name',
      'Ada Frost',
      '--role',
      'administrator',
    );
    expect(stdout).toMatch(/^http:\/\/127\.0\.0\.1:8420\/set-up#[\w-]{43}\nworks once, until 2\d{3}-/m);
    // Once more, before the link was used: another link, over the database that is there now.
    expect((await invite('--address', 'ada.frost@larkmoor.example', '--name', 'Ada Frost')).stdout).toMatch(/set-up#/);
    const lock = join(data, 'pg/postmaster.pid');
    expect(existsSync(lock) ? readFileSync(lock, 'utf8') : 'stopped').toBe('stopped');
  } finally {
    rmSync(data, { recursive: true, force: true });
  }
}, 120_000);
