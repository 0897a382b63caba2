import {
  getIncoming,
  getReceived,
  type IncomingMail,
  listReceived,
  type Received,
  receivedId,
} from '@under-lock/contract/received';
import { type IncomingSummary } from '@under-lock/core/incoming/incoming';
import useSWR, { mutate } from 'swr';
import useSWRInfinite, { unstable_serialize as keyOfList } from 'swr/infinite';
import { api } from '../api';
import { askedAgain, pagesOf } from '../list-pages';
import { live } from '../live/live';
import { door } from '../threads/main/door';

export interface ReceivedWithSubject extends Received {
  subject: string | undefined;
}

async function withSubjects<T extends Received>(messages: T[]): Promise<(T & { subject: string | undefined })[]> {
  const sealed = messages.flatMap(({ grantId, sealed: one }) => (one === undefined ? [] : [{ grantId, ...one }]));
  const opened = await door().received.subjects(sealed);
  const subjects = new Map(sealed.map(({ grantId }, index) => [grantId, opened[index]]));
  return messages.map((message) => ({ ...message, subject: subjects.get(message.grantId) }));
}

/** Mail that came in, as a list may show it; without a summary it does not open with this account's key. */
export interface IncomingWithSummary extends IncomingMail {
  summary: IncomingSummary | undefined;
}

export async function withSummaries(mails: IncomingMail[]): Promise<IncomingWithSummary[]> {
  const summaries = await door().received.incoming(
    mails.map(({ id, sealedKey, sealedSummary }) => ({ id, sealedKey, sealedSummary })),
  );
  return mails.map((mail, index) => ({ ...mail, summary: summaries[index] }));
}

export type InReceived = ReceivedWithSubject | IncomingWithSummary;

async function readable(messages: (Received | IncomingMail)[]): Promise<InReceived[]> {
  const [held, mails] = await Promise.all([
    withSubjects(messages.flatMap((one) => (one.kind === 'held' ? [one] : []))),
    withSummaries(messages.flatMap((one) => (one.kind === 'mail' ? [one] : []))),
  ]);
  const byId = new Map<string, InReceived>([
    ...held.map((one): [string, InReceived] => [one.grantId, one]),
    ...mails.map((one): [string, InReceived] => [one.id, one]),
  ]);
  return messages.map((one) => byId.get(receivedId(one))!);
}

const receivedPage = pagesOf('received');

/** Mail › Received, page by page. */
export const useReceivedList = () =>
  useSWRInfinite(
    receivedPage,
    async ([, before]) => {
      const page = await api(listReceived, { query: before === '' ? {} : { before } });
      return { ...page, messages: await readable(page.messages) };
    },
    { use: [live('received')], ...askedAgain },
  );

/** Those of these numbers that are there. */
export async function receivedOf(ids: string[]): Promise<InReceived[]> {
  return readable((await api(listReceived, { query: { ids } })).messages);
}

/** One of them, as far as it is known before it is opened: who, until when, in which state. */
export const useReceivedMessage = (id: string) =>
  useSWR(['received-message', id], () => api(getReceived, { params: { id } }), { use: [live('received')] });

/** A mail that came in, as it lies sealed. */
export const useIncoming = (id: string) =>
  useSWR(['incoming', id], () => api(getIncoming, { params: { id } }), { revalidateOnFocus: false });

/** After something was read, marked or deleted. */
export const refreshReceived = (): Promise<unknown> => mutate(keyOfList(receivedPage));
