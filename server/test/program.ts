/**
 * A program that sends as a worker does, without any page: core's sending over the client's endpoints, its own keys at
 * hand.
 */
import { listColleagues } from '@under-lock/contract/account';
import { getOffice } from '@under-lock/contract/office';
import { utf8 } from '@under-lock/core/bytes';
import { type SealingMeans } from '@under-lock/core/locks/lock';
import { OUR_RULES } from '@under-lock/core/locks/file/rules';
import { type Attempt, type Draft } from '@under-lock/core/outgoing/draft';
import { type Known } from '@under-lock/core/outgoing/known';
import { makePlan } from '@under-lock/core/outgoing/plan';
import { send } from '@under-lock/core/outgoing/send';
import { randomUUID } from 'node:crypto';
import { type AtHand, portsOver } from '../../door/src/ports';
import { type Worker } from './house';

export type Program = AtHand;

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
    portsOver(worker.client, program, {
      keepAttempt: async (made) => void (attempt = made),
      sealSummary: async (_, summary) => utf8(JSON.stringify(summary)),
      sealWords: async (_, words) => utf8(JSON.stringify(words)),
    }),
  );
  const locks = new Map(planned.plan.lines.map(({ recipient, chosen }) => [recipient.address, chosen.lock as string]));
  return { messageId, attempt: attempt!, locks };
}
