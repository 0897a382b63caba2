/** The door for mail programs (docs/decisions/31): takes mail in, keeps it at the server, and sees what becomes of it. */
import { fetchBlob } from '@under-lock/contract/transfer';
import { openDoor, listUnfinished } from '@under-lock/contract/submission';
import { isProblem } from '@under-lock/contract/problem';
import { spelledFingerprint } from '@under-lock/core/account/key-fingerprint';
import { doorKeys } from '@under-lock/core/submission/keys';
import { openHanded, openHandedLabel } from '@under-lock/core/submission/handed';
import { OfficeBook } from './book';
import { type Config } from './config';
import { deal, type HandedIn } from './deal';
import { clientsOf, type Context, type Log, type Owner, ownerOf } from './house';
import { meansFrom } from './materials';
import { listen } from './smtp';
import { layDown } from './take';

/** A mail is base64 around files, and a text besides. */
const mailLimit = (maxBytes: number): number => Math.ceil(maxBytes * 1.38) + 1_000_000;
/** Mails that are dealt with at the same time. */
const AT_ONCE = 4;
const AGAIN_MS = 15_000;
/** Then its writer looks at it: what fails so often does not settle itself. */
const MOST_TRIES = 4;

export interface RunningDoor {
  startTls: number;
  tls: number;
  /** Resolves when nothing is being dealt with. */
  idle(): Promise<void>;
  stop(): Promise<void>;
}

/** What was taken and not dealt with, one after the other; what fails for now is taken up again from the server. */
class Desk {
  private readonly waiting: { owner: Owner; mail: HandedIn }[] = [];
  private readonly busy = new Map<string, Promise<void>>();
  /** How often each has failed. */
  private readonly failed = new Map<string, number>();
  private again: NodeJS.Timeout | undefined;
  private stopped = false;

  constructor(private readonly context: Context) {}

  put(owner: Owner, mail: HandedIn): void {
    this.waiting.push({ owner, mail });
    this.next();
  }

  async idle(): Promise<void> {
    while (this.busy.size > 0) await Promise.all(this.busy.values());
  }

  async stop(): Promise<void> {
    this.stopped = true;
    clearTimeout(this.again);
    this.waiting.length = 0;
    await this.idle();
  }

  /** What lies at the server from before. */
  async takeUp(): Promise<void> {
    const { context } = this;
    clearTimeout(this.again);
    const { mails } = await context.client(listUnfinished);
    for (const { id, deviceId, blobId, label } of mails) {
      if (this.stopped) return;
      if (this.busy.has(id) || this.waiting.some(({ mail }) => mail.id === id)) continue;
      const owner = await ownerOf(context, deviceId).catch((error: unknown) => {
        // Its writer finds it among their drafts.
        if (isProblem(error, 'not-signed-in')) return undefined;
        throw error;
      });
      if (owner === undefined) continue;
      const opened = await openHandedLabel(context.keys.privateKey, 'door', id, label);
      this.put(owner, { id, to: opened.to, raw: await openHanded(await fetchBlob(owner.client, blobId), opened) });
    }
  }

  later(): void {
    if (this.stopped) return;
    clearTimeout(this.again);
    this.again = setTimeout(
      () =>
        void this.takeUp().catch((error: unknown) => {
          this.context.log.error('take-up', error);
          this.later();
        }),
      AGAIN_MS,
    );
  }

  private next(): void {
    if (this.busy.size >= AT_ONCE || this.stopped) return;
    const one = this.waiting.shift();
    if (one === undefined) return;
    const { id } = one.mail;
    this.busy.set(
      id,
      deal(this.context, one.owner, one.mail, { isLast: (this.failed.get(id) ?? 0) >= MOST_TRIES - 1 })
        .then(
          (became) => {
            this.failed.delete(id);
            this.context.log.info('dealt', { id, became });
          },
          (error: unknown) => {
            this.failed.set(id, (this.failed.get(id) ?? 0) + 1);
            this.context.log.error('deal', error, { id });
            this.later();
          },
        )
        .finally(() => {
          this.busy.delete(id);
          this.next();
        }),
    );
  }
}

/** @throws Error when the server can't be reached or does not know this door */
export async function startDoor(config: Config, log: Log, now: () => Date = () => new Date()): Promise<RunningDoor> {
  const keys = await doorKeys(config.secret);
  const context: Context = {
    keys,
    log,
    now,
    book: new OfficeBook(keys),
    means: meansFrom(config.server, now),
    ...clientsOf(config.server, keys),
  };
  const { suite, publicKey } = keys;
  const { host } = config;
  const said = (ports: { startTls: number; tls: number }) =>
    context.client(openDoor, { body: { suite, publicKey, host, ...ports } });
  const { maxBytes, maxRecipients } = await said(config);
  const desk = new Desk(context);
  const open = await listen(context, config, { maxBytes: mailLimit(maxBytes), maxRecipients }, async (owner, taken) => {
    const mail = await layDown(context, owner, taken);
    if (mail !== undefined) desk.put(owner, mail);
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
