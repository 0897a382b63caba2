/** A try at sending: its numbers, key and shares, made once and kept, so that trying again sends the same. */
import { oneLine } from '../one-line';
import { sha256, toBase64Url, utf8 } from '../bytes';
import { messageOf } from './content';
import { type Attempt, type Draft } from './draft';
import { type KnownToSend } from './known';
import { type Planned } from './plan';
import { type SendPorts } from './ports';
import { amongOf, wantedCopies, wantedGrants } from './wanted';

/** An earlier version of this draft had gone out although its answer never came back. */
export class EarlierVersionSentError extends Error {
  constructor(readonly messageId: string) {
    super('An earlier version of this draft has been sent');
    this.name = 'EarlierVersionSentError';
  }
}

type Wanted = { grants: ReturnType<typeof wantedGrants>; copies: ReturnType<typeof wantedCopies> };

/** 32 octets as base64url, the same as long as what would go out is the same. */
async function fingerprintOfTry(
  draft: Draft,
  { plan, preset, applied: { terms } }: Planned,
  { account }: KnownToSend,
  { grants, copies }: Wanted,
  content: SendPorts['content'],
): Promise<string> {
  const said = await content.fingerprint(
    messageOf(draft, plan, account, { mailId: '', date: new Date(0).toISOString() }),
  );
  const asked = [
    grants,
    ...(copies.length === 0 ? [] : [copies]),
    preset?.id,
    terms,
    ...(terms.clear ? [draft.openReason] : []),
    draft.terms?.closing,
    draft.sendAt,
    draft.from,
  ];
  return toBase64Url(await sha256(utf8(`${said}|${JSON.stringify(asked)}`)));
}

/**
 * The earlier try when it still says the same, else a new one. A key never seals two contents: the fingerprint sees to
 * it. `numbered`: a new one's number. @throws EarlierVersionSentError
 */
export async function attemptFor(
  draft: Draft,
  planned: Planned,
  known: KnownToSend,
  { content, record, newId }: SendPorts,
  numbered?: string,
): Promise<Attempt> {
  const { closing } = planned.applied;
  if (!closing.ok) throw new Error('The plan let a message through that has no closing date');
  const among = amongOf(draft, planned, known);
  const wanted = { grants: wantedGrants(planned, among), copies: wantedCopies(planned, among) };
  const fingerprint = await fingerprintOfTry(draft, planned, known, wanted, content);
  const earlier = draft.attempt;
  if (earlier !== undefined) {
    if (earlier.fingerprint === fingerprint && new Date(earlier.closesAt) > known.now) return earlier;
    if (await record.wasSent(earlier.messageId)) throw new EarlierVersionSentError(earlier.messageId);
    await record.discard(earlier.contentBlobId);
  }
  const messageId = numbered ?? newId();
  const key = await content.makeKey();
  const attempt: Attempt = {
    messageId,
    key,
    fingerprint,
    contentBlobId: newId(),
    mailId: `${newId()}@${known.office.mailDomain}`,
    date: known.now.toISOString(),
    closesAt: closing.closesAt.toISOString(),
    grants: await content.split({ messageId, subject: oneLine(draft.subject) }, key, wanted.grants),
    copies: wanted.copies.map((copy) => ({
      id: newId(),
      ...copy,
      recipients: copy.recipients.map((one) => ({ id: newId(), ...one })),
    })),
  };
  await record.keepAttempt(attempt);
  return attempt;
}
