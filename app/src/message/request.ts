/**
 * Asks somebody for a signed message, so that their certificate comes with the answer: a mail of fixed words, signed in
 * this browser, readable by anybody.
 */
import { type Account } from '@under-lock/contract/account';
import { sendRequest as endpoint } from '@under-lock/contract/message';
import { type Office } from '@under-lock/contract/office';
import { type CopyLock } from '@under-lock/core/locks/lock';
import { requestContent } from '@under-lock/core/locks/certificate/request-mail';
import { type Correspondent } from '@under-lock/core/people/address';
import { type Language } from '@under-lock/core/people/language';
import { api } from '../api';
import { callback, door } from '../worker/door';
import { keysDoor } from '../worker/keys/door';
import { type MessageToSeal } from '@under-lock/core/outgoing/content';
import { type Summary } from '@under-lock/core/outgoing/draft';

/** There is neither a certificate nor an OpenPGP key to sign it with. */
export class NothingToSignWithError extends Error {
  constructor() {
    super('Nothing to sign with');
    this.name = 'NothingToSignWithError';
  }
}

interface Asking {
  recipient: Correspondent;
  language: Language;
  account: Account;
  office: Office;
  /** The draft that waits for the answer. */ forDraft?: string;
}

/** What it says, as it will be sent. */
export const requestWords = ({ recipient, language, account, office }: Omit<Asking, 'forDraft'>) =>
  requestContent({
    sender: { name: account.name, address: account.address },
    recipient,
    officeName: office.name,
    language,
  });

/** Resolves with the message's id. @throws ApiProblem, NothingToSignWithError */
export async function askForSigned(asking: Asking, now: Date): Promise<string> {
  const { account, office, recipient, forDraft } = asking;
  const lock: CopyLock | undefined = (await keysDoor().sealing.signs(account.address, now))
    ? 'certificate'
    : (await keysDoor().openpgp.signs(account.address, now))
      ? 'openpgp'
      : undefined;
  if (lock === undefined) throw new NothingToSignWithError();
  const [messageId, contentBlobId, blobId, mailId] = [
    crypto.randomUUID(),
    crypto.randomUUID(),
    crypto.randomUUID(),
    `${crypto.randomUUID()}@${office.mailDomain}`,
  ];
  const key = await door().message.makeKey();
  const message: MessageToSeal = { ...requestWords(asking), files: [], messageId: mailId, date: now };
  const silent = callback(() => undefined);
  await door().message.sealAndUpload(message, contentBlobId, key, silent);
  if (lock === 'certificate') await keysDoor().sealing.sealAndUpload(message, 'clear', '', blobId, silent);
  else await keysDoor().openpgp.sealAndUpload(message, 'clear', 'mime', '', blobId, silent);
  const summary: Summary = {
    subject: message.subject,
    mailId,
    key,
    files: [],
    links: {},
    ...(forDraft === undefined ? {} : { forDraft }),
  };
  const copy = {
    id: crypto.randomUUID(),
    lock,
    blobId,
    recipients: [{ id: crypto.randomUUID(), address: recipient.address, name: recipient.name, role: 'to' as const }],
  };
  await api(endpoint, {
    params: { id: messageId },
    body: { contentBlobId, summary: await door().vault.sealSent(messageId, summary), copy },
  });
  return messageId;
}
