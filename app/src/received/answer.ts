/** Answering: a draft in the same conversation, with its recipients filled in. Nothing of the message is copied: whoever answers may not have leave to. */
import { type Reply } from '@under-lock/contract/client';
import { type getReceived } from '@under-lock/contract/received';
import { addressKey } from '@under-lock/core/people/address';
import { type Draft, emptyDraft } from '../message/draft';
import { keepItem } from '../vault/useVault';

type About = Reply<typeof getReceived>;

/** Keeps the new draft and returns its id. */
export async function beginAnswer(about: About, subject: string, reference: string, own: string, toAll: boolean): Promise<string> {
  const keys = new Set([addressKey(own), addressKey(about.from.address)]);
  const others = toAll ? about.people.filter(({ address }) => !keys.has(addressKey(address))) : [];
  const draft: Draft = {
    ...emptyDraft,
    recipients: [{ name: about.from.name === about.from.address ? '' : about.from.name, address: about.from.address, role: 'to' }, ...others.map(({ name, address }) => ({ name, address, role: 'cc' as const }))],
    subject: /^re:/i.test(subject) ? subject : `Re: ${subject}`,
    reference,
    inReplyTo: about.messageId,
  };
  const id = crypto.randomUUID();
  await keepItem('draft', id, 0, draft);
  return id;
}
