/**
 * Reads a carried page, from a file or as its opener hands it over. Nothing of it is trusted: what is not what was
 * sealed does not open.
 */
import { type Bytes, utf8 } from '../../bytes';
import { onlyBlock } from '../../openpgp/armour';
import { shareFromFragment } from '../room/grant';
import { HELD_CLOSES, HELD_OPENS, LINK_OPENS } from './format';

export interface Carried {
  /** The reading room it belongs to. */
  origin: string;
  grantId: string;
  /** The reader's share; a registered reader's lies in their account. */
  share: Bytes | undefined;
  /** The sealed content. */
  sealed: Bytes;
}

const PATH = /^\/room\/([\da-f]{8}(?:-[\da-f]{4}){3}-[\da-f]{12})\/carried$/i;
const HEAD = 20_000;
const latin1 = new TextDecoder('latin1');

function linkIn(head: string): URL | undefined {
  const from = head.indexOf(LINK_OPENS) + LINK_OPENS.length;
  if (from < LINK_OPENS.length) return undefined;
  try {
    return new URL(head.slice(from, head.indexOf('"', from)));
  } catch {
    return undefined;
  }
}

/** The sealed content in what an opener handed over; undefined when it is something else. */
export const readHeld = (text: string): Bytes | undefined => onlyBlock(utf8(text), 'MESSAGE');

/** Undefined for any other file, and for one that was cut off. */
export function readCarried(file: Uint8Array): Carried | undefined {
  const head = latin1.decode(file.subarray(0, HEAD));
  const link = linkIn(head);
  const [, grantId] = PATH.exec(link?.pathname ?? '') ?? [];
  const from = head.indexOf(HELD_OPENS);
  if (link === undefined || grantId === undefined || from < 0) return undefined;
  const body = file.subarray(from + HELD_OPENS.length);
  // Base64 has no such sign: the first one ends the block.
  const end = body.indexOf(HELD_CLOSES.charCodeAt(0));
  const sealed = end < 0 ? undefined : onlyBlock(body.subarray(0, end), 'MESSAGE');
  return sealed === undefined
    ? undefined
    : { origin: link.origin, grantId: grantId.toLowerCase(), share: shareFromFragment(link.hash), sealed };
}
