/** The server as it is built, in a process of its own that can be killed. */
import { type ChildProcess, spawn } from 'node:child_process';
import { join } from 'node:path';
import { type House } from './house';

const pause = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));

/** Beside the house's own, on its database. @throws Error when it does not open */
export async function startProcess(
  house: House,
  port: number,
  settings: Record<string, string> = {},
): Promise<ChildProcess> {
  const child = spawn(process.execPath, ['dist/server.mjs'], {
    cwd: join(__dirname, '../..'),
    stdio: ['ignore', 'ignore', 'inherit'],
    env: {
      ...process.env,
      NODE_ENV: 'production',
      DATABASE_URL: house.databaseUrl,
      UNDERLOCK_SECRET: 'A'.repeat(43),
      UNDERLOCK_PORT: String(port),
      UNDERLOCK_MAIL_PORT: '0',
      UNDERLOCK_UNDO_SECONDS: '0',
      UNDERLOCK_SMTP_URL: `smtp://127.0.0.1:${house.world.smtpPort}`,
      UNDERLOCK_TEXT_URL: `http://127.0.0.1:${house.world.httpPort}/texts`,
      UNDERLOCK_CALL_URL: `http://127.0.0.1:${house.world.httpPort}/calls`,
      UNDERLOCK_DNS: `127.0.0.1:${house.world.httpPort}`,
      ...settings,
    },
  });
  for (let tries = 0; tries < 300; tries++) {
    if (
      await fetch(`http://127.0.0.1:${port}/api/office`).then(
        ({ ok }) => ok,
        () => false,
      )
    )
      return child;
    await pause(100);
  }
  throw new Error('A server process did not open');
}
