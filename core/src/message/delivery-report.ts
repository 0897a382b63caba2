/**
 * Delivery reports (RFC 3464): whether one says that a mail did not arrive, and why. Written by other people's hosts,
 * or by anybody.
 */
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
