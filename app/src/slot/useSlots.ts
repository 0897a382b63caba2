/** The mail slots this worker may see, and what can be done with them. */
import { listSlots, type MailSlot } from '@under-lock/contract/slot';
import useSWR, { mutate } from 'swr';
import { api } from '../api';
import { told } from '../live/live';

const KEY = 'slots';

export const useSlots = () =>
  useSWR(KEY, async () => (await api(listSlots)).slots, { use: [told('office')], revalidateOnFocus: false });

/** After it, the list is as it is now. */
export async function thenSlots(act: Promise<unknown>): Promise<void> {
  await act;
  await mutate(KEY);
}

export const linkOf = (roomOrigin: string, { token }: Pick<MailSlot, 'token'>): string => `${roomOrigin}/slot/${token}`;
