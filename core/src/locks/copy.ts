/**
 * Whether somebody can get a copy that stays with them, by whichever lock, and what such a copy can't do: nobody
 * closes it, withdraws it or limits what is done with it. Under a
 * handling for what is no secret it is signed only, which asks nothing of them.
 */
import { defined } from '../defined';
import { RIGHTS } from '../handling/handling';
import {
  type AssessmentContext,
  type AssessmentOf,
  type ChosenLine,
  type HandlingPart,
  type KnownMeans,
  type PlannedHandling,
  type Recipient,
} from './lock';
import { type WantedCopy } from './wanted';

/** What one lock calls the same troubles. */
interface CopyWords<Name extends string, Missing extends string, Warning extends string, RunsOut extends string> {
  lock: Name;
  missing: Missing;
  unusable: Missing;
  ownMissing: Missing;
  unchecked: Warning;
  runsOut: RunsOut;
}

/** What the handling forbids to every copy. */
export type Barred = { code: 'copies-not-allowed' } | { code: 'staff-only' };
/** Whoever gets it can't tell who wrote it, and can't be sure that it is unchanged. */
type Unsigned = { code: 'goes-unsigned' };
export type CopyReason =
  { code: 'opens-in-their-program' } | { code: 'stays-with-them' } | { code: 'signed-and-readable' };

type AssessmentBy<
  Name extends string,
  Missing extends string,
  Warning extends string,
  RunsOut extends string,
> = AssessmentOf<
  Name,
  { code: Missing } | Barred | TooLarge,
  { code: Warning } | { code: RunsOut; at: Date } | Unsigned,
  CopyReason
>;

/** What the handling asks that a copy can't keep, where it doesn't allow copies. */
export const broken = ({ rights, copies }: PlannedHandling): HandlingPart[] =>
  copies ? [] : ['closing', 'check', ...RIGHTS.filter((right) => !rights[right])];

export type TooLarge = { code: 'file-too-large'; limit: number };
/** Whatever travels as mail has to pass their gateway. */
export const tooLarge = ({ largest }: Recipient, { size }: Pick<AssessmentContext, 'size'>): TooLarge[] =>
  largest !== undefined && size > largest ? [{ code: 'file-too-large', limit: largest }] : [];

export const forStaff = ({ audience }: PlannedHandling): Barred[] =>
  audience === 'staff' || audience === 'nobody' ? [{ code: 'staff-only' }] : [];

/** What the sender has to sign with, and how much there is to send. */
type Sending = { signs: boolean } & Pick<AssessmentContext, 'size'>;

function assessSigned<Name extends string, M extends string, W extends string, O extends string>(
  recipient: Recipient,
  handling: PlannedHandling,
  { signs, size }: Sending,
  words: CopyWords<Name, M, W, O>,
): AssessmentBy<Name, M, W, O> {
  const missing = [
    ...(signs ? [] : [{ code: words.ownMissing }]),
    ...forStaff(handling),
    ...tooLarge(recipient, { size }),
  ];
  // The handling says that nothing is to be kept from anybody: it is never swapped for another because the worker can't
  // sign yet.
  return {
    lock: words.lock,
    clear: true,
    available: recipient.colleague === undefined,
    missing,
    warnings: [],
    cannotHonour: [],
    reasons: [{ code: 'signed-and-readable' }],
  };
}

export function assessCopy<Name extends string, M extends string, W extends string, O extends string>(
  recipient: Recipient,
  handling: PlannedHandling,
  { known, signs, size }: { known: KnownMeans | undefined } & Sending,
  words: CopyWords<Name, M, W, O>,
): AssessmentBy<Name, M, W, O> {
  if (handling.clear) return assessSigned(recipient, handling, { signs, size }, words);
  const missing: AssessmentBy<Name, M, W, O>['missing'] = [];
  const warnings: AssessmentBy<Name, M, W, O>['warnings'] = [];
  if (known === undefined) missing.push({ code: words.missing });
  else if (known.level === 'stop') missing.push({ code: words.unusable });
  if (!handling.copies) missing.push({ code: 'copies-not-allowed' });
  missing.push(...forStaff(handling), ...tooLarge(recipient, { size }));
  if (known?.level === 'unchecked') warnings.push({ code: words.unchecked });
  if (known !== undefined && known.level !== 'stop' && known.runsOut !== undefined)
    warnings.push({ code: words.runsOut, at: known.runsOut });
  if (known !== undefined && known.level !== 'stop' && !signs) warnings.push({ code: 'goes-unsigned' });
  return {
    lock: words.lock,
    // Colleagues read here, signed in; nobody else can be taken for them.
    available: missing.length === 0 && recipient.colleague === undefined,
    missing,
    warnings,
    cannotHonour: broken(handling),
    reasons: [{ code: 'opens-in-their-program' }, { code: 'stays-with-them' }],
  };
}

/**
 * One mail for all who get it the same way; one of their own for each who is unseen by the others, since what is
 * encrypted names everybody it is for. `howOf`: how it is made for one of them; undefined where there is one way only.
 */
export function copiesOf<Name extends string>(
  lock: Name,
  lines: readonly ChosenLine[],
  howOf: (line: ChosenLine) => unknown = () => undefined,
): WantedCopy<Name>[] {
  const copies: WantedCopy<Name>[] = [];
  const shared = new Map<string, WantedCopy<Name>>();
  for (const line of lines) {
    const { address, name, role } = line.recipient;
    const how = howOf(line);
    const clear = line.chosen.clear === true;
    const alone = role === 'bcc' && !clear;
    const way = JSON.stringify([clear, how]);
    const known = alone ? undefined : shared.get(way);
    const copy = known ?? { lock, clear, ...defined({ how }), recipients: [] };
    copy.recipients.push({ address, name, role });
    if (known === undefined) copies.push(copy);
    if (!alone) shared.set(way, copy);
  }
  return copies;
}
