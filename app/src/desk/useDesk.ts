/** What the desk shows, with what the vault opens of it. */
import { type Desk, getDesk } from '@under-lock/contract/outgoing';
import { type Summary, summarySchema } from '@under-lock/core/outgoing/draft';
import useSWR from 'swr';
import { api } from '../api';
import { zone } from '../clock';
import { live } from '../live/live';
import { withSummaries } from '../received/useReceived';
import { subjectOf } from '../sent/useSent';
import { openSent } from '../vault/useVault';

export type Need = Desk['needs'][number];
export type OpenDesk = NonNullable<ReturnType<typeof useDesk>['data']>;

export const useDesk = () =>
  useSWR(
    'desk',
    async () => {
      const desk = await api(getDesk, { query: { zone } });
      const sealed = [
        ...new Map(
          [...desk.needs, ...desk.copiesFailed, ...desk.open].map(({ messageId, summary }) => [
            messageId,
            { id: messageId, sealed: summary },
          ]),
        ).values(),
      ];
      const [opened, answers] = await Promise.all([openSent(summarySchema, sealed), withSummaries(desk.answers)]);
      const summaries = new Map<string, Summary | undefined>(sealed.map(({ id }, index) => [id, opened[index]]));
      return {
        ...desk,
        answers,
        summary: (messageId: string) => summaries.get(messageId),
        subject: (messageId: string) => subjectOf(summaries.get(messageId)),
      };
    },
    { use: [live('sent', 'received', 'keys')] },
  );
