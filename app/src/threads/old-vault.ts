import { BOOK_KINDS } from '@under-lock/core/vault/item';
import { Watched } from '../watched';

export type OldPart = 'vault' | 'book';

/**
 * What the server gave out that is not as it was left: the worker's own vault, the office book. Whoever meets it says so
 * here; the frame of the pages shows it.
 */
export const oldVault = new Watched<ReadonlySet<OldPart>>(new Set());

/** @param kind Of the items, as the error names it. */
export const metOld = (kind: string | undefined): void =>
  oldVault.set(new Set([...oldVault.get(), BOOK_KINDS.some((one) => one === kind) ? 'book' : 'vault']));
