/**
 * Sending, step by step; each step may be repeated and the whole happens once. What a try made is kept with the draft
 * before anything leaves. Where keys and contents are, and how what is sealed gets to the server, comes in as ports.
 */
import { copyLock, type CopyOrder } from '../locks/index';
import { outerSubject } from '../notice/notice';
import { oneAt } from '../people/find';
import { attemptFor } from './attempt';
import { messageOf, type MessageToSeal } from './content';
import { dispatchBody, type OutgoingCopy } from './dispatch';
import { withoutTags } from '../rules/tags';
import { wordsOf } from '../search/words';
import { type Attempt, type Draft, type KeptCopy, type Summary } from './draft';
import { type KnownToSend } from './known';
import { type Planned } from './plan';
import { amongOf } from './wanted';
import { type CopyPort, type SendPorts, type Told } from './ports';
import { paperOf } from './release';
import { type SealedForRelease } from '../release/paper';

export type SendStep = { step: 'sealing' } | { step: 'uploading'; done: number } | { step: 'dispatching' };

export interface Sending {
  draft: Draft;
  draftId: string;
  /** The number of the message, where it has one before it is made. */
  messageId?: string;
  planned: Planned;
  known: KnownToSend;
  /** What the sender's part of the world prints on. */
  paper: 'a4' | 'letter';
  progress(step: SendStep): void;
  /** Aborted, nothing more is begun, every transfer ends, and nothing is handed over. */
  signal: AbortSignal;
}

/** Runs a transfer that ends with the sending: it is called off where it runs. */
async function transferring(
  signal: AbortSignal,
  blobId: string,
  cancel: (blobId: string) => Promise<void>,
  act: () => Promise<void>,
): Promise<void> {
  signal.throwIfAborted();
  const stop = (): void => void cancel(blobId).catch(() => undefined);
  signal.addEventListener('abort', stop);
  try {
    await act();
    signal.throwIfAborted();
  } finally {
    signal.removeEventListener('abort', stop);
  }
}

/** One copy with what its lock asks for. */
function orderOf({ known, planned: { plan, applied }, paper }: Sending, copy: KeptCopy): CopyOrder {
  const { name, look } = known.office;
  const theirs = oneAt(
    plan.lines.map(({ recipient }) => recipient),
    copy.recipients[0]!.address,
  );
  const language = theirs?.language ?? 'en';
  const neutralSubject = outerSubject(language, name, look);
  return copyLock(copy.lock).order(copy, { known, language, neutralSubject, rights: applied.terms.rights, paper });
}

/** @throws Error where nothing was handed in */
function asItCame(port: CopyPort, ...given: Parameters<Required<CopyPort>['putAsItCame']>): Promise<void> {
  if (port.putAsItCame === undefined) throw new Error('Nothing was handed in here that could leave as it came');
  return port.putAsItCame(...given);
}

/** Sealed anew at each try: what an earlier one put under another number is cleared away with the unsent. */
async function sealCopies(
  sending: Sending,
  copies: readonly KeptCopy[],
  message: MessageToSeal,
  { copies: port, newId }: SendPorts,
  toldOf: (part: number) => Told,
): Promise<OutgoingCopy[]> {
  const { signal } = sending;
  const sealed = copies.map(async (copy, index): Promise<OutgoingCopy> => {
    const blobId = newId();
    await transferring(
      signal,
      blobId,
      (id) => port.cancel(id),
      () =>
        sending.known.asItCame === undefined
          ? port.put(orderOf(sending, copy), message, blobId, toldOf(index + 1))
          : asItCame(port, message, blobId, toldOf(index + 1)),
    );
    return { id: copy.id, lock: copy.lock, blobId, recipients: copy.recipients };
  });
  // All of them end before anything is said: what one of them still puts must not outlive a stop.
  await Promise.allSettled(sealed);
  signal.throwIfAborted();
  return Promise.all(sealed);
}

