/** Debian's postfix as the relay of one person: everything it is given goes on to the door. */
import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ran } from './mail-programs';

export interface Relay {
  /** @throws Error with what it said */
  give(to: readonly string[], letter: string): Promise<void>;
  /** Numbers of what it has not got rid of. */
  queued(): string[];
  /** Does not wait for its next round. */
  tryAgain(): void;
  /** All of it, with -9, and starts it again. */
  kill(): void;
  stop(): void;
}

/** None of them listens: it is given mail by its own command. */
const SERVICES = [
  'pickup unix n - n 1 1 pickup',
  'cleanup unix n - n - 0 cleanup',
  'qmgr unix n - n 1 1 qmgr',
  'tlsmgr unix - - n 1000? 1 tlsmgr',
  'rewrite unix - - n - - trivial-rewrite',
  ...['bounce', 'defer', 'trace'].map((name) => `${name} unix - - n - 0 bounce`),
  'flush unix n - n 1000? 0 flush',
  'proxymap unix - - n - - proxymap',
  'smtp unix - - n - - smtp',
  'relay unix - - n - - smtp',
  'showq unix n - n - - showq',
  ...['anvil', 'scache'].map((name) => `${name} unix - - n - 1 ${name}`),
  ...['error', 'retry', 'discard', 'local', 'virtual'].map(
    (name) => `${name} unix - - n - - ${name === 'retry' ? 'error' : name}`,
  ),
  'postlog unix-dgram n - n - 1 postlogd',
];

export function startRelay({
  door,
  ca,
  address,
  password,
}: {
  door: { startTls: number };
  ca: string;
  address: string;
  password: string;
}): Relay {
  const folder = mkdtempSync(join(tmpdir(), 'under-lock-relay-'));
  execFileSync('chmod', ['755', folder]);
  const [settings, queue, data] = ['settings', 'queue', 'data'].map((name) => join(folder, name)) as [
    string,
    string,
    string,
  ];
  for (const path of [settings, queue, data]) mkdirSync(path);
  execFileSync('chown', ['postfix', data]);
  const main = {
    compatibility_level: '3.6',
    queue_directory: queue,
    data_directory: data,
    maillog_file: join(folder, 'log'),
    maillog_file_prefixes: folder,
    myhostname: 'desk.larkmoor.example',
    mydestination: '',
    inet_interfaces: 'loopback-only',
    inet_protocols: 'ipv4',
    smtp_host_lookup: 'native',
    relayhost: `[localhost]:${door.startTls}`,
    smtp_sasl_auth_enable: 'yes',
    smtp_sasl_password_maps: `static:${address}:${password}`,
    smtp_sasl_security_options: 'noanonymous',
    smtp_sasl_tls_security_options: 'noanonymous',
    smtp_tls_security_level: 'secure',
    smtp_tls_secure_cert_match: 'nexthop',
    smtp_tls_CAfile: ca,
    minimal_backoff_time: '1s',
    maximal_backoff_time: '2s',
    queue_run_delay: '1s',
  };
  writeFileSync(
    join(settings, 'main.cf'),
    Object.entries(main)
      .map(([name, value]) => `${name} = ${value}\n`)
      .join(''),
  );
  writeFileSync(join(settings, 'master.cf'), `${SERVICES.join('\n')}\n`);
  execFileSync('chmod', ['-R', 'a+rX', settings, ca]);
  const told = (...args: string[]): string =>
    execFileSync('/usr/sbin/postfix', ['-c', settings, ...args], { stdio: ['ignore', 'pipe', 'pipe'] }).toString();
  told('start');
  return {
    async give(to, letter) {
      const { code, out } = await ran('/usr/sbin/sendmail', ['-C', settings, '-f', address, '-i', ...to], letter);
      if (code !== 0) throw new Error(out);
    },
    queued: () =>
      execFileSync('/usr/sbin/postqueue', ['-c', settings, '-j'])
        .toString()
        .split('\n')
        .filter((line) => line !== '')
        .map((line) => (JSON.parse(line) as { queue_id: string }).queue_id),
    tryAgain: () => void execFileSync('/usr/sbin/postqueue', ['-c', settings, '-f']),
    kill() {
      process.kill(Number(readFileSync(join(queue, 'pid/master.pid'), 'utf8')), 'SIGKILL');
      for (let tries = 0; ; tries++) {
        try {
          told('start');
          return;
        } catch (error) {
          // The one before is still on its way out.
          if (tries === 50) throw error;
          execFileSync('sleep', ['0.1']);
        }
      }
    },
    stop: () => void told('stop'),
  };
}
