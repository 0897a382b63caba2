import { getSent, listSent, type SentMessage } from '@under-lock/contract/outgoing';
import useSWR, { mutate } from 'swr';
import useSWRInfinite, { unstable_serialize as keyOfList } from 'swr/infinite';
import { api } from '../api';
import { pagesOf } from '../list-pages';
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

const REFRESH_MS = 5_000;

const sentPage = pagesOf('sent');

/** Mail › Sent, page by page. */
export const useSentList = () =>
  useSWRInfinite(
    sentPage,
    async ([, before]) => {
      const { messages, next } = await api(listSent, { query: before === '' ? {} : { before } });
      return { messages: await withSummaries(messages), next };
    },
    { refreshInterval: REFRESH_MS, revalidateFirstPage: true },
  );

/** One message with what happened to it; fresh within seconds. */
export const useSentMessage = (id: string) =>
  useSWR(
    ['sent-message', id],
    async () => {
      const message = await api(getSent, { params: { id } });
      return (await withSummaries([message]))[0]!;
    },
    { refreshInterval: 3_000 },
  );

/** After something was sent or taken back. */
export const refreshSent = (): Promise<unknown> => mutate(keyOfList(sentPage));
