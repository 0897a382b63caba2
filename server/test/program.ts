/**
 * A program that sends as a worker does, without any page: core's sending over the client's endpoints, its own keys at
 * hand.
 */
import { sealForRelease } from '@under-lock/core/release/paper';
import { listColleagues } from '@under-lock/contract/account';
import { deleteBlob } from '@under-lock/contract/blob';
import { dispatchMessage, getSent } from '@under-lock/contract/outgoing';
import { getOffice } from '@under-lock/contract/office';
import { isProblem } from '@under-lock/contract/problem';
import { type Bytes, utf8 } from '@under-lock/core/bytes';
import { sealCopy } from '@under-lock/core/locks/index';
import { type SealingMeans } from '@under-lock/core/locks/lock';
import { OUR_RULES } from '@under-lock/core/locks/file/rules';
import { roomLock } from '@under-lock/core/locks/room/index';
import { type MessageContent } from '@under-lock/core/message/content';
import { fingerprintOf, type MessageToSeal } from '@under-lock/core/outgoing/content';
import { type Attempt, type Draft } from '@under-lock/core/outgoing/draft';
import { type Known } from '@under-lock/core/outgoing/known';
import { makePlan } from '@under-lock/core/outgoing/plan';
import { type SendPorts } from '@under-lock/core/outgoing/ports';
import { send } from '@under-lock/core/outgoing/send';
import { contentKeyOf, makeKey, splitFor } from '@under-lock/core/outgoing/split';
import { randomUUID } from 'node:crypto';
import { upload, type Worker } from './house';

export interface Program {
  /** By their upload's number, as the draft names them. */
  files: ReadonlyMap<string, Bytes>;
  means: SealingMeans;
}

/** Somebody who has neither certificates nor keys of their own. */
export const NO_MEANS: SealingMeans = {
  certificates: async () => [],
  openPgpKeys: async () => [],
  materials: {
    fonts: () => Promise.reject(new Error('No letter is set here')),
    template: () => Promise.reject(new Error('No page is made here')),
  },
  now: () => new Date(),
};

/** What a worker knows without a vault: the office and its people. */
export async function knownTo({ client, account }: Worker): Promise<Known> {
  const [office, { colleagues }] = await Promise.all([client(getOffice), client(listColleagues)]);
  return {
    office,
    account,
    colleagues,
    people: [],
    knownKeys: {},
    registered: [],
    presets: [],
    certificates: new Map(),
    keys: new Map(),
    signs: { certificate: false, openpgp: false },
    passwords: [],
    fileRules: OUR_RULES,
    now: new Date(),
    zone: 'Europe/Lisbon',
  };
}

function portsOf({ client }: Worker, { files, means }: Program, keep: (attempt: Attempt) => void): SendPorts {
  const whole = (message: MessageToSeal): MessageContent => ({
    ...message,
    files: message.files.map(({ name, type, blobId }) => ({ name, type, bytes: files.get(blobId)! })),
  });
  const nothing = async (): Promise<void> => undefined;
  return {
    newId: randomUUID,
    content: {
      makeKey: async () => makeKey(),
      fingerprint: fingerprintOf,
      split: (of, key, wanted) => splitFor(of, key, wanted, randomUUID),
      put: async (message, blobId, key) =>
        upload(client, blobId, await roomLock.seal(whole(message), contentKeyOf(key))),
      forRelease: sealForRelease,
      cancel: nothing,
      allow: nothing,
    },
    copies: {
      put: async (order, message, blobId) => upload(client, blobId, await sealCopy(order, whole(message), means)),
      cancel: nothing,
    },
    record: {
      keepAttempt: async (attempt) => keep(attempt),
      wasSent: (id) =>
        client(getSent, { params: { id } }).then(
          () => true,
          (error: unknown) => {
            if (isProblem(error, 'not-found')) return false;
            throw error;
          },
        ),
      discard: async (id) => void (await client(deleteBlob, { params: { id } })),
      sealSummary: async (_, summary) => utf8(JSON.stringify(summary)),
      sealWords: async (_, words) => utf8(JSON.stringify(words)),
      dispatch: (id, body) => client(dispatchMessage, { params: { id }, body }),
    },
  };
}

/** Plans and sends. @throws Error naming what the plan misses */
export async function sendByProgram(
  worker: Worker,
  draft: Draft,
  known: Known,
  program: Program,
): Promise<{ messageId: string; attempt: Attempt; locks: Map<string, string> }> {
  const planned = makePlan(draft, known);
  const missing = planned.plan.lines.flatMap(({ recipient, chosen }) =>
    chosen.missing.map(({ code }) => `${recipient.address}: ${code}`),
  );
  if (!planned.plan.ready) throw new Error([...missing, ...planned.plan.missing.map(({ code }) => code)].join(', '));
  let attempt: Attempt | undefined;
  const sending = {
    draft,
    draftId: randomUUID(),
    planned,
    known,
    paper: 'a4' as const,
    progress: () => undefined,
    signal: new AbortController().signal,
  };
  const { messageId } = await send(
    sending,
    portsOf(worker, program, (made) => {
      attempt = made;
    }),
  );
  const locks = new Map(planned.plan.lines.map(({ recipient, chosen }) => [recipient.address, chosen.lock as string]));
  return { messageId, attempt: attempt!, locks };
}
