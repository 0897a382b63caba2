import { getSent, listSent, type SentMessage } from '@under-lock/contract/outgoing';
import useSWR, { mutate } from 'swr';
import useSWRInfinite, { unstable_serialize as keyOfList } from 'swr/infinite';
import { api } from '../api';
import { askedAgain, pagesOf } from '../list-pages';
import { live } from '../live/live';
import { openSent } from '../vault/useVault';
import { type Summary, summarySchema } from '@under-lock/core/outgoing/draft';

export interface Sent extends SentMessage {
  opened: Summary | undefined;
}

const withSummaries = async <T extends SentMessage>(
  messages: T[],
): Promise<(T & { opened: Summary | undefined })[]> => {
  const summaries = await openSent(
    summarySchema,
    messages.map(({ id, summary }) => ({ id, sealed: summary })),
  );
  return messages.map((message, index) => ({ ...message, opened: summaries[index] }));
};

export const subjectOf = (summary: Summary | undefined): string => summary?.subject ?? '(the vault does not open this)';

/** Of those who can still read it, the last to lose it. */
export const latestClosing = ({ grants }: Pick<SentMessage, 'grants'>): Date | undefined =>
  grants.reduce<Date | undefined>(
    (latest, { state, closesAt }) =>
      state === 'held' && (latest === undefined || closesAt > latest) ? closesAt : latest,
    undefined,
  );

const sentPage = pagesOf('sent');
const nothingAsked: typeof sentPage = () => null;

/** Mail › Sent, page by page. */
export const useSentList = ({ asked = true } = {}) =>
  useSWRInfinite(
    asked ? sentPage : nothingAsked,
    async ([, before]) => {
      const { messages, next } = await api(listSent, { query: before === '' ? {} : { before } });
      return { messages: await withSummaries(messages), next };
    },
    { use: [live('sent')], ...askedAgain },
  );

/** Those of these numbers that are there. */
export async function sentOf(ids: string[]): Promise<Sent[]> {
  return withSummaries((await api(listSent, { query: { ids } })).messages);
}

/** One message with what happened to it; fresh within seconds. */
export const useSentMessage = (id: string) =>
  useSWR(
    ['sent-message', id],
    async () => {
      const message = await api(getSent, { params: { id } });
      return (await withSummaries([message]))[0]!;
    },
    { use: [live('sent')] },
  );

/** After something was sent or taken back. */
export const refreshSent = (): Promise<unknown> => mutate(keyOfList(sentPage));
