/**
 * Delivery reports (RFC 3464): whether one says that a mail did not arrive, and why, written by other people's hosts or
 * by anybody; and ours, for whoever writes in a mail program.
 */
import { concat, type Bytes, utf8 } from '../bytes';
import { type Correspondent } from '../people/address';
import { momentInWords } from '../when';
import { headerFields, MIME_VERSION, multipart, rfc5322Date, textPart } from './build';
import { decodeText } from './charset';
import { decodedBody, type Entity, partsOf, readEntity } from './entity';

const MAX_STATUS_BYTES = 64 * 1024;
const MAX_LINES = 2000;
const MAX_DIAGNOSTIC = 300;

/** The fields of a delivery-status part, folded lines joined, in their order. */
function statusFields(text: string): { name: string; value: string }[] {
  const fields: { name: string; value: string }[] = [];
  for (const line of text.split('\n', MAX_LINES)) {
    const last = fields.at(-1);
    if (/^[ \t]/.test(line) && last !== undefined) last.value += ` ${line.trim()}`;
    else {
      const colon = line.indexOf(':');
      if (colon > 0)
        fields.push({ name: line.slice(0, colon).trim().toLowerCase(), value: line.slice(colon + 1).trim() });
    }
  }
  return fields;
}

function statusPart(report: Entity): Entity | undefined {
  if (report.contentType.type !== 'multipart/report') return undefined;
  return partsOf(report)
    .map(readEntity)
    .find(({ contentType: { type } }) => type === 'message/delivery-status');
}

/** RFC 3464 §2.3.6: the diagnostic without its type. */
function diagnosticOf(value: string): string {
  const semicolon = value.indexOf(';');
  return (semicolon > 0 && semicolon < 20 ? value.slice(semicolon + 1) : value).trim();
}

/** Why a mail was not delivered; undefined when the report tells of a delay, or is no report. @throws EntityError */
export function failedDelivery(raw: Uint8Array): string | undefined {
  const part = statusPart(readEntity(raw));
  if (part === undefined) return undefined;
  const fields = statusFields(decodeText(decodedBody(part).subarray(0, MAX_STATUS_BYTES), undefined));
  if (!fields.some(({ name, value }) => name === 'action' && value.toLowerCase() === 'failed')) return undefined;
  const diagnostic = fields.find(({ name }) => name === 'diagnostic-code');
  return (diagnostic === undefined ? '' : diagnosticOf(diagnostic.value).slice(0, MAX_DIAGNOSTIC)) || 'undeliverable';
}

export interface FailedMail {
  messageId: string;
  date: Date;
  from: Correspondent;
  /** Whoever wrote it. */
  to: Correspondent;
  /** Ours, as it is named to others. */
  host: string;
  zone: string;
  /** Whom it did not reach, and when it was to leave. */
  recipient: string;
  sentAt: Date;
  /** What the next host said. */
  answer: string;
  /** It was refused when it was handed on, or came back after it had been taken. */
  after: 'asked' | 'taken';
  /** Where it stands in our record. */
  link: string;
}

/** RFC 3463 in an answer, else that something is wrong for good. */
const statusIn = (answer: string): string => /\b5\.\d{1,3}\.\d{1,3}\b/.exec(answer)?.[0] ?? '5.0.0';

/** The report as mail programs show it and list it; nothing of the mail is in it. @throws HeaderInjectionError */
export function buildDeliveryReport(mail: FailedMail): Bytes {
  const { messageId, date, from, to, host, zone, recipient, sentAt, after, link } = mail;
  const answer = mail.answer.replace(/[^\x20-\x7e]+/g, ' ').trim();
  const boundary = `r-${messageId.replace(/[^A-Za-z0-9]/g, '').slice(0, 40)}`;
  const said = answer === '' ? '' : `\n\nThe mail host on its way says: ${answer}`;
  const text = `Your mail of ${momentInWords(sentAt, date, zone)} did not reach ${recipient}: it was ${
    after === 'asked' ? 'refused' : 'returned after it had been taken'
  }.${said}\n\nIt stands with the message: ${link}\n`;
  const status = [
    `Reporting-MTA: dns; ${host}`,
    `Arrival-Date: ${rfc5322Date(sentAt)}`,
    '',
    `Final-Recipient: rfc822; ${recipient}`,
    'Action: failed',
    `Status: ${statusIn(answer)}`,
    ...(answer === '' ? [] : [`Diagnostic-Code: smtp; ${answer}`]),
    '',
  ].join('\r\n');
  const { headers, body } = multipart('report', boundary, [
    textPart('plain', text),
    { headers: 'Content-Type: message/delivery-status\r\n', body: [utf8(status)] },
  ]);
  const head = headerFields({
    messageId,
    date,
    from,
    to: [to],
    cc: [],
    subject: `Not delivered: your mail to ${recipient}`,
    reference: '',
  });
  const typed = headers.replace('multipart/report;', 'multipart/report; report-type=delivery-status;');
  // RFC 3834 §5: nobody's program answers it.
  return concat(utf8(`${head.join('')}Auto-Submitted: auto-replied\r\n${MIME_VERSION}${typed}\r\n`), ...body);
}
