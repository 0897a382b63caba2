/** A mail that was written in an ordinary mail program, as a draft: what the door plans, and what waits for its writer. */
import { type Entity, fieldsNamed, readEntity } from '../message/entity';
import { type Bytes } from '../bytes';
import { blocksOfHtml, textOfBlocks } from '../message/blocks';
import { type MessageContent } from '../message/content';
import { decodeWords } from '../message/encoded-words';
import { addressesInHeader, readMessage } from '../message/read';
import { defined } from '../defined';
import { messageIdOf } from '../incoming/incoming';
import { htmlOfText, linesBeyond } from '../message/text-forms';
import { asItWas, type OwnState, ownStateOf } from '../outgoing/as-it-came';
import { type AnsweredLock, keptOfLock } from '../handling/preset';
import { type Draft, type DraftFile, type DraftRecipient, emptyDraft } from '../outgoing/draft';
import { type Headers } from '../rules/facts';
import { addressKey, checkAddress, type Correspondent } from '../people/address';
import { isOwnAddress, type WithAddresses } from '../people/own-addresses';

/** Why the door says no to a mail before it is taken; what to do stands in the words. */
export type NotTaken = 'not-a-mail' | 'no-from' | 'not-your-address';

/**
 * Who a mail says it is from. Everything else about it is settled after it was taken: this can't be put right by
 * anybody but its writer.
 */
export function authorOf(
  entity: Pick<Entity, 'fields'>,
  account: WithAddresses,
): { address: string } | { refused: Exclude<NotTaken, 'not-a-mail'> } {
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

/** What rules may ask of beside whom it goes to and what is in it: Importance, Sensitivity, an office's own fields. */
const NOT_ASKED =
  /^(?:from|to|cc|bcc|reply-to|sender|subject|date|message-id|in-reply-to|references|received|return-path|dkim-signature|autocrypt|mime-version|content-.*)$/;
const MOST_FIELDS = 50;
const MOST_OF_ONE = 200;

function headersOf({ fields }: Entity): Headers {
  const kept = fields.filter(({ name }) => !NOT_ASKED.test(name) && name.length <= 60);
  // The first of several counts, as a condition asks of one.
  return Object.fromEntries(
    kept
      .slice(0, MOST_FIELDS)
      .reverse()
      .map(({ name, value }) => [name, decodeWords(value).trim().slice(0, MOST_OF_ONE)]),
  );
}

export const SIGNED_FILE = 'As signed.eml';

/**
 * What its program signed is read out of the signature, and goes along as it was signed, for whoever wants to see
 * whether it is right. @throws MessageReadError
 */
async function messageIn(raw: Bytes, own: OwnState): Promise<MessageContent> {
  if (own.is !== 'signed') return readMessage(raw);
  // Loaded where something is signed: it brings both kinds of signatures.
  const [{ UnwrapError, unwrapMail }, { openOpenPgp }] = await Promise.all([
    import('../locks/unwrap'),
    import('../locks/openpgp/layers'),
  ]);
  // Whose signature it is stays open: whoever gets it sees that for themselves.
  const nobodys = { secret: [], known: async () => [] };
  const message = await unwrapMail(raw, [], (form, entity) => openOpenPgp(form, entity, nobodys)).then(
    (opened) => opened.message,
    (error: unknown) => {
      if (error instanceof UnwrapError) return readMessage(raw);
      throw error;
    },
  );
  const bytes = asItWas(raw, message);
  return { ...message, files: [...message.files, { name: SIGNED_FILE, type: 'message/rfc822', bytes }] };
}

/**
 * Where a mail is formatted, that is what people read: its plain form may say less, or nothing but that one needs another
 * program. So its text is what the formatted one says.
 * @param keep Puts a file where drafts have theirs, and says how it is named there.
 * @returns With what its own program did to it, and what only its plain form says.
 * @throws EntityError, MessageReadError on what is no mail within the limits
 */
export async function draftOfMail(
  raw: Bytes,
  { envelope, account }: { envelope: readonly string[]; account: WithAddresses },
  keep: (file: MessageContent['files'][number]) => Promise<DraftFile>,
): Promise<{ draft: Draft; own: OwnState; onlyPlain: string }> {
  const entity = readEntity(raw);
  const own = await ownStateOf(entity);
  const message = await messageIn(raw, own);
  const files: DraftFile[] = [];
  // One after another: each may be as large as a mail.
  for (const file of message.files) files.push(await keep(file));
  const { from, subject, html, reference, answers } = message;
  const text = html === '' ? message.text : textOfBlocks(blocksOfHtml(html));
  const draft: Draft = {
    ...emptyDraft,
    ...(addressKey(from.address) === addressKey(account.address) ? {} : { from: from.address }),
    recipients: recipientsOf(message, envelope),
    subject,
    reference,
    text,
    html: html === '' ? htmlOfText(text) : html,
    files,
    headers: headersOf(entity),
    ...defined({ mailId: messageIdOf(entity) }),
    ...(answers === undefined || answers.length === 0 ? {} : { answers: [...answers] }),
  };
  return { draft, own, onlyPlain: html === '' ? '' : linesBeyond(message.text, text) };
}

/** What answers something that had a lock keeps one, as a browser's answer does. */
export const asAnswer = (draft: Draft, answered: AnsweredLock | undefined): Draft => ({
  ...draft,
  ...defined({ answered: answered && keptOfLock(answered) }),
});
