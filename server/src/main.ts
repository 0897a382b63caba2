import { readConfig } from './config';
import { consoleLog } from './context';
import { startServer } from './server';

const running = await startServer(readConfig(process.env));
let stopping = false;
const stop = (): void => {
  if (stopping) return;
  stopping = true;
  running.stop().then(
    () => process.exit(0),
    (error: unknown) => {
      consoleLog.error('stop', error);
      process.exit(1);
    },
  );
};
process.on('SIGINT', stop);
process.on('SIGTERM', stop);
