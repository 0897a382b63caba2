/** What was taken and not dealt with: one after the other in threads; what fails for now is taken up again from the server. */
import { listUnfinished } from '@under-lock/contract/submission';
import { type Bytes } from '@under-lock/core/bytes';
import { TooSlowError, within } from '@under-lock/core/within';
import { availableParallelism } from 'node:os';
import { Tinypool } from 'tinypool';
import { type Lying, type Task } from './dealing';
import { type Dealt } from './deal';
import { type Config } from './config';
import { type Door, ownerOf } from './house';
import { letItWait } from './waiting';

const TIMES = {
  /** Until what failed for now is taken up again. */
  again: 15_000,
  /** Longer than the largest mail to the most recipients takes on a slow machine. */
  aMail: 300_000,
  aStop: 5_000,
  /** Until a thread with nothing to do ends: loading what it runs takes longer than a mail. */
  idle: 60_000,
}; // milliseconds
/** Then its writer looks at it: what went wrong twice, whoever answers, does not settle itself. */
const MOST_TRIES = 2;
const NOT_SETTLED = 'it could not be made ready at the door; look at it once and send it from here';
/** Of what a thread keeps beside the mail's own octets. */
const THREAD_MB = 512;

export class Desk {
  private readonly waiting: { mail: Lying; raw?: Bytes }[] = [];
  private readonly busy = new Map<string, Promise<void>>();
  /** How often each has failed. */
  private readonly failed = new Map<string, number>();
  private readonly atOnce = Math.min(4, Math.max(2, availableParallelism()));
  private readonly threads: Tinypool;
  private again: NodeJS.Timeout | undefined;
  private stopped = false;

  constructor(
    private readonly door: Door,
    private readonly config: Pick<Config, 'server' | 'secret' | 'threadFile'>,
    private readonly times = TIMES,
  ) {
    this.threads = new Tinypool({
      filename: config.threadFile,
      runtime: 'worker_threads',
      minThreads: 1,
      maxThreads: this.atOnce,
      idleTimeout: this.times.idle,
      resourceLimits: { maxOldGenerationSizeMb: THREAD_MB },
    });
  }

  /** `raw` is kept at hand only where it is dealt with at once: what waits lies at the server. */
  put(mail: Lying, raw?: Bytes): void {
    const isNext = this.busy.size < this.atOnce && this.waiting.length === 0;
    this.waiting.push(isNext && raw !== undefined ? { mail, raw } : { mail });
    this.next();
  }

  async idle(): Promise<void> {
    while (this.busy.size > 0) await Promise.all(this.busy.values());
  }

  /** What is not done by then is taken up by the next door. */
  async stop(): Promise<void> {
    this.stopped = true;
    clearTimeout(this.again);
    this.waiting.length = 0;
    await within(this.idle(), this.times.aStop).catch((error: unknown) => {
      if (!(error instanceof TooSlowError)) throw error;
    });
    await this.threads.destroy();
  }

  /** What lies at the server from before. */
  async takeUp(): Promise<void> {
    clearTimeout(this.again);
    const { mails } = await this.door.client(listUnfinished);
    for (const mail of mails)
      if (!this.stopped && !this.busy.has(mail.id) && !this.waiting.some((one) => one.mail.id === mail.id))
        this.put(mail);
  }

  private later(): void {
    if (this.stopped) return;
    clearTimeout(this.again);
    this.again = setTimeout(
      () =>
        void this.takeUp().catch((error: unknown) => {
          this.door.log.error('take-up', error);
          this.later();
        }),
      this.times.again,
    );
  }

  private async deal(mail: Lying, raw: Bytes | undefined): Promise<void> {
    const { server, secret } = this.config;
    const { log } = this.door;
    const { id } = mail;
    const task: Task = { server, secret, mail, raw };
    try {
      const dealt = (await this.threads.run(task, {
        signal: AbortSignal.timeout(this.times.aMail),
        ...(raw === undefined ? {} : { transferList: [raw.buffer] }),
      })) as Dealt;
      log.info('dealt', { id, ...dealt });
      if (dealt.became === 'later') this.later();
      else this.failed.delete(id);
    } catch (error) {
      log.error('deal', error, { id });
      await this.hasFailed(mail);
    }
  }

  private async hasFailed(mail: Lying): Promise<void> {
    const { id, deviceId } = mail;
    const failed = (this.failed.get(id) ?? 0) + 1;
    this.failed.set(id, failed);
    if (failed < MOST_TRIES) return this.later();
    try {
      await letItWait(await ownerOf(this.door, deviceId), { id, subject: '' }, [NOT_SETTLED]);
      this.failed.delete(id);
    } catch (error) {
      this.door.log.error('wait', error, { id });
      this.later();
    }
  }

  private next(): void {
    if (this.busy.size >= this.atOnce || this.stopped) return;
    const one = this.waiting.shift();
    if (one === undefined) return;
    const { id } = one.mail;
    this.busy.set(
      id,
      this.deal(one.mail, one.raw).finally(() => {
        this.busy.delete(id);
        this.next();
      }),
    );
  }
}
