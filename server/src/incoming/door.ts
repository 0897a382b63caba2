/**
 * The door for mail (RFC 5321): delivery reports (RFC 3464) to `bounce+…@our domain`, and mail to the addresses of
 * accounts, which is sealed to them at once. Nothing else is taken.
 */
import { type Bytes } from '@under-lock/core/bytes';
import { Counts } from '@under-lock/core/counts';
import { addressKey } from '@under-lock/core/people/address';
import { hopsOf, MOST_HOPS } from '@under-lock/core/message/hops';
import { readFileSync } from 'node:fs';
import { SMTPServer, type SMTPServerDataStream, type SMTPServerOptions, type SMTPServerSession } from 'smtp-server';
import { type Config } from '../config';
import { type Context } from '../context';
import { type AccountRow } from '../data/models';
import { copyBounced, mailLimit } from '../outgoing/copies';
import { noticeBounced } from '../outgoing/deliver';
import { ThreadError, type Threads } from '../thread/pool';
import { readingRoom } from '../mail/office-mail';
import { isReturnPath, reportedBy } from '../mail/return-path';
import { judgedOrigin, originThreads } from './origin';
import { openSpool, type Spool, type Spooled, SpoolFullError } from './spool';
import { keepIncoming, mailboxAt, MailboxFullError, noticeAnswered } from './incoming';

const MAX_REPORT_BYTES = 256 * 1024;

/** A number names a notice or a copy; the other knows nothing of it. */
async function bounced(context: Context, id: string, answer: string): Promise<void> {
  await noticeBounced(context, id, answer);
  await copyBounced(context, id, answer);
}

/** What can't be read in the time there is is no report. */
async function reportedFailure(context: Context, raw: Bytes): Promise<string | undefined> {
  try {
    return await context.threads.run('failedDelivery', { raw });
  } catch (error) {
    if (!(error instanceof ThreadError)) throw error;
    return undefined;
  }
}

const refusal = (responseCode: number, text: string): Error => Object.assign(new Error(text), { responseCode });

/** What we say to a recipient (RFC 5321 §4.2.3); undefined is yes. */
async function recipientRefused(context: Context, address: string, from: string): Promise<Error | undefined> {
  if (isReturnPath(address)) {
    if (reportedBy(context, address) === undefined) return refusal(550, 'No such mailbox here');
    // RFC 3464 §2: a report has no sender that could be answered; whatever has one is no report.
    return from === '' ? undefined : refusal(550, 'Only delivery reports are taken here');
  }
  // Whose it is says what it answers, and that comes later.
  if (isReadingRoom(context, address)) return from === '' ? refusal(550, 'No such mailbox here') : undefined;
  const mailbox = await mailboxAt(context, address);
  if (mailbox === undefined) return refusal(550, 'No such mailbox here');
  return mailbox.ready ? undefined : refusal(450, 'This mailbox is not open yet, try again later');
}

/** Whoever takes mail there now; undefined for nobody. */
async function openAt(context: Context, address: string): Promise<AccountRow | undefined> {
  const mailbox = await mailboxAt(context, address);
  return mailbox?.ready === true ? mailbox.account : undefined;
}

const isReadingRoom = (context: Context, address: string): boolean =>
  addressKey(address) === readingRoom(context).address.toLowerCase();

/**
 * Whose message a mail to the reading room's own address answers by its notice. @throws Error with what its host is to be
 * told, where it answers none
 */
async function ownerOfAnswered(context: Context, raw: Bytes): Promise<AccountRow> {
  const account = await noticeAnswered(context, raw);
  if (account === undefined)
    throw refusal(550, 'Nobody reads this mailbox. Open the message you were told of, and answer there');
  return account;
}

async function take(context: Context, threads: Threads, raw: Bytes, session: SMTPServerSession): Promise<void> {
  const { mailFrom, rcptTo } = session.envelope;
  const from = mailFrom === false ? '' : mailFrom.address;
  const to = rcptTo.map(({ address }) => address);
  const reported = from === '' ? to.flatMap((address) => reportedBy(context, address) ?? []) : [];
  if (reported.length > 0 && raw.length <= MAX_REPORT_BYTES) {
    const answer = await reportedFailure(context, raw);
    if (answer !== undefined) for (const id of reported) await bounced(context, id, answer);
  }
  const mailboxes = to.filter((address) => !isReturnPath(address));
  if (mailboxes.length === 0) return;
  if (hopsOf(raw) > MOST_HOPS) throw refusal(554, 'This mail goes round in circles');
  const accounts: AccountRow[] = [];
  // All of them before any: what is refused for one is kept for nobody.
  for (const address of mailboxes) {
    const account = isReadingRoom(context, address)
      ? await ownerOfAnswered(context, raw)
      : await openAt(context, address);
    if (account !== undefined) accounts.push(account);
  }
  const origin = await judgedOrigin(context, threads, raw, session);
  for (const account of accounts) await keepIncoming(context, account, raw, { from, origin });
}

/** Open connections: in all, and of one host. */
const MAX_CLIENTS = 300;
const MAX_CLIENTS_A_PEER = 10;
const IDLE_MS = 30_000;
/** Of mail that is on its way in: files encrypted under keys in memory, and whole mails in memory. */
const ON_DISK_BYTES = 2_000_000_000;
const IN_MEMORY_BYTES = 160_000_000;

