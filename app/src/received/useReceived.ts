import { getReceived, listReceived, type Received } from '@under-lock/contract/received';
import useSWR from 'swr';
import useSWRInfinite from 'swr/infinite';
import { api } from '../api';
import { door } from '../worker/door';

const REFRESH_MS = 5_000;

export interface ReceivedWithSubject extends Received { subject: string | undefined }

async function withSubjects<T extends Received>(messages: T[]): Promise<(T & { subject: string | undefined })[]> {
  const sealed = messages.flatMap(({ grantId, sealed: one }) => (one === undefined ? [] : [{ grantId, ...one }]));
  const opened = await door().received.subjects(sealed);
  const subjects = new Map(sealed.map(({ grantId }, index) => [grantId, opened[index]]));
  return messages.map((message) => ({ ...message, subject: subjects.get(message.grantId) }));
}

/** Mail › Received, page by page. */
export const useReceivedList = () =>
  useSWRInfinite(
    (index, previous: { next?: string | undefined } | null) => (index > 0 && previous?.next === undefined ? null : ['received', previous?.next ?? '']),
    async ([, before]) => {
      const page = await api(listReceived, { query: before === '' ? {} : { before } });
      return { ...page, messages: await withSubjects(page.messages) };
    },
    { refreshInterval: REFRESH_MS, revalidateFirstPage: true },
  );

/** One of them, as far as it is known before it is opened: who, until when, in which state. */
export const useReceivedMessage = (id: string) => useSWR(['received-message', id], () => api(getReceived, { params: { id } }), { refreshInterval: REFRESH_MS });
