/**
 * Where delivery reports come back to: an address that names what was sent (a variable envelope return path) and
 * carries a keyed tag, so that nobody who saw a Message-ID can report it as undelivered. 64 octets, the most a local
 * part may have (RFC 5321 §4.5.3.1.1).
 */
import { timingSafeEqual } from 'node:crypto';
import { type Context } from '../context';

const TAG_BYTES = 10;
const PATH = /^bounce\+([\da-f]{8}(?:-[\da-f]{4}){3}-[\da-f]{12})([\da-f]{20})@(.{1,253})$/i;
/** Hosts give up within days (RFC 5321 §4.5.4.1: four to five); what comes later reports nothing. */
export const REPORTED_WITHIN_DAYS = 10;

const PURPOSE = 'return-path';

/** @param id Of an outbox row or a copy's recipient. */
export function returnPath({ secrets, config }: Context, id: string): string {
  return `bounce+${id}${secrets.keyedHash(PURPOSE, id).subarray(0, TAG_BYTES).toString('hex')}@${config.office.mailDomain}`;
}

/** It looks like one of ours, whether or not it is. */
export const isReturnPath = (address: string): boolean => /^bounce\+/i.test(address);

/** What a return path of ours names; undefined for one that we did not make. */
export function reportedBy({ secrets, config }: Context, address: string): string | undefined {
  const [, id, tag, domain] = PATH.exec(address) ?? [];
  if (id === undefined || tag === undefined || domain?.toLowerCase() !== config.office.mailDomain) return undefined;
  const given = Buffer.from(tag, 'hex');
  const name = id.toLowerCase();
  return secrets.keyedHashes(PURPOSE, name).some((hash) => timingSafeEqual(hash.subarray(0, TAG_BYTES), given))
    ? name
    : undefined;
}
