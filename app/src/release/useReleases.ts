/** What waits to be released: one's own, and what waits for one's own word. */
import { listReleases, type OwnRelease } from '@under-lock/contract/release';
import { type Summary, summarySchema } from '@under-lock/core/outgoing/draft';
import useSWR, { mutate } from 'swr';
import { api } from '../api';
import { live } from '../live/live';
import { door } from '../threads/main/door';
import { openSent } from '../vault/useVault';

const KEY = 'releases';

/** With what only its sender opens. */
export interface OpenedRelease extends Omit<OwnRelease, 'summary' | 'sentence'> {
  opened: Summary | undefined;
  sentence: string | undefined;
}

async function opened(own: readonly OwnRelease[]): Promise<OpenedRelease[]> {
  const [summaries, sentences] = await Promise.all([
    openSent(
      summarySchema,
      own.map(({ id, summary }) => ({ id, sealed: summary })),
    ),
    door().release.sentences(
      own.flatMap(({ id, sentence }) => (sentence === undefined ? [] : [{ id, sealed: sentence }])),
    ),
  ]);
  const said = own.filter(({ sentence }) => sentence !== undefined);
  const byId = new Map(said.map(({ id }, index) => [id, sentences[index]]));
  return own.map(({ summary: _, ...one }, index) => ({
    ...one,
    opened: summaries[index],
    sentence: byId.get(one.id),
  }));
}

export const useReleases = () =>
  useSWR(
    KEY,
    async () => {
      const { own, asked } = await api(listReleases);
      return { own: await opened(own), asked };
    },
    { use: [live('releases')] },
  );

export type Releases = NonNullable<ReturnType<typeof useReleases>['data']>;

/** Those that wait for one's own doing: to be released, or to be written anew. */
export const waitingForMe = ({ own = [], asked = [] }: Partial<Releases> = {}): Releases => ({
  own: own.filter(({ state }) => state === 'sent-back'),
  asked,
});

export const refreshReleases = (): Promise<unknown> => mutate(KEY);
