import { readConfig } from './config';
import { startDoor } from './door';
import { type Log } from './house';
import { setFlagsFromString } from 'node:v8';

// A large mail's octets have V8 look for what is no longer used a dozen times. What it then walks is small: at once it
// takes 30 ms and is seldom needed; in steps and in threads beside, it was done so often that it was a third of the work.
setFlagsFromString('--no-incremental-marking');

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
