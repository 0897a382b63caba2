/** What waits, or was sent back, becomes a draft again. */
import { takeReleaseBack } from '@under-lock/contract/release';
import { draftSchema } from '@under-lock/core/outgoing/draft';
import { api } from '../api';
import { keepItem, readItem } from '../vault/useVault';
import { type OpenedRelease, refreshReleases } from './useReleases';

/** The draft's id; undefined where it is not in the vault any more. @throws ApiProblem `conflict` when it was released */
export async function takeUp({ id, opened, by, sentence, decidedAt }: OpenedRelease): Promise<string | undefined> {
  const draftId = opened?.draftId;
  const kept = draftId === undefined ? undefined : await readItem('draft', draftId, draftSchema);
  await api(takeReleaseBack, { params: { id } });
  if (kept !== undefined) {
    const { waiting: _, sentBack: __, ...draft } = kept.value;
    const back =
      sentence === undefined || by === undefined || decidedAt === undefined
        ? {}
        : { sentBack: { by: by.name, sentence, at: decidedAt.toISOString() } };
    await keepItem('draft', kept.id, kept.revision, { ...draft, ...back });
  }
  await refreshReleases();
  return kept?.id;
}