/** The share that has arrived of several transfers, each told by its place. */
function together(parts: number, progress: Sending['progress']): (part: number) => Told {
  const shares = Array.from({ length: parts }, () => 0);
  return (part) => (done) => {
    shares[part] = done;
    progress({ step: 'uploading', done: shares.reduce((sum, one) => sum + one, 0) / parts });
  };
}

/** What opens the copies, for the message's own page; nothing of what was not to be kept. */
function passwordsKept({ draft, planned, known }: Sending, { copies }: Attempt): Pick<Summary, 'passwords'> {
  const among = amongOf(draft, planned, known);
  const kept = copies.flatMap((copy) => {
    const remembered = copyLock(copy.lock).remember?.(copy, among);
    return remembered === undefined ? [] : [[copy.recipients[0]!.id, remembered] as const];
  });
  return kept.length === 0 ? {} : { passwords: Object.fromEntries(kept) };
}

/** One-time passwords that are still to be told. */
function toldIn(grants: Attempt['grants']): Pick<Summary, 'told'> {
  const told = grants.flatMap(({ id, reader }) =>
    reader.kind === 'link' && reader.told !== undefined ? [[id, reader.told.password] as const] : [],
  );
  return told.length === 0 ? {} : { told: Object.fromEntries(told) };
}

const summaryOf = (sending: Sending, attempt: Attempt, { subject }: MessageToSeal): Summary => ({
  subject,
  mailId: attempt.mailId,
  key: attempt.key,
  files: sending.draft.files.map(({ name, size }) => ({ name, size })),
  links: Object.fromEntries(attempt.grants.map((grant) => [grant.id, grant.readerShare])),
  ...toldIn(attempt.grants),
  draftId: sending.draftId,
  ...passwordsKept(sending, attempt),
});

/** Where a rule wants somebody else to let it go. */
const sealedForRelease = async (
  { draft, planned, known }: Sending,
  { messageId, key, closesAt }: Attempt,
  content: SendPorts['content'],
): Promise<SealedForRelease | undefined> =>
  planned.releasers === undefined || known.rules === undefined
    ? undefined
    : content.forRelease(messageId, key, paperOf(draft, planned, known.rules, new Date(closesAt)), planned.releasers);

export interface WhatWent {
  messageId: string;
  /** Without it, it waits for somebody else to let it go. */
  leavesAt: Date | undefined;
  /** As it was sealed for the sender's record. */
  summary: Summary;
  copies: readonly OutgoingCopy[];
}

/**
 * Seals, puts and dispatches. @throws EarlierVersionSentError,
 * AbortError, and what the ports throw
 */
export async function send(sending: Sending, ports: SendPorts): Promise<WhatWent> {
  const { planned, known, progress, signal } = sending;
  // What is for the office alone stays with it.
  const draft = withoutTags(known.rules?.policy.tags ?? [], sending.draft);
  const { content, record } = ports;
  progress({ step: 'sealing' });
  const attempt = await attemptFor(draft, planned, known, ports, sending.messageId);
  const message = messageOf(draft, planned.plan, known.account, attempt);
  const toldOf = together(1 + attempt.copies.length, progress);
  await content.allow([attempt.contentBlobId]);
  await transferring(
    signal,
    attempt.contentBlobId,
    (id) => content.cancel(id),
    () => content.put(message, attempt.contentBlobId, attempt.key, toldOf(0)),
  );
  const copies = await sealCopies(sending, attempt.copies, message, ports, toldOf);
  signal.throwIfAborted();
  progress({ step: 'dispatching' });
  const summary = summaryOf(sending, attempt, message);
  const sealedSummary = await record.sealSummary(attempt.messageId, summary);
  const words = await record.sealWords(attempt.messageId, wordsOf(message));
  const forRelease = await sealedForRelease(sending, attempt, content);
  const body = dispatchBody({
    draft: sending.draft,
    planned,
    attempt,
    message,
    copies,
    summary: sealedSummary,
    words,
    known,
    forRelease,
  });
  const { sentAt } = await record.dispatch(attempt.messageId, body);
  return { messageId: attempt.messageId, leavesAt: sentAt, summary, copies };
}
