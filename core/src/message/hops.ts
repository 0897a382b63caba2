/** How often a mail was handed on: one that was too often goes round in circles (RFC 5321 §6.3). */

export const MOST_HOPS = 60;
/** Of a head; what is longer is no mail's. */
const MOST_HEAD_BYTES = 256 * 1024;

const latin = new TextDecoder('latin1');

/** Counted in its head alone, in one pass. */
export function hopsOf(raw: Uint8Array): number {
  const start = latin.decode(raw.subarray(0, MOST_HEAD_BYTES));
  const end = /\r?\n\r?\n/.exec(start)?.index ?? start.length;
  return start.slice(0, end).match(/^received:/gim)?.length ?? 0;
}
