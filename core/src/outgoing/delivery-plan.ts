/**
 * The plan: for each recipient the best lock that honours the handling, and what is missing before the message can go.
 * It only compares what the locks say.
 */
import { defined } from '../defined';
import { type ClosingResult, type ClosingProblem } from '../handling/closing';
import { type Assessment } from '../locks/index';
import { type AssessmentContext, type PlannedHandling, type Recipient } from '../locks/lock';

/** What became of their own choice: followed, not safe enough for this, not allowed by it, or the worker's is another. */
export type WishStands = 'followed' | 'too-weak' | 'barred' | 'otherwise';

export interface PlanLine {
  recipient: Recipient;
  chosen: Assessment;
  alternatives: Assessment[];
  wish?: WishStands;
}

/** What is missing for the message as a whole. */
export type MessageMissing =
  | { code: 'no-recipients' }
  | { code: 'too-many-recipients'; limit: number }
  | { code: 'no-subject' }
  | { code: 'nothing-written' }
  | { code: 'too-large'; size: number; limit: number }
  | { code: 'closing'; problem: ClosingProblem; limit?: Date }
  | { code: 'leaving-passed' }
  /** Rules ask about what is in it, and it has not been looked through yet. */
  | { code: 'looking' }
  | { code: 'reference-wanted' }
  | { code: 'reason-wanted' }
  /** It is to leave open, and this rule asks for more. */
  | { code: 'open-forbidden'; rule: string }
  /** Somebody else has to let it go, and nobody may. */
  | { code: 'nobody-releases' }
  /** By a rule of the office, in its words. */
  | { code: 'stopped'; rule: string; sentence: string }
  | { code: 'unconfirmed'; rule: string; sentence: string };

export interface DeliveryPlan {
  lines: PlanLine[];
  missing: MessageMissing[];
  /** Nothing is missing anywhere. */
  ready: boolean;
}

export interface PlanInput {
  recipients: readonly Recipient[];
  handling: PlannedHandling & { closing: ClosingResult };
  subject: string;
  text: string;
  /** Bytes of each file. */
  fileSizes: readonly number[];
  limits: { maxBytes: number; maxRecipients: number };
  /** A chosen time to leave that is none, or has passed. */
  leavingPassed?: boolean;
  /** As its mail program made it: whether it has a subject or a text is its writer's business. */
  isMadeElsewhere?: boolean;
  context: AssessmentContext;
  ruled?: Ruled | undefined;
}

/** What the office's rules ask besides the handling. */
export interface Ruled {
  /** Those that may be used. */
  locks: readonly string[];
  isLookedThrough: boolean;
  stops: readonly RuleSaying[];
  /** What is still to be confirmed. */
  asks: readonly RuleSaying[];
  /** What is still wanted. */
  needs: readonly ('reference' | 'reason')[];
  /** Somebody has to let it go, and nobody is there who may. */
  lacksReleaser: boolean;
  /** Names of rules that ask for more, where it is to leave open. */
  openAgainst: readonly string[];
}
interface RuleSaying {
  rule: string;
  sentence: string;
}

const missingByRules = ({
  isLookedThrough,
  stops,
  asks,
  needs,
  lacksReleaser,
  openAgainst,
}: Ruled): MessageMissing[] => [
  ...(isLookedThrough ? [] : [{ code: 'looking' as const }]),
  ...stops.map((saying) => ({ code: 'stopped' as const, ...saying })),
  ...asks.map((saying) => ({ code: 'unconfirmed' as const, ...saying })),
  ...needs.map((what) => ({ code: what === 'reference' ? ('reference-wanted' as const) : ('reason-wanted' as const) })),
  ...openAgainst.map((rule) => ({ code: 'open-forbidden' as const, rule })),
  ...(lacksReleaser ? [{ code: 'nobody-releases' as const }] : []),
];

/** A lock that a rule does not allow can be looked at and not be taken. */
const underRules = (assessment: Assessment, ruled: Ruled | undefined): Assessment =>
  ruled === undefined || ruled.locks.includes(assessment.lock)
    ? assessment
    : { ...assessment, available: false, missing: [{ code: 'lock-not-allowed' }, ...assessment.missing] };

/**
 * What can be chosen at all, then the worker's choice, then what leaves open where it is to, then what is agreed
 * already, then fewer broken promises, then less to ask for; the list's order decides what is left.
 */
const better =
  (wanted: string | undefined) =>
  (a: Assessment, b: Assessment): number =>
    Number(b.available) - Number(a.available) ||
    Number(b.lock === wanted) - Number(a.lock === wanted) ||
    Number(b.clear === true) - Number(a.clear === true) ||
    Number(a.onRequest === true) - Number(b.onRequest === true) ||
    a.cannotHonour.length - b.cannotHonour.length ||
    a.missing.length - b.missing.length;

function missingInMessage({
  recipients,
  handling,
  subject,
  text,
  fileSizes,
  limits,
  leavingPassed = false,
  isMadeElsewhere = false,
  ruled,
}: PlanInput): MessageMissing[] {
  const missing: MessageMissing[] = [];
  if (recipients.length === 0) missing.push({ code: 'no-recipients' });
  if (recipients.length > limits.maxRecipients)
    missing.push({ code: 'too-many-recipients', limit: limits.maxRecipients });
  if (subject.trim() === '' && !isMadeElsewhere) missing.push({ code: 'no-subject' });
  if (text.trim() === '' && fileSizes.length === 0 && !isMadeElsewhere) missing.push({ code: 'nothing-written' });
  const size = fileSizes.reduce((sum, bytes) => sum + bytes, 0);
  if (size > limits.maxBytes) missing.push({ code: 'too-large', size, limit: limits.maxBytes });
  if (leavingPassed) missing.push({ code: 'leaving-passed' });
  if (!handling.closing.ok) {
    const { problem, limit } = handling.closing;
    missing.push({ code: 'closing', problem, ...defined({ limit }) });
  }
  return ruled === undefined ? missing : [...missing, ...missingByRules(ruled)];
}

function wishStands({ chose }: Recipient, chosen: Assessment, others: readonly Assessment[]): WishStands | undefined {
  if (chose === undefined) return undefined;
  if (chose.tooWeak) return chosen.lock === chose.lock ? undefined : 'too-weak';
  if (chosen.lock === chose.lock) return 'followed';
  return others.some(({ lock, available }) => lock === chose.lock && available) ? 'otherwise' : 'barred';
}

/** What a plan asks of a lock. */
export interface Assessor {
  assess(recipient: Recipient, handling: PlannedHandling, context: AssessmentContext): Assessment;
}

/** Plans the delivery. Pure: the same input gives the same plan. */
export function planDelivery(input: PlanInput, locks: readonly Assessor[]): DeliveryPlan {
  const lines = input.recipients.map((recipient): PlanLine => {
    const [chosen, ...alternatives] = locks
      .map((lock) => underRules(lock.assess(recipient, input.handling, input.context), input.ruled))
      .sort(better(recipient.lock));
    return {
      recipient,
      chosen: chosen!,
      alternatives,
      ...defined({ wish: wishStands(recipient, chosen!, alternatives) }),
    };
  });
  const missing = missingInMessage(input);
  return { lines, missing, ready: missing.length === 0 && lines.every(({ chosen }) => chosen.missing.length === 0) };
}
