/**
 * `npm run invite` on a machine where nothing runs: it makes what it needs, prints a link that works, stops what it
 * started, and ends.
 */
import { execFile } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { INVITE_HELP, readInvite } from '../src/account/invite-words';

const script = join(__dirname, '../../scripts/invite.mjs');

test('what the command is told wrongly it says in a sentence, and never takes for something else', () => {
  const person = ['--address', 'ada.frost@larkmoor.example', '--name', 'Ada Frost'];
  expect(readInvite(person)).toEqual({ address: 'ada.frost@larkmoor.example', name: 'Ada Frost', title: '' });
  expect(readInvite([...person, '--role', 'worker'])).toMatchObject({ role: 'worker' });
  expect(readInvite([...person, '--role', 'manager'])).toBe('--role is administrator or worker, not “manager”.');
  expect(readInvite(['--address', 'ada.frost@larkmoor.example'])).toBe('Say --address and --name.');
  expect(readInvite([...person, '--nmae', 'Ada'])).toMatch(/^Unknown option '--nmae'/);
  expect(readInvite(['--help'])).toBe('help');
  expect(INVITE_HELP).toContain('--role');
});

test('the first administrator is invited before the product ever ran, by a command that ends and leaves nothing running', async () => {
  const data = mkdtempSync(join(tmpdir(), 'under-lock-invite-'));
  const { DATABASE_URL: _, UNDERLOCK_TEST_CLUSTER: __, ...rest } = process.env;
  const env = { ...rest, UNDERLOCK_DATA: data };
  const invite = (...args: string[]) =>
    promisify(execFile)(process.execPath, [script, ...args], { env, timeout: 100_000 });
  try {
    const { stdout } = await invite('--address', 'ada.frost@larkmoor.example', '--name', 'Ada Frost');
    expect(stdout).toMatch(
      /^http:\/\/127\.0\.0\.1:8420\/set-up#[\w-]{43}\nworks once, until 2\d{3}-.*, for Ada Frost, administrator$/m,
    );
    // Once more, before the link was used: another link, over the database that is there now.
    expect((await invite('--address', 'ada.frost@larkmoor.example', '--name', 'Ada Frost')).stdout).toMatch(/set-up#/);
    const lock = join(data, 'pg/postmaster.pid');
    expect(existsSync(lock) ? readFileSync(lock, 'utf8') : 'stopped').toBe('stopped');
  } finally {
    rmSync(data, { recursive: true, force: true });
  }
}, 120_000);
