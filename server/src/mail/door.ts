/** The door for mail (RFC 5321): delivery reports (RFC 3464) to `bounce+…@our domain`, and mail to the addresses of accounts, which is sealed to them at once. Nothing else is taken. */
import { type Bytes } from '@under-lock/core/bytes';
import { SMTPServer } from 'smtp-server';
import { type Context } from '../context';
import { copyBounced, mailLimit } from '../message/copies';
import { noticeBounced } from '../message/deliver';
import { ThreadError } from '../thread/pool';
import { keepIncoming, mailboxAt, MailboxFullError } from '../received/incoming';

const MAX_REPORT_BYTES = 256 * 1024;
const RETURN_PATH = /^bounce\+([\da-f]{8}(?:-[\da-f]{4}){3}-[\da-f]{12})@/i;

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
async function recipientRefused(context: Context, address: string): Promise<Error | undefined> {
  if (RETURN_PATH.test(address)) return address.toLowerCase().endsWith(`@${context.config.office.mailDomain}`) ? undefined : refusal(550, 'No such mailbox here');
  const mailbox = await mailboxAt(context, address);
  if (mailbox === undefined) return refusal(550, 'No such mailbox here');
  return mailbox.ready ? undefined : refusal(450, 'This mailbox is not open yet, try again later');
}

async function take(context: Context, raw: Bytes, { from, to }: { from: string; to: readonly string[] }): Promise<void> {
  const reported = to.flatMap((address) => RETURN_PATH.exec(address)?.[1] ?? []);
  if (reported.length > 0 && raw.length <= MAX_REPORT_BYTES) {
    const answer = await reportedFailure(context, raw);
    if (answer !== undefined) for (const id of reported) await bounced(context, id.toLowerCase(), answer);
  }
  for (const address of to) {
    const mailbox = RETURN_PATH.test(address) ? undefined : await mailboxAt(context, address);
    if (mailbox?.ready === true) await keepIncoming(context, mailbox.account, raw, { from });
  }
}

export function openMailDoor(context: Context): Promise<{ port: number; close(): Promise<void> }> {
  const { limits } = context.config.office;
  const maxBytes = mailLimit(limits.maxBytes);
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['AUTH', 'STARTTLS'],
    disableReverseLookup: true,
    size: maxBytes,
    // Each may hold a whole mail in memory.
    maxClients: 16,
    logger: false,
    onRcptTo({ address }, session, callback) {
      if (session.envelope.rcptTo.length >= limits.maxRecipients) return callback(refusal(452, 'Too many recipients at once'));
      recipientRefused(context, address).then((refused) => callback(refused ?? null), (error: unknown) => {
        context.log.error('mail-door', error);
        callback(refusal(451, 'Try again later'));
      });
      return undefined;
    },
    onData(stream, { envelope }, callback) {
      const chunks: Buffer[] = [];
      let size = 0;
      stream.on('data', (chunk: Buffer) => {
        size += chunk.length;
        if (size <= maxBytes) chunks.push(chunk);
      });
      stream.on('end', () => {
        if (size > maxBytes) return callback(refusal(552, 'Larger than this office takes'));
        take(context, new Uint8Array(Buffer.concat(chunks)), { from: envelope.mailFrom === false ? '' : envelope.mailFrom.address, to: envelope.rcptTo.map(({ address }) => address) }).then(
          () => callback(),
          (error: unknown) => {
            if (error instanceof MailboxFullError) return callback(refusal(452, 'The mailbox is full'));
            context.log.error('mail-door', error);
            return callback(refusal(451, 'Could not be kept, try again later'));
          },
        );
        return undefined;
      });
    },
  });
  return new Promise((resolve, reject) => {
    server.on('error', reject);
    const listener = server.listen(context.config.mailPort, context.config.host, () => {
      const bound = listener.address();
      resolve({ port: typeof bound === 'object' && bound !== null ? bound.port : 0, close: () => new Promise((done) => server.close(() => done())) });
    });
  });
}
