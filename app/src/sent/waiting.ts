/** A message that was sent and has not left: taking it back, and clearing the draft away once it has left. */
import { takeBack } from '@under-lock/contract/outgoing';
import { useEffect } from 'react';
import { api } from '../api';
import { dropItem, keepItem, readItem } from '../vault/useVault';
import { draftSchema } from '@under-lock/core/outgoing/draft';
import { discardFiles } from '../sending/send';
import { type Sent } from './useSent';

/** Takes it back and returns where its draft lies under Write. @throws ApiProblem `conflict` when it has left */
export async function takeMessageBack({ id, opened, byProgram }: Sent): Promise<string | undefined> {
  await api(takeBack, { params: { id } });
  // What a mail program had handed in waits again as it came.
  if (byProgram !== undefined) return `handed/${id}`;
  const draftId = opened?.draftId;
  const kept = draftId === undefined ? undefined : await readItem('draft', draftId, draftSchema);
  if (kept === undefined) return undefined;
  // The same attempt may be sent again: its number is free again.
  const { waiting: _, ...draft } = kept.value;
  await keepItem('draft', kept.id, kept.revision, draft);
  return draftId;
}

async function clearAway(draftId: string, messageId: string): Promise<void> {
  const kept = await readItem('draft', draftId, draftSchema);
  if (kept?.value.waiting?.messageId !== messageId) return;
  await discardFiles(kept.value);
  await dropItem('draft', draftId);
}

/** Once a message has left, the draft that waited for it goes. */
export function useClearedDraft(message: Sent | undefined, hasLeft: boolean): void {
  const draftId = message?.opened?.draftId;
  const id = message?.id;
  useEffect(() => {
    if (hasLeft && draftId !== undefined && id !== undefined) void clearAway(draftId, id).catch(() => undefined);
  }, [hasLeft, draftId, id]);
}
