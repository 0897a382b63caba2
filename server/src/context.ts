import { type Sequelize } from 'sequelize';
import { type Config } from './config';
import { type Jobs } from './jobs/jobs';
import { type PhoneDoor } from './phone/door';
import { type Secrets } from './secrets';
import { type SmtpDoor } from './mail/smtp';
import { type Threads } from './thread/pool';

export interface Log {
  info(event: string, data?: Record<string, unknown>): void;
  error(event: string, error: unknown, data?: Record<string, unknown>): void;
}

/** What every feature function takes; tests make their own. */
export interface Context {
  config: Config;
  db: Sequelize;
  clock: () => Date;
  log: Log;
  secrets: Secrets;
  jobs: Jobs;
  mail: SmtpDoor;
  phone: PhoneDoor;
  /** Where everything that strangers sent is parsed. */
  threads: Threads;
}

/** One line of JSON an event. Never given a body, a subject, a share or a passcode. */
export const consoleLog: Log = {
  info: (event, data = {}) =>
    process.stdout.write(`${JSON.stringify({ at: new Date().toISOString(), event, ...data })}\n`),
  error: (event, error, data = {}) =>
    process.stderr.write(
      `${JSON.stringify({ at: new Date().toISOString(), event, error: error instanceof Error ? `${error.name}: ${error.message}` : String(error), ...data })}\n`,
    ),
};
