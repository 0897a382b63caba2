/**
 * Asks somebody for a signed message, so that their certificate or key comes with the answer: a mail of fixed words,
 * signed, and readable by anybody.
 */
import { defined } from '../defined';
import { type CopyOrder } from '../locks/index';
import { requestContent } from '../locks/certificate/request-mail';
import { type Bytes } from '../bytes';
import { type Correspondent } from '../people/address';
import { type Language } from '../language';
import { type MessageToSeal } from './content';
import { type OutgoingCopy } from './dispatch';
import { type Summary } from './draft';
import { type ContentPort, type CopyPort, type RecordPort } from './ports';

/** There is neither a certificate nor an OpenPGP key to sign it with. */
export class NothingToSignWithError extends Error {
  constructor() {
    super('Nothing to sign with');
    this.name = 'NothingToSignWithError';
  }
}

export interface Asking {
  recipient: Correspondent;
  language: Language;
  sender: Correspondent;
  office: { name: string; mailDomain: string };
  /** The draft that waits for the answer. */ forDraft?: string;
}

export interface RequestBody {
  contentBlobId: string;
  summary: Bytes;
  copy: OutgoingCopy;
}

export interface RequestPorts {
  content: Pick<ContentPort, 'makeKey' | 'put'>;
  copies: Pick<CopyPort, 'put'>;
  record: Pick<RecordPort, 'sealSummary'> & { request(messageId: string, body: RequestBody): Promise<unknown> };
  /** Whether copies under this lock would be signed. */
  signs(lock: SignedOrder['lock'], address: string): Promise<boolean>;
  newId(): string;
}

type SignedOrder = Extract<CopyOrder, { recipients: unknown }>;
/** The first that can be signed is taken. */
const ORDERS: readonly SignedOrder[] = [
  { lock: 'certificate', recipients: 'clear', neutralSubject: '' },
  { lock: 'openpgp', recipients: 'clear', form: 'mime', neutralSubject: '' },
];

/** What it says, as it will be sent. */
export const requestWords = ({ recipient, language, sender, office }: Omit<Asking, 'forDraft'>) =>
  requestContent({ sender, recipient, officeName: office.name, language });

async function signedOrder({ sender }: Asking, { signs }: RequestPorts): Promise<SignedOrder> {
  for (const order of ORDERS) if (await signs(order.lock, sender.address)) return order;
  throw new NothingToSignWithError();
}

/** Resolves with the message's id. @throws NothingToSignWithError, and what the ports throw */
export async function askForSigned(asking: Asking, ports: RequestPorts, now: Date): Promise<string> {
  const { office, recipient, forDraft } = asking;
  const { content, copies, record, newId } = ports;
  const order = await signedOrder(asking, ports);
  const [messageId, contentBlobId, blobId] = [newId(), newId(), newId()];
  const mailId = `${newId()}@${office.mailDomain}`;
  const key = await content.makeKey();
  const message: MessageToSeal = { ...requestWords(asking), files: [], messageId: mailId, date: now };
  await content.put(message, contentBlobId, key, () => undefined);
  await copies.put(order, message, blobId, () => undefined);
  const { subject } = message;
  const summary: Summary = {
    subject,
    mailId,
    key,
    files: [],
    links: {},
    ...defined({ forDraft }),
  };
  const { address, name } = recipient;
  await record.request(messageId, {
    contentBlobId,
    summary: await record.sealSummary(messageId, summary),
    copy: { id: newId(), lock: order.lock, blobId, recipients: [{ id: newId(), address, name, role: 'to' }] },
  });
  return messageId;
}
