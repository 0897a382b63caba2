/** What a draft says, as it is sealed: for a try at sending, and to tell whether it is still the same. */
import { defined } from '../defined';
import { type Bytes, sha256, toBase64Url, utf8 } from '../bytes';
import { type MessageContent } from '../message/content';
import { oneLine } from '../one-line';
import { type DeliveryPlan } from './delivery-plan';
import { type Draft, type DraftFile } from './draft';
import { type Sender } from './known';

/** A message whose files lie sealed elsewhere, each under a key of its own. */
export interface MessageToSeal extends Omit<MessageContent, 'files'> {
  files: DraftFile[];
}

/** @param at The number of the mail and its date: the attempt's. */
export function messageOf(
  draft: Draft,
  plan: DeliveryPlan,
  account: Sender,
  at: { mailId: string; date: string },
): MessageToSeal {
  const people = (role: 'to' | 'cc') =>
    plan.lines
      .filter(({ recipient }) => recipient.role === role)
      .map(({ recipient: { name, address } }) => ({ name, address }));
  return {
    messageId: at.mailId,
    from: { name: account.name, address: draft.from ?? account.address },
    to: people('to'),
    cc: people('cc'),
    subject: oneLine(draft.subject),
    date: new Date(at.date),
    reference: oneLine(draft.reference),
    text: draft.text,
    html: draft.html,
    files: draft.files,
    ...defined({ answers: draft.answers }),
  };
}

/** 32 octets as base64url: whether a draft still says what an earlier try sealed. */
export async function fingerprintOf(message: MessageToSeal): Promise<string> {
  const { subject, html, text, reference, files, to, cc } = message;
  const said: Bytes = utf8(JSON.stringify([subject, html, text, reference, files, to, cc]));
  return toBase64Url(await sha256(said));
}
