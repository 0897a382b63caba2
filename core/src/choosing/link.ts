/** The link by which somebody takes a choice of theirs back, from the mail that tells them of it. */
import { type Bytes, fromBase64Url, toBase64Url } from '../bytes';

/** Octets of what makes it theirs; nobody guesses it. */
export const TAKE_BACK_OCTETS = 32;

/** What stands behind # leaves no browser unless its page sends it. */
export const takeBackLink = (roomOrigin: string, choiceId: string, token: Uint8Array): string =>
  `${roomOrigin}/room/choice/${choiceId}#${toBase64Url(token)}`;

export interface TakeBack {
  /** The choice's. */
  id: string;
  token: Bytes;
}

/** What an address bar asks for: undefined for another page, `'broken'` for such a link of which a part is missing. */
export function takeBackFrom({ pathname, hash }: Pick<Location, 'pathname' | 'hash'>): TakeBack | 'broken' | undefined {
  if (!/^\/room\/choice(\/|$)/i.test(pathname)) return undefined;
  const id = /^\/room\/choice\/([\da-f]{8}(?:-[\da-f]{4}){3}-[\da-f]{12})\/?$/i.exec(pathname)?.[1]?.toLowerCase();
  if (id === undefined || !/^#[\w-]{43}$/.test(hash)) return 'broken';
  try {
    return { id, token: fromBase64Url(hash.slice(1)) };
  } catch {
    return 'broken'; // the last character's spare bits were not zero: none of ours
  }
}
