/** Windows into the simulated outside world. It is another house: its answers are checked, its silence is said. */
import { behaviourSchema, type Behaviour, mailboxesSchema, mailListSchema, mailSchema, phonesSchema } from '@under-lock/contract/outside';
import useSWR, { mutate } from 'swr';
import { type z } from 'zod';
import { useOffice } from '../office/useOffice';

async function fetchOutside<S extends z.ZodType>(url: string, schema: S): Promise<z.output<S>> {
  const response = await fetch(url);
  if (!response.ok) throw new Error(`The outside world answered ${response.status}`);
  return schema.parse(await response.json());
}

function useOutside<S extends z.ZodType>(path: string, schema: S) {
  const { data: office } = useOffice();
  const url = office?.outsideUrl === undefined ? null : `${office.outsideUrl}${path}`;
  return useSWR<z.output<S>>(url, () => fetchOutside(url!, schema), { refreshInterval: 2_000 });
}

export const useMailboxes = () => useOutside('/mailboxes', mailboxesSchema);
export const useMailbox = (address: string) => useOutside(`/mailboxes/${encodeURIComponent(address)}`, mailListSchema);
export const useMail = (id: string) => useOutside(`/mails/${encodeURIComponent(id)}`, mailSchema);
export const usePhones = () => useOutside('/phones', phonesSchema);
export const useBehaviour = () => useOutside('/behaviour', behaviourSchema);

export async function setBehaviour(url: string, behaviour: Behaviour): Promise<void> {
  await fetch(`${url}/behaviour`, { method: 'PUT', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(behaviour) });
  await mutate(`${url}/behaviour`);
}

export const markRead = (url: string, id: string): Promise<unknown> => fetch(`${url}/mails/${encodeURIComponent(id)}/read`, { method: 'PUT' });
