/**
 * Other firms' mail hosts, all in one: takes mail by SMTP for every address under `.example`, and reports what it could
 * not deliver (RFC 3464).
 */
import { randomUUID } from 'node:crypto';
import { createTransport } from 'nodemailer';
import { SMTPServer, type SMTPServerDataStream, type SMTPServerSession } from 'smtp-server';
import { type Behaviour, behaviourOf, pause, SLOW_MS } from './behaviour';
import { type DkimKey } from './dns';
import { type Store } from './store';

const MAX_MAIL_BYTES = 60 * 1024 * 1024;

const refusal = (code: number, text: string): Error => Object.assign(new Error(text), { responseCode: code });

function deliveryReport(from: string, to: string): string {
  const boundary = randomUUID();
  return [
    `From: Mail delivery <mailer@${to.slice(to.lastIndexOf('@') + 1)}>`,
    `To: <${from}>`,
    'Subject: Undeliverable',
    `Date: ${new Date().toUTCString()}`,
    `Message-ID: <${randomUUID()}@outside.example>`,
    'MIME-Version: 1.0',
    `Content-Type: multipart/report; report-type=delivery-status; boundary="${boundary}"`,
    '',
    `--${boundary}`,
    'Content-Type: text/plain; charset=utf-8',
    '',
    `Your mail to ${to} could not be delivered.`,
    '',
    `--${boundary}`,
    'Content-Type: message/delivery-status',
    '',
    'Reporting-MTA: dns; mx.outside.example',
    '',
    `Final-Recipient: rfc822; ${to}`,
    'Action: failed',
    'Status: 5.1.6',
    'Diagnostic-Code: smtp; 550 5.1.6 mailbox has moved and left no address',
    '',
    `--${boundary}--`,
    '',
  ].join('\r\n');
}

export interface MailHostOptions {
  port: number;
  store: Store;
  behaviour: () => Behaviour;
  /** The office's domain: its mail is handed on, as a host on the way does. */
  officeDomain: string;
  /** Where mail to the office and delivery reports go. */
  officeDoor: () => { host: string; port: number } | undefined;
}

/** Hands a mail to the office's door. @throws Error with the door's answer when it says no, or nobody is there */
export async function toOffice(
  door: { host: string; port: number } | undefined,
  envelope: { from: string; to: string },
  raw: string | Uint8Array,
  sign?: DkimKey,
): Promise<void> {
  if (door === undefined) throw new Error('the office has no door for mail');
  const transport = createTransport({ ...door, ignoreTLS: true });
  try {
    await transport.sendMail({
      envelope,
      raw: typeof raw === 'string' ? raw : Buffer.from(raw),
      ...(sign === undefined ? {} : { dkim: sign }),
    });
  } finally {
    transport.close();
  }
}

/** Whether the office's own mailboxes have it; what they don't take stays here, to be seen. */
const tookIt = (
  door: { host: string; port: number } | undefined,
  envelope: { from: string; to: string },
  raw: Uint8Array,
): Promise<boolean> =>
  door === undefined
    ? Promise.resolve(false)
    : toOffice(door, envelope, raw).then(
        () => true,
        () => false,
      );

async function report(officeDoor: MailHostOptions['officeDoor'], from: string, to: string): Promise<void> {
  try {
    await toOffice(officeDoor(), { from: '', to: from }, deliveryReport(from, to));
  } catch (error) {
    process.stderr.write(`outside: the delivery report was not taken: ${String(error)}\n`);
  }
}

/** Into the mailbox it is for: the office's own, or one of this world's. */
async function deliver(
  { store, officeDomain, officeDoor }: MailHostOptions,
  { from, to, mode }: { from: string; to: string; mode: ReturnType<typeof behaviourOf> },
  raw: Buffer,
): Promise<void> {
  if (mode === 'bounce') {
    if (from !== '') setTimeout(() => void report(officeDoor, from, to), 500);
    return;
  }
  const isOfOffice = to.toLowerCase().endsWith(`@${officeDomain}`);
  if (isOfOffice && (await tookIt(officeDoor(), { from, to }, raw))) return;
  store.addMail({
    id: randomUUID(),
    receivedAt: new Date().toISOString(),
    mailbox: to.toLowerCase(),
    junk: mode === 'junk',
    raw: raw.toString('base64'),
  });
}

/** The mail host's answer. @throws Error with its no */
async function take(
  options: MailHostOptions,
  { mailFrom, rcptTo }: SMTPServerSession['envelope'],
  mail: SMTPServerDataStream,
): Promise<string> {
  const chunks: Buffer[] = [];
  for await (const chunk of mail as AsyncIterable<Buffer>) chunks.push(chunk);
  const recipients = rcptTo.map(({ address }) => ({ to: address, mode: behaviourOf(address, options.behaviour()) }));
  if (recipients.some(({ mode }) => mode === 'slow')) await pause(SLOW_MS);
  if (mail.sizeExceeded) throw refusal(552, '5.3.4 too large');
  const from = mailFrom === false ? '' : mailFrom.address;
  for (const recipient of recipients) await deliver(options, { from, ...recipient }, Buffer.concat(chunks));
  return recipients.some(({ mode }) => mode === 'junk')
    ? '2.0.0 accepted, filed as junk'
    : `2.0.0 accepted for ${recipients[0]?.to ?? 'nobody'}`;
}

function refusalOf(address: string, mode: ReturnType<typeof behaviourOf>): Error | undefined {
  if (!/\.example$/i.test(address)) return refusal(550, '5.1.2 this world ends at .example');
  if (mode === 'refuse') return refusal(550, '5.1.1 no such mailbox');
  return mode === 'down' ? refusal(451, '4.3.0 try again later') : undefined;
}

export function openMailHost(options: MailHostOptions): Promise<{ port: number; close(): Promise<void> }> {
  const { port, behaviour } = options;
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['AUTH', 'STARTTLS'],
    disableReverseLookup: true,
    size: MAX_MAIL_BYTES,
    logger: false,
    onRcptTo: ({ address }, _session, callback) => callback(refusalOf(address, behaviourOf(address, behaviour()))),
    onData: (stream, { envelope }, callback) =>
      void take(options, envelope, stream).then(
        (said) => callback(null, said),
        (error: Error) => callback(error),
      ),
  });
  return new Promise((resolve, reject) => {
    server.on('error', (error: Error) => {
      process.stderr.write(`outside mail host: ${error.message}\n`);
      reject(error);
    });
    const listener = server.listen(port, '127.0.0.1', () => {
      const bound = listener.address();
      resolve({
        port: typeof bound === 'object' && bound !== null ? bound.port : port,
        close: () => new Promise((done) => server.close(() => done())),
      });
    });
  });
}
