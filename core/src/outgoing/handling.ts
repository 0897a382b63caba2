/** The handling a draft goes under: the preset's, what the worker chose, what it answers, and what rules demand. */
import { momentAhead, resolveClosing } from '../handling/closing';
import { type Closing, type OfficeCalendar } from '../handling/closing-choice';
import { type HandlingTerms, type IdentityCheck, LOOSEST_TERMS, mergeTerms } from '../handling/handling';
import { type Demand, floorOf, NOTHING } from '../rules/demand';
import {
  type Applied,
  applyAnswered,
  applyPreset,
  presetFloor,
  strictestClosing,
  termsOfPreset,
  tighten,
  type Tightened,
  type WantedTerms,
} from '../handling/preset';
import { type Draft, plainTerms } from './draft';
import { type Known, type OutgoingPreset } from './known';

export interface DraftHandling<Preset extends OutgoingPreset> {
  preset: Preset | undefined;
  /** What the worker wants; the preset's own terms until they choose. */
  wanted: WantedTerms;
  applied: Applied;
  /** What the message it answers made stricter. */
  kept: Tightened[];
  /** What rules made stricter besides. */
  demanded: Tightened[];
  /** The weakest check that may be chosen for anybody. */
  leastCheck: IdentityCheck;
  /** When it is to leave, when that is not at once. */
  leavesAt: Date | undefined;
  /** It leaves open because a rule permits it, and its writer wants it. */
  openByRule: boolean;
  /** What its closing date comes from; undefined where that is a date. */
  closingChoice: Closing | undefined;
}

/**
 * The preset a draft goes under: the chosen one, else the office's default, else its first. One that leaves open is
 * never gone under without a reason.
 */
export function presetOf<Preset extends OutgoingPreset>(draft: Draft, presets: readonly Preset[]): Preset | undefined {
  const reasoned = isReasoned(draft);
  const offered = presets.filter(
    ({ active, others, terms }) => active && others !== true && (reasoned || !terms.clear),
  );
  const locked = offered.filter(({ terms }) => !terms.clear);
  return offered.find(({ id }) => id === draft.presetId) ?? locked.find(({ isDefault }) => isDefault) ?? locked[0];
}

/** What rules ask of the handling itself: their floor, and presets that it has to keep to. */
const askedBy = (demand: Demand, demanded: readonly OutgoingPreset[], { files }: Draft): HandlingTerms =>
  [floorOf(demand, files.length > 0), ...demanded.map(({ terms }) => presetFloor(terms))].reduce(
    mergeTerms,
    LOOSEST_TERMS,
  );

/** Which of these choices gives this date. */
const choiceOf = (
  choices: readonly Closing[],
  closing: Applied['closing'],
  from: Date,
  calendar: OfficeCalendar,
): Closing | undefined =>
  choices.find((one) => {
    const meant = resolveClosing(one, from, calendar);
    return meant.ok && closing.ok && meant.closesAt.getTime() === closing.closesAt.getTime();
  });

export const isReasoned = ({ openReason = '' }: Pick<Draft, 'openReason'>): boolean => openReason.trim() !== '';

/** What rules permit: that it leaves open, or that its text stays readable beside its locked files. */
export type Permitted = 'open' | 'text';

/** What answers something that had a lock keeps a lock. */
function permittedTerms(
  terms: HandlingTerms,
  { answered }: Pick<Draft, 'answered'>,
  permitted: Permitted | undefined,
): HandlingTerms {
  if (permitted === 'open' && answered?.clear !== false) return { ...terms, clear: true, copies: true };
  if (permitted === 'text' && answered?.textOpen !== false) return { ...terms, textOpen: true, copies: true };
  return terms;
}

/**
 * @param demand What the office's rules ask of it.
 * @param permitted What they let be besides.
 */
export function handlingOf<Preset extends OutgoingPreset>(
  draft: Draft,
  { office, presets, now, zone }: Pick<Known<Preset>, 'office' | 'presets' | 'now' | 'zone'>,
  demand: Demand = NOTHING,
  permitted?: Permitted,
): DraftHandling<Preset> {
  const preset = presetOf(draft, presets);
  const wanted = draft.terms ?? (preset === undefined ? plainTerms : termsOfPreset(preset.terms));
  const leavesAt = draft.sendAt === undefined ? undefined : momentAhead(draft.sendAt, now, zone);
  // The closing date counts from when it leaves.
  const [from, calendar] = [leavesAt ?? now, { ...office.calendar, zone }];
  const answered = applyAnswered(
    applyPreset(wanted, preset?.terms, from, calendar),
    draft.answered,
    draft.passedOnUntil === undefined ? undefined : new Date(draft.passedOnUntil),
  );
  const demandedPresets = presets.filter(({ id }) => demand.presets.includes(id));
  const asked = askedBy(demand, demandedPresets, draft);
  const { applied: tightened, by } = tighten(answered.applied, asked);
  const { closing, isEarlier } = demandedPresets.reduce(
    (sofar, { terms }) => {
      const { closing: least, tightened: isTightened } = strictestClosing(sofar.closing, terms, from, calendar);
      return { closing: least, isEarlier: sofar.isEarlier || isTightened };
    },
    { closing: tightened.closing, isEarlier: false },
  );
  const mayBe = permitted === 'open' && (!isReasoned(draft) || preset?.terms.clear === true) ? undefined : permitted;
  const terms = permittedTerms(tightened.terms, draft, mayBe);
  const openByRule = mayBe === 'open' && terms.clear;
  const applied = { ...tightened, terms, closing };
  const demanded: Tightened[] = [...(isEarlier ? (['closing'] as const) : []), ...by];
  const floors = [preset === undefined ? LOOSEST_TERMS : presetFloor(preset.terms), draft.answered, asked];
  const { check: leastCheck } = floors.reduce(
    (least: HandlingTerms, terms = LOOSEST_TERMS) => mergeTerms(least, terms),
    LOOSEST_TERMS,
  );
  const choices = [wanted.closing, ...[preset, ...demandedPresets].flatMap((one) => one?.terms.closing ?? [])];
  const closingChoice = choiceOf(choices, closing, from, calendar);
  return { preset, wanted, applied, kept: answered.kept, demanded, leastCheck, leavesAt, openByRule, closingChoice };
}
