/** A mail that was written in an ordinary mail program, as a draft: what the door plans, and what waits for its writer. */
import { fieldsNamed, readEntity } from '../message/entity';
import { type Bytes } from '../bytes';
import { type MessageContent } from '../message/content';
import { addressesInHeader, readMessage } from '../message/read';
import { htmlOfText } from '../message/text-forms';
import { type Draft, type DraftFile, type DraftRecipient, emptyDraft } from '../outgoing/draft';
import { addressKey, checkAddress, type Correspondent } from '../people/address';
import { isOwnAddress, type WithAddresses } from '../people/own-addresses';

/** Why the door says no to a mail before it is taken; what to do stands in the words. */
export type NotTaken = 'not-a-mail' | 'no-from' | 'not-your-address';

/**
 * Who a mail says it is from. Everything else about it is settled after it was taken: this can't be put right by
 * anybody but its writer. @throws EntityError when it is no mail
 */
export function authorOf(raw: Uint8Array, account: WithAddresses): { address: string } | { refused: NotTaken } {
  const entity = readEntity(raw);
  const fields = fieldsNamed(entity, 'from');
  const [address, ...others] = fields.length === 1 ? addressesInHeader(fields[0]!.value) : [];
  if (address === undefined || others.length > 0) return { refused: 'no-from' };
  return isOwnAddress(account, address) ? { address } : { refused: 'not-your-address' };
}

/** Everybody the mail program named, each once; whom the head does not name gets it unseen by the others. */
function recipientsOf({ to, cc }: MessageContent, envelope: readonly string[]): DraftRecipient[] {
  const named = (all: readonly Correspondent[], address: string): Correspondent | undefined =>
    all.find((one) => addressKey(one.address) === addressKey(address));
  const seen = new Set<string>();
  return envelope.flatMap((address) => {
    const key = addressKey(address);
    if (seen.has(key) || !checkAddress(address).ok) return [];
    seen.add(key);
    const inTo = named(to, address);
    const inCc = named(cc, address);
    const role = inTo !== undefined ? 'to' : inCc !== undefined ? 'cc' : 'bcc';
    return [{ name: (inTo ?? inCc)?.name ?? '', address, role }];
  });
}

/**
 * @param keep Puts a file where drafts have theirs, and says how it is named there.
 * @throws MessageReadError on what is no mail within the limits
 */
export async function draftOfMail(
  raw: Bytes,
  { envelope, account }: { envelope: readonly string[]; account: WithAddresses },
  keep: (file: MessageContent['files'][number]) => Promise<DraftFile>,
): Promise<Draft> {
  const message = await readMessage(raw);
  const files: DraftFile[] = [];
  // One after another: each may be as large as a mail.
  for (const file of message.files) files.push(await keep(file));
  const { from, subject, text, html, reference, answers } = message;
  return {
    ...emptyDraft,
    ...(addressKey(from.address) === addressKey(account.address) ? {} : { from: from.address }),
    recipients: recipientsOf(message, envelope),
    subject,
    reference,
    text,
    html: html === '' ? htmlOfText(text) : html,
    files,
    ...(answers === undefined || answers.length === 0 ? {} : { answers: [...answers] }),
  };
}
