/** Windows into the simulated outside world. It is another house: its answers are checked, its silence is said. */
import {
  behaviourSchema,
  type Behaviour,
  type Letter,
  mailboxesSchema,
  mailListSchema,
  mailSchema,
  phonesSchema,
} from '@under-lock/contract/outside';
import useSWR, { mutate } from 'swr';
import { type z } from 'zod';
import { useOffice } from '../session/useOffice';

async function fetchOutside<S extends z.ZodType>(url: string, schema: S): Promise<z.output<S>> {
  const response = await fetch(url);
  if (!response.ok) throw new Error(`The outside world answered ${response.status}`);
  return schema.parse(await response.json());
}

function useOutside<S extends z.ZodType>(path: string | undefined, schema: S) {
  const { data: office } = useOffice();
  const url = office?.outsideUrl === undefined || path === undefined ? null : `${office.outsideUrl}${path}`;
  return useSWR<z.output<S>>(url, () => fetchOutside(url!, schema), { refreshInterval: 2_000 });
}

export const useMailboxes = () => useOutside('/mailboxes', mailboxesSchema);
export const useMailbox = (address: string | undefined) =>
  useOutside(address === undefined ? undefined : `/mailboxes/${encodeURIComponent(address)}`, mailListSchema);
export const useMail = (id: string) => useOutside(`/mails/${encodeURIComponent(id)}`, mailSchema);
export const usePhones = () => useOutside('/phones', phonesSchema);
export const useBehaviour = () => useOutside('/behaviour', behaviourSchema);

export async function setBehaviour(url: string, behaviour: Behaviour): Promise<void> {
  await fetch(`${url}/behaviour`, {
    method: 'PUT',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(behaviour),
  });
  await mutate(`${url}/behaviour`);
}

/** A file of a mail that nothing encrypts, as their mail program saves it. */
export async function fileOf(url: string, id: string, index: number): Promise<Uint8Array<ArrayBuffer>> {
  const response = await fetch(`${url}/mails/${encodeURIComponent(id)}/files/${index}`);
  if (!response.ok) throw new Error(`The outside world answered ${response.status}`);
  return new Uint8Array(await response.arrayBuffer());
}

export const markRead = (url: string, id: string): Promise<unknown> =>
  fetch(`${url}/mails/${encodeURIComponent(id)}/read`, { method: 'PUT' });

/** Sends a mail from a mailbox outside. @throws Error with what their mail program or our door said */
export async function sendLetter(url: string, letter: Letter): Promise<void> {
  const response = await fetch(`${url}/mails`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(letter),
  });
  if (!response.ok) throw new Error(await response.text());
}
