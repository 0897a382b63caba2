/** Sending from the page: core's order of steps, with the threads and the server as its ports. */
import { type Account } from '@under-lock/contract/account';
import { dispatchMessage, listSent } from '@under-lock/contract/outgoing';
import { listReleases } from '@under-lock/contract/release';
import { type Attempt, type Draft } from '@under-lock/core/outgoing/draft';
import { type CopyPort, type RecordPort, type SendPorts } from '@under-lock/core/outgoing/ports';
import { send, type SendStep } from '@under-lock/core/outgoing/send';
import { api } from '../api';
import { zone } from '../clock';
import { paperHere } from '../paper';
import { rememberPassword } from '../passwords/usePasswords';
import { type PlanContext, type Planned } from '../write/usePlan';
import { callback, door } from '../threads/main/door';
import { keysDoor } from '../threads/keys/door';

export { EarlierVersionSentError } from '@under-lock/core/outgoing/attempt';
export { type SendStep } from '@under-lock/core/outgoing/send';

interface Sending extends Omit<PlanContext, 'knownKeys' | 'presets' | 'signs'> {
  draft: Draft;
  draftId: string;
  planned: Planned;
  account: Account;
  keepAttempt(attempt: Attempt): Promise<void>;
  progress(step: SendStep): void;
  signal: AbortSignal;
}

export const content: SendPorts['content'] = {
  makeKey: () => door().message.makeKey(),
  fingerprint: (message) => door().message.fingerprint(message),
  split: (of, key, wanted) => door().message.split(of, key, wanted),
  put: async (message, blobId, key, told) =>
    void (await door().message.sealAndUpload(message, blobId, key, callback(told))),
  forRelease: (messageId, key, paper, releasers) => door().release.seal(messageId, key, paper, [...releasers]),
  cancel: (blobId) => door().message.cancel(blobId),
  allow: (blobIds) => door().message.allow(blobIds),
};

export const copies: CopyPort = {
  put: (order, message, blobId, told) => keysDoor().copies.put(order, message, blobId, callback(told)),
  cancel: (blobId) => keysDoor().transfers.cancel(blobId),
};

const record = (keepAttempt: Sending['keepAttempt']): RecordPort => ({
  keepAttempt,
  async wasSent(messageId) {
    const [{ messages }, { own }] = await Promise.all([
      api(listSent, { query: { ids: [messageId] } }),
      api(listReleases),
    ]);
    return messages.length > 0 || own.some(({ id, state }) => id === messageId && state === 'waiting');
  },
  discard: (blobId) => door().message.discard(blobId),
  sealSummary: (messageId, summary) => door().vault.sealSent(messageId, summary),
  sealWords: (messageId, words) => door().vault.sealWords(messageId, words),
  dispatch: (id, body) => api(dispatchMessage, { params: { id }, body }),
});

/**
 * Passwords made for this message alone and to be kept go into the book now. A failure loses nothing: the message's
 * page has them.
 */
async function rememberPasswords({ draft, passwords, now }: Sending): Promise<void> {
  for (const { address, password } of draft.recipients) {
    if (password?.remember !== true) continue;
    await rememberPassword(
      passwords,
      {
        address,
        direction: 'out',
        password: password.password,
        guesses: password.guesses,
        ...(password.told ? { toldAt: now.toISOString() } : {}),
      },
      now,
    ).catch(() => undefined);
  }
}

/**
 * Seals, uploads and dispatches. Resolves with the message's id and when it leaves. @throws ApiProblem,
 * EarlierVersionSentError, AbortError
 */
export async function sendDraft(sending: Sending): Promise<{ messageId: string; leavesAt: Date | undefined }> {
  const { draft, draftId, planned, progress, signal, keepAttempt, ...context } = sending;
  const sent = await send(
    { draft, draftId, planned, known: { ...context, zone }, paper: paperHere(), progress, signal },
    { content, copies, record: record(keepAttempt), newId: () => crypto.randomUUID() },
  );
  await rememberPasswords(sending);
  return sent;
}

/** Files that lay with the draft and are not needed once it is sent or dropped. */
export const discardFiles = (draft: Draft): Promise<unknown> =>
  Promise.all(
    draft.files.map(({ blobId }) =>
      door()
        .message.removeFile(blobId)
        .catch(() => undefined),
    ),
  );