/** STARTTLS (RFC 3207) where the office has a certificate for its mail host. */
const encryption = ({
  mailCertificate,
  mailKey,
}: Config): Pick<SMTPServerOptions, 'cert' | 'key' | 'disabledCommands'> =>
  mailCertificate === undefined || mailKey === undefined
    ? { disabledCommands: ['AUTH', 'STARTTLS'] }
    : { disabledCommands: ['AUTH'], cert: readFileSync(mailCertificate), key: readFileSync(mailKey) };

/**
 * All of a mail, or the refusal it is answered with. What is larger than it may be is read to its end and kept nowhere.
 */
async function collected(
  context: Context,
  stream: AsyncIterable<Buffer>,
  mail: Spooled,
  maxBytes: number,
): Promise<Error | undefined> {
  let refused: Error | undefined;
  for await (const chunk of stream) {
    if (refused !== undefined) continue;
    if (mail.size + chunk.length > maxBytes) refused = refusal(552, 'Larger than this office takes');
    else
      await mail.write(chunk).catch((error: unknown) => {
        // Read to its end all the same: whoever is left in the middle waits for an answer that never comes.
        refused = answerTo(context, error);
      });
  }
  return refused;
}

function answerTo(context: Context, error: unknown): Error {
  if (error instanceof Error && 'responseCode' in error) return error;
  if (error instanceof SpoolFullError) return refusal(452, 'Too much mail is coming in at once, try again later');
  if (error instanceof MailboxFullError) return refusal(452, 'The mailbox is full');
  context.log.error('mail-door', error);
  return refusal(451, 'Could not be kept, try again later');
}

interface Receiving {
  maxBytes: number;
  spool: Spool;
  threads: Threads;
}

/** Undefined where it is kept. */
async function receive(
  context: Context,
  { maxBytes, spool, threads }: Receiving,
  stream: SMTPServerDataStream,
  session: SMTPServerSession,
): Promise<Error | undefined> {
  const mail = spool.begin();
  try {
    const refused = await collected(context, stream, mail, maxBytes);
    if (refused !== undefined) return refused;
    await spool.whole(mail, (raw) => take(context, threads, raw, session));
    return undefined;
  } catch (error) {
    return answerTo(context, error);
  } finally {
    await mail.drop();
  }
}

async function mayBeRecipient(
  context: Context,
  address: string,
  { envelope }: SMTPServerSession,
): Promise<Error | undefined> {
  if (envelope.rcptTo.length >= context.config.office.limits.maxRecipients)
    return refusal(452, 'Too many recipients at once');
  try {
    return await recipientRefused(context, address, envelope.mailFrom === false ? '' : envelope.mailFrom.address);
  } catch (error) {
    context.log.error('mail-door', error);
    return refusal(451, 'Try again later');
  }
}

function handlers(context: Context, receiving: Receiving): SMTPServerOptions {
  const peers = new Counts(MAX_CLIENTS_A_PEER);
  return {
    onConnect({ id, remoteAddress }, callback) {
      return peers.enter(id, remoteAddress)
        ? callback()
        : callback(refusal(421, 'Too many connections from your host'));
    },
    onClose: ({ id }) => peers.leave(id),
    onRcptTo({ address }, session, callback) {
      void mayBeRecipient(context, address, session).then((refused) => callback(refused ?? null));
    },
    onData(stream, session, callback) {
      void receive(context, receiving, stream, session).then((refused) => callback(refused ?? null));
    },
  };
}

/** Resolves with its port. */
function listening(context: Context, server: SMTPServer): Promise<number> {
  return new Promise((resolve, reject) => {
    server.on('error', reject);
    const listener = server.listen(context.config.mailPort, context.config.host, () => {
      const bound = listener.address();
      // A host that hangs up in the middle is no reason to end.
      server.off('error', reject).on('error', (error: unknown) => context.log.error('mail-door', error));
      resolve(typeof bound === 'object' && bound !== null ? bound.port : 0);
    });
  });
}

/** @param spoolWithin The folder for what lies on disk meanwhile; the system's for such files when it is left out. */
export async function openMailDoor(
  context: Context,
  spoolWithin?: string,
): Promise<{ port: number; close(): Promise<void> }> {
  const maxBytes = mailLimit(context.config.office.limits.maxBytes);
  const spool = openSpool({ onDiskBytes: ON_DISK_BYTES, inMemoryBytes: IN_MEMORY_BYTES, within: spoolWithin });
  const threads = originThreads(context);
  const server = new SMTPServer({
    ...handlers(context, { maxBytes, spool, threads }),
    authOptional: true,
    ...encryption(context.config),
    disableReverseLookup: true,
    size: maxBytes,
    maxClients: MAX_CLIENTS,
    socketTimeout: IDLE_MS,
    closeTimeout: 2_000,
    logger: false,
  });
  return {
    port: await listening(context, server),
    async close() {
      await new Promise<void>((done) => server.close(() => done()));
      await spool.close();
      await threads.close();
    },
  };
}
