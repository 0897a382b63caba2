/** Takes a carried page's content over: from the page that opened this one, or from a file its reader gives. */
import { type Bytes } from '@under-lock/core/bytes';
import { ASKS } from '@under-lock/core/locks/carried/format';
import { type Carried, readCarried, readHeld } from '@under-lock/core/locks/carried/read';

/** Base64 of the largest content that an office lets out, with room to spare. */
const MAX_BYTES = 400_000_000;

export type Refused = { why: 'not-ours' | 'another' | 'too-large' | 'no-link' } | { why: 'elsewhere'; origin: string };

/** `hasShare`: the share is known already, so the file needs none. */
export async function takeFile(
  file: Blob,
  { grantId, origin, hasShare }: { grantId: string; origin: string; hasShare: boolean },
): Promise<Carried | Refused> {
  if (file.size > MAX_BYTES) return { why: 'too-large' };
  const carried = readCarried(new Uint8Array(await file.arrayBuffer()));
  if (carried === undefined) return { why: 'not-ours' };
  if (carried.origin !== origin) return { why: 'elsewhere', origin: carried.origin };
  if (carried.grantId !== grantId) return { why: 'another' };
  return carried.share === undefined && !hasShare ? { why: 'no-link' } : carried;
}

/**
 * Asks the page that opened this one. What it answers is content that opens with the key, or does not: nothing else of
 * it is used. Returns what stops the waiting.
 */
export function askOpener(taken: (sealed: Bytes) => void): () => void {
  const opener = window.opener as Window | null;
  if (opener === null) return () => undefined;
  const hear = ({ source, data }: MessageEvent<unknown>): void => {
    if (source !== opener || typeof data !== 'string' || data.length > MAX_BYTES) return;
    const sealed = readHeld(data);
    if (sealed === undefined) return;
    window.removeEventListener('message', hear);
    window.opener = null;
    taken(sealed);
  };
  window.addEventListener('message', hear);
  // A file has no origin that could be named; the question says nothing.
  opener.postMessage(ASKS, '*');
  return () => window.removeEventListener('message', hear);
}
