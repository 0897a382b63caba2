import { execFileSync } from 'node:child_process';
import { readConfig } from './config';
import { consoleLog } from './context';
import { startServer } from './server';

const config = readConfig(process.env);
const running = await startServer(config);
// Ports below 1024 and key files need root; nothing after that does.
if (config.user !== undefined && process.getuid?.() === 0) {
  const group = Number(execFileSync('id', ['-g', config.user], { encoding: 'utf8' }));
  process.setgroups!([]);
  process.setgid!(group);
  process.setuid!(config.user);
}
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
