/**
 * Answering and passing on: a draft in the same conversation. An answer copies nothing of the message: whoever answers
 * may not have leave to.
 */
import { type Account } from '@under-lock/contract/account';
import { type Reply } from '@under-lock/contract/client';
import { type getReceived } from '@under-lock/contract/received';
import { escapeHtml } from '@under-lock/core/escape-html';
import { defined } from '@under-lock/core/defined';
import { keptOfLock } from '@under-lock/core/handling/preset';
import { type MessageContent } from '@under-lock/core/message/content';
import { safeFileName } from '@under-lock/core/file-name';
import { htmlOfText } from '@under-lock/core/message/text-forms';
import { momentInWords } from '@under-lock/core/when';
import { addressKey, type Correspondent } from '@under-lock/core/people/address';
import { addressedTo, ownAddresses } from '@under-lock/core/people/own-addresses';
import { readClosingWords, withClosingWords } from '../vault/closing-words';
import { type Draft, type DraftRecipient, emptyDraft } from '@under-lock/core/outgoing/draft';
import { zone } from '../clock';
import { keepItem } from '../vault/useVault';
import { callback, door } from '../threads/main/door';

type About = Reply<typeof getReceived>;

type Own = Pick<Account, 'address' | 'further'>;
type Told = Pick<Correspondent, 'name' | 'address'>;

/** Keeps the new draft and returns its id. */
async function begin(
  from: Told,
  others: readonly Told[],
  subject: string,
  rest: Pick<Draft, 'from' | 'inReplyTo' | 'answers' | 'answered'> & { reference: string },
  asked: Partial<Pick<DraftRecipient, 'check' | 'question' | 'answer'>> = {},
): Promise<string> {
  const { text } = await readClosingWords().catch(() => ({ text: '' }));
  const draft: Draft = {
    ...emptyDraft,
    html: withClosingWords(text),
    recipients: [
      { name: from.name === from.address ? '' : from.name, address: from.address, role: 'to', ...asked },
      ...others.map(({ name, address }) => ({ name, address, role: 'cc' as const })),
    ],
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
  const from = addressedTo(
    own,
    to.map(({ address }) => address),
  );
  return from === own.address ? {} : { from };
}

/** Begins the answer to a message held for the worker. */
export const beginAnswer = (
  about: About,
  subject: string,
  reference: string,
  own: Own,
  toAll: boolean,
): Promise<string> =>
  begin(about.from, toAll ? without(about.people, ...ownAddresses(own), about.from.address) : [], subject, {
    reference,
    inReplyTo: about.messageId,
    answered: about.keeps,
  });

/**
 * Begins a message that passes on what is held for the worker, text and files: it asks at least what that asks, and
 * closes when that closes.
 * @throws ApiProblem
 */
export async function beginPassingOn(about: About, content: MessageContent, now: Date): Promise<string> {
  const files = await Promise.all(
    content.files.map(async ({ name, type, bytes }) => {
      const blobId = crypto.randomUUID();
      const key = await door().message.makeKey();
      await door().message.addFile(
        new File([bytes], name, { type }),
        blobId,
        key,
        callback(() => undefined),
      );
      return { blobId, name: safeFileName(name), type, size: bytes.length, key };
    }),
  );
  const who = `${about.from.name || about.from.address}, ${momentInWords(about.arrivedAt, now, zone)}`;
  const draft: Draft = {
    ...emptyDraft,
    subject: /^fwd?:/i.test(content.subject) ? content.subject : `Fwd: ${content.subject}`,
    reference: about.reference,
    html: `<p></p><p>${escapeHtml(who)}:</p>${content.html === '' ? htmlOfText(content.text) : content.html}`,
    text: `\n\n${who}:\n${content.text}`,
    files,
    inReplyTo: about.messageId,
    answered: about.keeps,
    passedOnUntil: about.closesAt.toISOString(),
  };
  const id = crypto.randomUUID();
  await keepItem('draft', id, 0, draft);
  return id;
}

/** A mail that came in, as it was opened. */
interface Mail {
  id: string;
  message: MessageContent;
  /** It came under a lock, and its answer keeps one. */
  hadLock: boolean;
}

/**
 * Begins the answer to a mail that came in. It goes to whom the mail is from, whatever else it says: an answer
 * elsewhere is how letters are led astray. `asked` is what only whoever left it in a mail slot can answer.
 */
export const beginMailAnswer = (
  { id, hadLock, message: { from, to, cc, subject, messageId, answers = [], reference } }: Mail,
  own: Own,
  toAll: boolean,
  asked?: Parameters<typeof begin>[4],
): Promise<string> =>
  begin(
    from,
    toAll ? without([...to, ...cc], ...ownAddresses(own), from.address) : [],
    subject,
    {
      reference,
      ...fromOwn(own, [...to, ...cc]),
      inReplyTo: id,
      ...defined({ answered: keptOfLock({ hadLock, textOpen: false }) }),
      answers: [...answers, messageId].filter((one) => one !== ''),
    },
    asked,
  );
