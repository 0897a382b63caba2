/**
 * Background work through pg-boss. A job is sent in the transaction of what caused it, so that neither is there without
 * the other.
 */
import PgBoss from 'pg-boss';
import { type Sequelize, type Transaction } from 'sequelize';
import { type Log } from '../context';

export interface Jobs {
  /** Delivers an outbox row soon, at least once; the handler makes sure of at most once. */
  deliverNotice(outboxId: string, transaction: Transaction, at: Date): Promise<void>;
  /** Delivers one recipient's copy, likewise. */
  deliverCopy(recipientId: string, transaction: Transaction, at: Date): Promise<void>;
  /** Tells the sender that an access was opened for the first time. */
  sendReceipt(grantId: string, transaction: Transaction): Promise<void>;
}

const DELIVER = 'deliver-notice';
const COPY = 'deliver-copy';
const RECEIPT = 'send-receipt';
const CLOSE = 'close-due';
const REMIND = 'remind-due';
const PURGE = 'purge';

export interface JobHandlers {
  /** Seconds after which to try again, or undefined when there is nothing more to do. */
  deliverNotice(outboxId: string): Promise<number | undefined>;
  deliverCopy(recipientId: string): Promise<number | undefined>;
  sendReceipt(grantId: string): Promise<number | undefined>;
  closeDue(): Promise<void>;
  remindDue(): Promise<void>;
  purge(): Promise<void>;
}

export interface RunningJobs extends Jobs {
  work(handlers: JobHandlers): Promise<void>;
  stop(): Promise<void>;
}

/** pg-boss speaks `$1` SQL with values; Sequelize takes the same through `bind`, inside our transaction. */
const inTransaction = (db: Sequelize, transaction: Transaction): PgBoss.Db => ({
  async executeSql(text, values) {
    // Sequelize takes undefined for a missing value; pg-boss means NULL.
    const [found] = await db.query(text, { bind: (values as unknown[]).map((value) => value ?? null), transaction });
    return { rows: found as unknown[] };
  },
});

const QUEUES: PgBoss.Queue[] = [
  { name: DELIVER, retryLimit: 12, retryDelay: 2, retryBackoff: true, expireInSeconds: 60 },
  { name: COPY, retryLimit: 12, retryDelay: 2, retryBackoff: true, expireInSeconds: 180 },
  { name: RECEIPT, retryLimit: 12, retryDelay: 5, retryBackoff: true, expireInSeconds: 60 },
  { name: REMIND, policy: 'short' },
  { name: CLOSE, policy: 'short' },
  { name: PURGE, policy: 'short' },
];

/** A task that can't be done now gets a job of its own for later: it must not hold back or repeat others of its batch. */
const doing =
  <T extends object>(boss: PgBoss, queue: string, task: (data: T) => Promise<number | undefined>) =>
  async (data: T): Promise<void> => {
    const again = await task(data);
    if (again !== undefined) await boss.send(queue, data, { startAfter: again });
  };

async function work(boss: PgBoss, handlers: JobHandlers): Promise<void> {
  const deliver = doing(boss, DELIVER, ({ outboxId }: { outboxId: string }) => handlers.deliverNotice(outboxId));
  await boss.work<{ outboxId: string }>(DELIVER, { batchSize: 25, pollingIntervalSeconds: 0.5 }, async (jobs) => {
    await Promise.all(jobs.map(({ data }) => deliver(data)));
  });
  // Few at a time: each holds a whole mail in memory.
  const copy = doing(boss, COPY, ({ recipientId }: { recipientId: string }) => handlers.deliverCopy(recipientId));
  await boss.work<{ recipientId: string }>(COPY, { batchSize: 2, pollingIntervalSeconds: 0.5 }, async (jobs) => {
    for (const { data } of jobs) await copy(data);
  });
  const receipt = doing(boss, RECEIPT, ({ grantId }: { grantId: string }) => handlers.sendReceipt(grantId));
  await boss.work<{ grantId: string }>(RECEIPT, { batchSize: 10, pollingIntervalSeconds: 2 }, async (jobs) => {
    for (const { data } of jobs) await receipt(data);
  });
  await boss.work(REMIND, { pollingIntervalSeconds: 30 }, () => handlers.remindDue());
  await boss.work(CLOSE, { pollingIntervalSeconds: 5 }, () => handlers.closeDue());
  await boss.work(PURGE, { pollingIntervalSeconds: 30 }, () => handlers.purge());
  await boss.schedule(CLOSE, '* * * * *');
  await boss.schedule(REMIND, '*/5 * * * *');
  await boss.schedule(PURGE, '17 * * * *');
}

/** @param options `installs`: whether this role may make the queues' tables where they are missing. */
export async function startJobs(
  databaseUrl: string,
  db: Sequelize,
  log: Log,
  { installs = true } = {},
): Promise<RunningJobs> {
  const boss = new PgBoss({
    connectionString: databaseUrl,
    max: 4,
    application_name: 'under-lock-jobs',
    migrate: installs,
  });
  boss.on('error', (error) => log.error('jobs', error));
  await boss.start();
  if (installs) for (const queue of QUEUES) await boss.createQueue(queue.name, queue);
  return {
    async deliverNotice(outboxId, transaction, at) {
      await boss.send(
        DELIVER,
        { outboxId },
        { db: inTransaction(db, transaction), ...(at.getTime() > Date.now() ? { startAfter: at } : {}) },
      );
    },
    async deliverCopy(recipientId, transaction, at) {
      await boss.send(
        COPY,
        { recipientId },
        { db: inTransaction(db, transaction), ...(at.getTime() > Date.now() ? { startAfter: at } : {}) },
      );
    },
    async sendReceipt(grantId, transaction) {
      await boss.send(RECEIPT, { grantId }, { db: inTransaction(db, transaction) });
    },
    work: (handlers) => work(boss, handlers),
    stop: () => boss.stop({ graceful: true, timeout: 5_000, wait: true }),
  };
}
