/** What the address bar asks for. */
import { type Bytes } from '@under-lock/core/bytes';
import { shareFromFragment } from '@under-lock/core/locks/room/grant';

export interface Visit {
  id: string;
  share: Bytes;
  /** The share came from the reader's account, not from a link. */
  byAccount?: boolean;
  /** The sealed content, from a carried page. */
  sealed?: Bytes;
}

/** Stands where a share would, when somebody comes from their list. */
export const FROM_LIST = '#list';

/**
 * What the address bar asks for: a message by its whole link; one without a link, for who has an account or a file; or
 * nothing we know.
 */
export function visitFromAddress():
  (Visit & { fromList: false }) | { id: string; share?: undefined; fromList: boolean } | undefined {
  const [, found] =
    /^\/room\/([\da-f]{8}(?:-[\da-f]{4}){3}-[\da-f]{12})(?:\/carried)?\/?$/i.exec(window.location.pathname) ?? [];
  const id = found?.toLowerCase();
  if (id === undefined) return undefined;
  if (window.location.hash === '' || window.location.hash === FROM_LIST)
    return { id, fromList: window.location.hash === FROM_LIST };
  const share = shareFromFragment(window.location.hash);
  return share === undefined ? undefined : { id, share, fromList: false };
}
