/**
 * What becomes of a mail that was taken: it leaves as planned in its writer's name, or it waits among their drafts with
 * what is missing. Each step may be repeated: the mail's number is that of the message.
 */
import { ApiProblem } from '@under-lock/contract/problem';
import { type Bytes } from '@under-lock/core/bytes';
import { defined } from '@under-lock/core/defined';
import { MessageReadError } from '@under-lock/core/message/read';
import { type SealingMeans } from '@under-lock/core/locks/lock';
import { type LockBefore } from '@under-lock/core/outgoing/as-it-came';
import { type Draft } from '@under-lock/core/outgoing/draft';
import { type Known } from '@under-lock/core/outgoing/known';
import { unsettled } from '@under-lock/core/outgoing/missing-words';
import { makePlan, type Planned } from '@under-lock/core/outgoing/plan';
import { send, type WhatWent } from '@under-lock/core/outgoing/send';
import { makeKey } from '@under-lock/core/outgoing/split';
import { asAnswer, draftOfMail } from '@under-lock/core/submission/draft';
import { sealForOwner } from '@under-lock/core/submission/owner';
import { readHead } from '@under-lock/core/incoming/incoming';
import { randomUUID } from 'node:crypto';
import { type Context, isForNow, type Owner } from './house';
import { askHouse, type House, type Way, withRules } from './known';
import { filesOnly } from './files-only';
import { lookThrough } from './look';
import { portsOver } from './ports';
import { report } from './telling';
import { letItWait } from './waiting';

export interface HandedIn {
  id: string;
  raw: Bytes;
  /** To whom the mail program said that it goes. */
  to: readonly string[];
}

/**
 * `left` to its writer, whose device has ended; `later`, when the server can be asked. `because`: what went wrong, for the
 * log.
 */
export interface Dealt {
  became: 'sent' | 'waits' | 'left' | 'later';
  because?: string;
}

/** What keeps it from leaving by itself. */
function missingIn(planned: Planned, known: Known): string[] {
  const missing = unsettled(planned.plan, known.now, known.zone);
  if (missing.length > 0 || planned.releasers === undefined) return missing;
  return ['somebody else has to let it go, as the office’s rules ask: look at it once and send it for release'];
}

/** Everything the plan needs, and the plan. */
async function planned(
  context: Context,
  owner: Owner,
  { raw, to }: HandedIn,
): Promise<Way & { files: Map<string, Bytes>; means: House['means'] }> {
  const now = context.now();
  const files = new Map<string, Bytes>();
  const {
    draft: made,
    own,
    onlyPlain,
  } = await draftOfMail(raw, { envelope: to, account: owner.account }, async ({ name, type, bytes }) => {
    const blobId = randomUUID();
    files.set(blobId, bytes);
    return { blobId, name, type, size: bytes.length, key: makeKey() };
  });
  const house = await askHouse(context, owner, made, now);
  const draft = asAnswer(made, house.answered);
  const looked = await lookThrough(draft, { files, isLocked: own.is === 'locked', onlyPlain }, house.rules.policy, now);
  const known = withRules(house, looked);
  return {
    files,
    means: house.means,
    ...(own.is === 'locked' ? asLocked(draft, known, own.by) : asRulesAllow(draft, known)),
  };
}

/** Its program has locked it already: nothing is added and nothing taken away. */
function asLocked(draft: Draft, before: Known, asItCame: LockBefore): Way {
  const known: Known = { ...before, asItCame };
  return { draft, known, plan: makePlan(draft, known) };
}

/**
 * Under lock, unless the office has said that what asks for none leaves as it was written. What answers something locked
 * keeps its lock: nobody has let it go on purpose.
 */
function asRulesAllow(draft: Draft, known: Known): Way {
  const plan = makePlan(draft, known);
  const { programsOpenBy = [], programsLockFiles } = plan.verdict ?? {};
  if (programsLockFiles !== undefined && draft.answered?.textOpen !== false)
    return filesOnly(draft, known, programsLockFiles);
  const [rule] = programsOpenBy;
  if (rule === undefined || draft.answered !== undefined) return { draft, known, plan };
  const open: Draft = {
    ...draft,
    openReason: `Handed in by a mail program; the rule “${rule}” lets it leave open`,
    recipients: draft.recipients.map((one) => ({ ...one, lock: 'open' as const })),
  };
  const asItCame: Known = { ...known, asItCame: 'open' };
  return { draft: open, known: asItCame, plan: makePlan(open, asItCame) };
}

/** Seals and hands it over. @throws ApiProblem */
const leave = (
  means: SealingMeans,
  owner: Owner,
  { id, raw }: HandedIn,
  { draft, known, plan, files }: Way & { files: ReadonlyMap<string, Bytes> },
): Promise<WhatWent> =>
  send(
    {
      draft,
      draftId: id,
      messageId: id,
      planned: plan,
      known,
      paper: 'a4',
      progress: () => undefined,
      signal: new AbortController().signal,
    },
    portsOver(
      owner.client,
      { files, raw, means },
      {
        // What it made is found again by the mail's number.
        keepAttempt: async () => undefined,
        sealSummary: (messageId, summary) => sealForOwner(owner.key, 'sent', messageId, summary),
        sealWords: (messageId, words) => sealForOwner(owner.key, 'words', messageId, words),
      },
    ),
  );

const saidBy = (error: unknown): string => (error instanceof Error ? error.message : String(error));

/** What the server refuses for good is its writer's to settle; anything else is tried again. */
function refusalIn(error: unknown): string | undefined {
  if (!(error instanceof ApiProblem) || isForNow(error) || error.code === 'not-signed-in') return undefined;
  return error.details.detail ?? error.details.title;
}

/**
 * Settles a mail that lies at the server. Resolves with what became of it. @throws ApiProblem where the server can't be
 * asked now
 */
export async function deal(context: Context, owner: Owner, mail: HandedIn): Promise<Dealt> {
  const { id } = mail;
  const wait = (sentences: readonly string[]): Promise<void> =>
    letItWait(owner, { id, subject: readHead(mail.raw, '').subject }, sentences);
  try {
    const { means, ...way } = await planned(context, owner, mail);
    const { known, plan } = way;
    const missing = missingIn(plan, known);
    if (missing.length > 0) {
      await wait(missing);
      return { became: 'waits' };
    }
    const went = await leave({ ...context.means, ...means }, owner, mail, way);
    // It has left, and stands so among what was sent, whatever comes of this.
    const because = await report(owner, went, known).then(() => undefined, saidBy);
    return { became: 'sent', ...defined({ because }) };
  } catch (error) {
    if (error instanceof MessageReadError) {
      await wait(['it could not be read as a mail; open it and write it anew']);
      return { became: 'waits' };
    }
    const refused = refusalIn(error);
    if (refused === undefined) throw error;
    await wait([refused]);
    return { became: 'waits', because: saidBy(error) };
  }
}
