/** The door for delivery reports (RFC 3464): a small SMTP server that takes mail for `bounce+…@our domain` and nothing else. */
import PostalMime from 'postal-mime';
import { SMTPServer } from 'smtp-server';
import { type Context } from '../context';
import { copyBounced } from '../message/copies';
import { noticeBounced } from '../message/deliver';

const MAX_REPORT_BYTES = 256 * 1024;
const RETURN_PATH = /^bounce\+([\da-f]{8}(?:-[\da-f]{4}){3}-[\da-f]{12})@/i;

/** The diagnostic of a failed delivery, or undefined when the report tells of a delay or is no report. */
export async function failedDelivery(raw: Uint8Array): Promise<string | undefined> {
  const mail = await PostalMime.parse(new Uint8Array(raw), { maxNestingDepth: 8, maxHeadersSize: 64 * 1024, forceRfc822Attachments: true, attachmentEncoding: 'utf8' });
  const status = mail.attachments.find((part) => part.mimeType === 'message/delivery-status');
  if (status === undefined) return undefined;
  const text = String(status.content);
  if (!/^Action:\s*failed\s*$/im.test(text)) return undefined;
  return /^Diagnostic-Code:\s*(?:smtp;\s*)?(.+)$/im.exec(text)?.[1]?.trim() ?? 'undeliverable';
}

/** A number names a notice or a copy; the other knows nothing of it. */
async function bounced(context: Context, id: string, answer: string): Promise<void> {
  await noticeBounced(context, id, answer);
  await copyBounced(context, id, answer);
}

export function openBounceDoor(context: Context): Promise<{ port: number; close(): Promise<void> }> {
  const { mailDomain } = context.config.office;
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['AUTH', 'STARTTLS'],
    disableReverseLookup: true,
    size: MAX_REPORT_BYTES,
    maxClients: 50,
    logger: false,
    onRcptTo({ address }, _session, callback) {
      callback(RETURN_PATH.test(address) && address.toLowerCase().endsWith(`@${mailDomain}`) ? null : Object.assign(new Error('No such mailbox here'), { responseCode: 550 }));
    },
    onData(stream, session, callback) {
      const chunks: Buffer[] = [];
      let size = 0;
      stream.on('data', (chunk: Buffer) => {
        size += chunk.length;
        if (size <= MAX_REPORT_BYTES) chunks.push(chunk);
      });
      stream.on('end', () => {
        if (size > MAX_REPORT_BYTES) return callback(Object.assign(new Error('Too large for a delivery report'), { responseCode: 552 }));
        const ids = session.envelope.rcptTo.flatMap(({ address }) => RETURN_PATH.exec(address)?.[1] ?? []);
        failedDelivery(Buffer.concat(chunks))
          .then(async (answer) => {
            if (answer !== undefined) for (const id of ids) await bounced(context, id.toLowerCase(), answer);
            callback();
          })
          .catch((error: unknown) => {
            context.log.error('bounce-door', error);
            callback(Object.assign(new Error('Could not be read'), { responseCode: 451 }));
          });
      });
    },
  });
  return new Promise((resolve, reject) => {
    server.on('error', reject);
    const listener = server.listen(context.config.bouncePort, '127.0.0.1', () => {
      const bound = listener.address();
      resolve({ port: typeof bound === 'object' && bound !== null ? bound.port : 0, close: () => new Promise((done) => server.close(() => done())) });
    });
  });
}
