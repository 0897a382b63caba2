/** Drafts that were removed: out of sight at once, and gone with their files an hour later. */
import { type Draft, draftSchema } from '@under-lock/core/outgoing/draft';
import { type Kept } from '@under-lock/core/vault/kept';
import { useEffect } from 'react';
import { dropItem, keepItem, listItems, readItem } from '../vault/useVault';
import { discardFiles } from '../sending/send';

const KEPT_MS = 60 * 60_000;

export const isRemoved = ({ removedAt }: Draft): boolean => removedAt !== undefined;

/** Back where it was. */
export async function restoreDraft(id: string): Promise<void> {
  const kept = await readItem('draft', id, draftSchema);
  if (kept === undefined) return;
  const { removedAt: _, ...draft } = kept.value;
  await keepItem('draft', id, kept.revision, draft);
}

/** Those whose time is over. */
export const goneForGood = (drafts: readonly Kept<Draft>[], now: Date): Kept<Draft>[] =>
  drafts.filter(
    ({ value: { removedAt } }) => removedAt !== undefined && now.getTime() - Date.parse(removedAt) > KEPT_MS,
  );

async function tidyRemoved(): Promise<void> {
  for (const { id, value } of goneForGood(await listItems('draft', draftSchema), new Date())) {
    // The files first: without their draft nobody would know of them.
    await discardFiles(value);
    await dropItem('draft', id);
  }
}

/** Once, and shows nothing: drafts change at every pause in writing. What fails is tried the next time. */
export function RemovedDrafts(): null {
  useEffect(() => void tidyRemoved().catch(() => undefined), []);
  return null;
}
