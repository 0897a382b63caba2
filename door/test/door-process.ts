/** The door as it is built, in a process of its own. */
import { type ChildProcess, spawn } from 'node:child_process';

export interface DoorProcess {
  child: ChildProcess;
  startTls: number;
  tls: number;
}

/** @param root Where `dist` lies. @throws Error when it ends instead of opening */
export function startDoorProcess(
  root: string,
  settings: {
    server: string;
    /** base64url */ secret: string;
    cert: string;
    key: string;
    startTls?: number;
    tls?: number;
  },
): Promise<DoorProcess> {
  const child = spawn(process.execPath, ['dist/door.mjs'], {
    cwd: root,
    env: {
      PATH: process.env.PATH,
      NODE_ENV: 'production',
      UNDERLOCK_SUBMISSION_SERVER: settings.server,
      UNDERLOCK_SUBMISSION_SECRET: settings.secret,
      UNDERLOCK_SUBMISSION_PORT: String(settings.startTls ?? 0),
      UNDERLOCK_SUBMISSION_TLS_PORT: String(settings.tls ?? 0),
      UNDERLOCK_SUBMISSION_CERTIFICATE: settings.cert,
      UNDERLOCK_SUBMISSION_KEY: settings.key,
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  return new Promise((resolve, reject) => {
    let said = '';
    const ended = (code: number | null): void => reject(new Error(`The door ended with ${code}`));
    const hear = (chunk: Buffer): void => {
      said = `${said}${chunk.toString()}`.slice(-10_000);
      const listening = said.split('\n').find((line) => line.includes('"listening"'));
      if (listening === undefined) return;
      child.removeListener('exit', ended);
      // It goes on speaking, and nobody keeps that.
      child.stdout.removeListener('data', hear).resume();
      const { startTls, tls } = JSON.parse(listening) as { startTls: number; tls: number };
      resolve({ child, startTls, tls });
    };
    child.stdout.on('data', hear);
    child.once('exit', ended);
  });
}
