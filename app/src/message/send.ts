/** Sending, step by step; each step may be repeated and the whole happens once. What a try made is kept with the draft before anything leaves. */
import { type Account } from '@under-lock/contract/account';
import { dispatchMessage, getSent } from '@under-lock/contract/message';
import { type Office } from '@under-lock/contract/office';
import { isProblem } from '@under-lock/contract/problem';
import { fromBase64Url } from '@under-lock/core/bytes';
import { resolveClosing } from '@under-lock/core/handling/closing';
import { type DeliveryPlan } from '@under-lock/core/plan/plan';
import { api } from '../api';
import { calendarHere } from '../handling/HandlingForm';
import { callback, door } from '../worker/door';
import { type MessageToSeal } from '../worker/message';
import { type Attempt, type Draft, type Summary } from './draft';

export type SendStep = { step: 'sealing' } | { step: 'uploading'; done: number } | { step: 'dispatching' };

/** An earlier version of this draft had gone out although its answer never came back. */
export class EarlierVersionSentError extends Error {
  constructor(readonly messageId: string) {
    super('An earlier version of this draft has been sent');
    this.name = 'EarlierVersionSentError';
  }
}

interface Sending {
  draft: Draft;
  plan: DeliveryPlan;
  office: Office;
  account: Account;
  now: Date;
  keepAttempt(attempt: Attempt): Promise<void>;
  progress(step: SendStep): void;
}

const messageOf = (draft: Draft, plan: DeliveryPlan, account: Account, attempt: { mailId: string; date: string }): MessageToSeal => {
  const people = (role: 'to' | 'cc') => plan.lines.filter(({ recipient }) => recipient.role === role).map(({ recipient: { name, address } }) => ({ name, address }));
  return {
    messageId: attempt.mailId, from: { name: account.name, address: account.address }, to: people('to'), cc: people('cc'), subject: draft.subject.trim(), date: new Date(attempt.date),
    reference: draft.reference.trim(), text: draft.text, html: draft.html, files: draft.files,
  };
};

async function wasSent(messageId: string): Promise<boolean> {
  try {
    await api(getSent, { params: { id: messageId } });
    return true;
  } catch (error) {
    if (isProblem(error, 'not-found')) return false;
    throw error;
  }
}

/** The earlier try when it still says the same, else a new one. A key never seals two contents: the fingerprint sees to it. @throws EarlierVersionSentError */
async function attemptFor(sending: Sending): Promise<Attempt> {
  const { draft, plan, office, account, now } = sending;
  const closing = resolveClosing(draft.closing, now, calendarHere(office));
  if (!closing.ok) throw new Error('The plan let a message through that has no closing date');
  const recipients = plan.lines.map(({ recipient, chosen }) => ({
    address: recipient.address, name: recipient.name, role: recipient.role,
    channel: chosen.check!.kind === 'text' ? { kind: 'text' as const, target: recipient.phone! } : { kind: 'email' as const, target: recipient.secondAddress! },
  }));
  const content = await door().message.fingerprint(messageOf(draft, plan, account, { mailId: '', date: new Date(0).toISOString() }));
  const fingerprint = `${content}|${JSON.stringify([recipients, draft.rights, draft.check, draft.closing])}`;
  const earlier = draft.attempt;
  if (earlier !== undefined) {
    if (earlier.fingerprint === fingerprint && new Date(earlier.closesAt) > now) return earlier;
    if (await wasSent(earlier.messageId)) throw new EarlierVersionSentError(earlier.messageId);
    await door().message.discard(earlier.contentBlobId);
  }
  const messageId = crypto.randomUUID();
  const key = await door().message.makeKey();
  const attempt: Attempt = {
    messageId, key, fingerprint, contentBlobId: crypto.randomUUID(), mailId: `${crypto.randomUUID()}@${office.mailDomain}`, date: now.toISOString(), closesAt: closing.closesAt.toISOString(),
    grants: await door().message.split(messageId, key, recipients),
  };
  await sending.keepAttempt(attempt);
  return attempt;
}

/** Seals, uploads and dispatches. Resolves with the message's id. @throws ApiProblem, EarlierVersionSentError, AbortError */
export async function sendDraft(sending: Sending): Promise<string> {
  const { draft, plan, account, progress } = sending;
  progress({ step: 'sealing' });
  const attempt = await attemptFor(sending);
  const message = messageOf(draft, plan, account, attempt);
  await door().message.sealAndUpload(message, attempt.contentBlobId, attempt.key, callback((done: number) => progress({ step: 'uploading', done })));
  progress({ step: 'dispatching' });
  const summary: Summary = {
    subject: message.subject, mailId: attempt.mailId, key: attempt.key, files: draft.files.map(({ name, size }) => ({ name, size })),
    links: Object.fromEntries(attempt.grants.map((grant) => [grant.id, grant.readerShare])),
  };
  await api(dispatchMessage, {
    params: { id: attempt.messageId },
    body: {
      contentBlobId: attempt.contentBlobId,
      reference: message.reference,
      handling: { closesAt: new Date(attempt.closesAt), check: draft.check, rights: draft.rights },
      summary: await door().vault.seal('sent', attempt.messageId, summary),
      grants: attempt.grants.map((grant) => ({ ...grant, readerShare: fromBase64Url(grant.readerShare), houseShare: fromBase64Url(grant.houseShare), wrappedKey: fromBase64Url(grant.wrappedKey) })),
    },
  });
  return attempt.messageId;
}

/** Ends an upload; what has arrived stays for the next try. */
export const cancelSending = (attempt: Attempt): Promise<void> => door().message.cancel(attempt.contentBlobId);

/** Files that lay with the draft and are not needed once it is sent or dropped. */
export const discardFiles = (draft: Draft): Promise<unknown> => Promise.all(draft.files.map(({ blobId }) => door().message.removeFile(blobId).catch(() => undefined)));
