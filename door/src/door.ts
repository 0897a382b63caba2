/** The door for mail programs (docs/decisions/31): takes mail in, keeps it at the server, and sees what becomes of it. */
import { openDoor } from '@under-lock/contract/submission';
import { spelledFingerprint } from '@under-lock/core/account/key-fingerprint';
import { builtLimit } from '@under-lock/core/message/built-size';
import { doorKeys } from '@under-lock/core/submission/keys';
import { type Config } from './config';
import { Desk } from './desk';
import { clientsOf, type Door, type Log } from './house';
import { listen } from './smtp';
import { layDown } from './take';

export interface RunningDoor {
  startTls: number;
  tls: number;
  /** Resolves when nothing is being dealt with. */
  idle(): Promise<void>;
  stop(): Promise<void>;
}

/** @throws Error when the server can't be reached or does not know this door */
export async function startDoor(config: Config, log: Log): Promise<RunningDoor> {
  const keys = await doorKeys(config.secret);
  const door: Door = { keys, log, ...clientsOf(config.server, keys) };
  const { suite, publicKey } = keys;
  const { host } = config;
  const said = (ports: { startTls: number; tls: number }) =>
    door.client(openDoor, { body: { suite, publicKey, host, ...ports } });
  const { maxBytes, maxRecipients } = await said(config);
  const desk = new Desk(door, config);
  const open = await listen(door, config, { maxBytes: builtLimit(maxBytes), maxRecipients }, async (owner, taken) => {
    const mail = await layDown(door, owner, taken);
    if (mail !== undefined) desk.put(mail, taken.raw);
  });
  await said(open);
  log.info('listening', { startTls: open.startTls, tls: open.tls, key: spelledFingerprint(publicKey) });
  await desk.takeUp();
  return {
    startTls: open.startTls,
    tls: open.tls,
    idle: () => desk.idle(),
    async stop() {
      await open.close();
      await desk.stop();
    },
  };
}
