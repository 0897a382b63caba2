import { readConfig } from './config';
import { startDoor } from './door';
import { type Log } from './house';

/** One line of JSON an event. Never given a body, a subject, an address or a password. */
const consoleLog: Log = {
  info: (event, data = {}) =>
    process.stdout.write(`${JSON.stringify({ at: new Date().toISOString(), event, ...data })}\n`),
  error: (event, error, data = {}) =>
    process.stderr.write(
      `${JSON.stringify({ at: new Date().toISOString(), event, error: error instanceof Error ? `${error.name}: ${error.message}` : String(error), ...data })}\n`,
    ),
};

try {
  const door = await startDoor(readConfig(process.env), consoleLog);
  const stop = (): void => void door.stop().then(() => process.exit(0));
  process.on('SIGTERM', stop);
  process.on('SIGINT', stop);
} catch (error) {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
  process.exit(1);
}
