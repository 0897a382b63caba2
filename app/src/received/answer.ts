/** Answering: a draft in the same conversation, with its recipients filled in. Nothing of the message is copied: whoever answers may not have leave to. */
import { type Account } from '@under-lock/contract/account';
import { type Reply } from '@under-lock/contract/client';
import { type getReceived } from '@under-lock/contract/received';
import { type Handling, type HandlingTerms } from '@under-lock/core/handling/handling';
import { type MessageContent } from '@under-lock/core/message/content';
import { addressKey, type Correspondent } from '@under-lock/core/people/address';
import { addressedTo, ownAddresses } from '../session/own-addresses';
import { type Draft, emptyDraft } from '../message/draft';
import { keepItem } from '../vault/useVault';

type About = Reply<typeof getReceived>;

type Own = Pick<Account, 'address' | 'further'>;
type Told = Pick<Correspondent, 'name' | 'address'>;

/** Keeps the new draft and returns its id. */
async function begin(from: Told, others: readonly Told[], subject: string, rest: Pick<Draft, 'from' | 'inReplyTo' | 'answers' | 'answered'> & { reference: string }): Promise<string> {
  const draft: Draft = {
    ...emptyDraft,
    recipients: [{ name: from.name === from.address ? '' : from.name, address: from.address, role: 'to' }, ...others.map(({ name, address }) => ({ name, address, role: 'cc' as const }))],
    subject: /^re:/i.test(subject) ? subject : `Re: ${subject}`,
    ...rest,
  };
  const id = crypto.randomUUID();
  await keepItem('draft', id, 0, draft);
  return id;
}

function without(people: readonly Told[], ...addresses: string[]): Told[] {
  const keys = new Set(addresses.map(addressKey));
  return people.filter(({ address }) => !keys.has(addressKey(address)));
}

/** Written from the address it came to. */
function fromOwn(own: Own, to: readonly Told[]): Pick<Draft, 'from'> {
  const from = addressedTo(own, to.map(({ address }) => address));
  return from === own.address ? {} : { from };
}

const termsOf = ({ closesAt: _, ...terms }: Handling): HandlingTerms => terms;

/** Begins the answer to a message held for the worker. */
export const beginAnswer = (about: About, subject: string, reference: string, own: Own, toAll: boolean): Promise<string> =>
  begin(about.from, toAll ? without(about.people, ...ownAddresses(own), about.from.address) : [], subject, { reference, inReplyTo: about.messageId, answered: termsOf(about.handling) });

/** Begins the answer to a mail that came in. It goes to whom the mail is from, whatever else it says: an answer elsewhere is how letters are led astray. */
export const beginMailAnswer = (id: string, { from, to, cc, subject, messageId, answers = [], reference }: MessageContent, own: Own, toAll: boolean): Promise<string> =>
  begin(from, toAll ? without([...to, ...cc], ...ownAddresses(own), from.address) : [], subject, { reference, ...fromOwn(own, [...to, ...cc]), inReplyTo: id, answers: [...answers, messageId].filter((one) => one !== '') });
