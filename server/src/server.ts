/** Puts the house together and opens its doors. */
import { createServer } from 'node:http';
import { type AddressInfo } from 'node:net';
import { type Config } from './config';
import { tidyEvidence } from './certificate/evidence';
import { remindOfCertificates } from './certificate/reminders';
import { consoleLog, type Context, type Log } from './context';
import { connect } from './data/database';
import { migrate, requireCurrent } from './data/migrations';
import { defineModels } from './data/models';
import { createApp } from './http/app';
import { type JobHandlers, type RunningJobs, startJobs } from './jobs/jobs';
import { openMailDoor } from './incoming/door';
import { createSmtpDoor } from './mail/smtp';
import { deliverCopy } from './outgoing/copies';
import { deliverNotice } from './outgoing/deliver';
import { remindDue, sendReceipt } from './outgoing/errands';
import { closeDue, purge } from './access/grants';
import { endWaiting } from './outgoing/release';
import { tellOfReleases } from './outgoing/release-mails';
import { purgeDeleted } from './incoming/incoming';
import { tellWaiting } from './received/tell';
import { tellFailures } from './outgoing/failures';
import { tellLeft } from './submission/left';
import { tidyRegistered } from './registered/held';
import { tidySlots } from './slot/leave';
import { tidyChanges } from './live/changes';
import { tidyHanded } from './submission/handed';
import { tidyFigures } from './rules/figures';
import { tellOfRules } from './rules/tell';
import { ensureDkimKey, signingKey } from './mail/dkim';
import { ensureStatementKey } from './statement/statement-key';
import { createPhoneDoor } from './phone/door';
import { applyJournal } from './access/restore';
import { reseal } from './reseal';
import { createSecrets } from './secrets';
import { startThreads } from './thread/pool';

/** More than a reverse proxy opens, fewer than memory would have to hold. */
const MAX_CONNECTIONS = 4000;

export interface RunningServer {
  context: Context;
  port: number;
  mailPort: number;
  stop(): Promise<void>;
}

/** As this program knows it. @throws Error where it is behind and may not be brought up */
async function currentDatabase({ databaseUrl, migrates }: Config): Promise<ReturnType<typeof connect>> {
  const db = connect(databaseUrl);
  try {
    await (migrates ? migrate(db) : requireCurrent(db));
    return db;
  } catch (error) {
    await db.close();
    throw error;
  }
}

/** Everything but the doors: for the server, for seeding, for tests. */
export async function openContext(config: Config, log: Log = consoleLog, clock: () => Date = () => new Date()) {
  const db = await currentDatabase(config);
  defineModels(db);
  const jobs = await startJobs(config.databaseUrl, db, log, { installs: config.migrates });
  const mail = createSmtpDoor(config.smtp, () => signingKey(context));
  const threads = startThreads({ file: config.threadFile });
  const phone = createPhoneDoor({ textUrl: config.textUrl, callUrl: config.callUrl, token: config.textToken });
  const context: Context = {
    config,
    db,
    clock,
    log,
    jobs,
    mail,
    phone,
    threads,
    secrets: await createSecrets(config.secret, config.oldSecrets),
  };
  await ensureDkimKey(context);
  await ensureStatementKey(context);
  return {
    context,
    jobs,
    async close() {
      await jobs.stop();
      mail.close();
      await threads.close();
      await db.close();
    },
  };
}

const handlersOf = (context: Context): JobHandlers => ({
  deliverNotice: (id) => deliverNotice(context, id),
  deliverCopy: (id) => deliverCopy(context, id),
  sendReceipt: (id) => sendReceipt(context, id),
  closeDue: async () => {
    await closeDue(context);
    await endWaiting(context);
    await tellOfReleases(context);
    await tellFailures(context);
  },
  remindDue: async () => {
    await remindDue(context);
    await remindOfCertificates(context);
    await tellWaiting(context);
    await tellLeft(context);
    await tellOfRules(context);
  },
  purge: async () => {
    await purge(context);
    await purgeDeleted(context);
    await tidyRegistered(context);
    await tidySlots(context);
    await tidyEvidence(context);
    await tidyChanges(context);
    await tidyFigures(context);
    await tidyHanded(context);
  },
});

/** Pages and endpoints. */
async function openWeb(context: Context): Promise<{ port: number; close(): Promise<void> }> {
  const { config, log } = context;
  const { app, streams } = createApp(context);
  const server = createServer(
    { headersTimeout: 10_000, requestTimeout: 150_000, keepAliveTimeout: 15_000, maxHeaderSize: 16 * 1024 },
    app.callback(),
  );
  server.maxConnections = MAX_CONNECTIONS;
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(config.port, config.host, resolve);
  });
  const { port } = server.address() as AddressInfo;
  if (config.isLocal)
    Object.assign(config, {
      roomOrigin: config.roomOrigin === config.origin ? `http://127.0.0.1:${port}` : config.roomOrigin,
      origin: `http://127.0.0.1:${port}`,
    });
  log.info('listening', { port });
  return {
    port,
    async close() {
      streams.close();
      server.closeAllConnections();
      await new Promise((done) => server.close(done));
    },
  };
}

/** What has to be done on time and by nobody's asking. `resealed`: to be waited for at the end. */
async function openJobs(context: Context, jobs: RunningJobs): Promise<{ resealed: Promise<unknown> }> {
  await jobs.work(handlersOf(context));
  await tidyChanges(context);
  // Not waited for: everything opens under every secret in force, whichever it is sealed under.
  return { resealed: reseal(context).catch((error: unknown) => context.log.error('reseal', error)) };
}

/** What of it this process does is its roles: several processes, of one role or of all, make one server. */
export async function startServer(config: Config, log: Log = consoleLog, clock?: () => Date): Promise<RunningServer> {
  const { context, jobs, close } = await openContext(config, log, clock);
  const { roles } = config;
  // Before anybody can ask for anything: a database from a backup forgets what ended since.
  await applyJournal(context);
  const working = roles.includes('jobs') ? await openJobs(context, jobs) : undefined;
  const mailDoor = roles.includes('mail') && config.mailPort !== 0 ? await openMailDoor(context) : undefined;
  const web = roles.includes('web') ? await openWeb(context) : undefined;
  return {
    context,
    port: web?.port ?? 0,
    mailPort: mailDoor?.port ?? 0,
    async stop() {
      await web?.close();
      await mailDoor?.close();
      await working?.resealed;
      await close();
    },
  };
}
