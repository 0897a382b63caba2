import { type Draft, draftSchema, isBlank } from '@under-lock/core/outgoing/draft';
import { type Kept } from '@under-lock/core/vault/kept';
import { type HandedWithWhy, useHanded } from '../programs/useHanded';
import { useVault } from '../vault/useVault';
import { isRemoved } from '../write/removed';

/** A draft, or a mail from a mail program that waits. */
export type Begun = Kept<Draft> | HandedWithWhy;

export const isHanded = (one: Begun): one is HandedWithWhy => 'by' in one;

/** All that was begun and has not left; what comes from mail programs wants something of its writer and comes first. */
export function useBegun(): { data: Begun[] | undefined; error: unknown } {
  const { data, error } = useVault('draft', draftSchema);
  const handed = useHanded();
  // What was sent and waits to leave is in Sent.
  const drafts = data
    ?.filter(({ value }) => !isBlank(value) && !isRemoved(value) && value.waiting === undefined)
    .sort((a, b) => b.updatedAt.getTime() - a.updatedAt.getTime());
  return { data: drafts && handed.data && [...handed.data, ...drafts], error: error ?? (handed.error as unknown) };
}
