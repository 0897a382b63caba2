/** Handling presets: a handling made by the office, with what a worker may still loosen. Tighter is always allowed. */
import { z } from 'zod';
import { type ClosingResult, lastInstant, resolveClosing } from './closing';
import { closingSchema, officeClosingSchema, type OfficeCalendar } from './closing-choice';
import {
  AUDIENCES,
  forAnybody,
  type Handling,
  type HandlingTerms,
  IDENTITY_CHECKS,
  isAsStrict,
  LOOSEST_TERMS,
  mergeTerms,
  RIGHTS,
  type Right,
  rightsSchema,
} from './handling';

/** The parts of a preset that can be left to the worker. */
export const LOOSENABLE = ['closing', 'identity', 'rights'] as const;
export type Loosenable = (typeof LOOSENABLE)[number];

const presetAudience = z.enum(AUDIENCES).exclude(['nobody']);

export const presetTermsSchema = z.object({
  closing: officeClosingSchema,
  check: z.enum(IDENTITY_CHECKS),
  question: z.boolean(),
  rights: rightsSchema,
  watermark: z.boolean(),
  copies: z.boolean().default(false),
  clear: z.boolean().default(false),
  textOpen: z.boolean().default(false),
  audience: presetAudience,
  /** The sender gets a mail at the first opening. */
  receipt: z.boolean(),
  /** Readers are asked to press that they have read it. */
  confirm: z.boolean().optional(),
  /** Readers may choose how they get what comes next. */
  choose: z.boolean().optional(),
  /** Hours before closing at which whoever has not opened is reminded; 0 for never. */
  remindHours: z.number().int().min(0).max(720),
  mayLoosen: z.object({ closing: z.boolean(), identity: z.boolean(), rights: z.boolean() }),
  /** Whose it is to choose; everybody's where it names none. */
  departments: z.array(z.string().trim().min(1).max(80)).max(50).optional(),
});
export type PresetTerms = z.infer<typeof presetTermsSchema>;

/** What a worker has chosen beside the preset. */
export const wantedTermsSchema = z.object({
  closing: closingSchema,
  check: z.enum(IDENTITY_CHECKS),
  question: z.boolean(),
  rights: rightsSchema,
  watermark: z.boolean(),
  copies: z.boolean().default(false),
  clear: z.boolean().default(false),
  textOpen: z.boolean().default(false),
  audience: z.enum(AUDIENCES),
});
export type WantedTerms = z.infer<typeof wantedTermsSchema>;

/** A part of the handling that is stricter than the worker chose, because the preset says so. */
export type Tightened =
  'closing' | 'check' | 'question' | 'watermark' | 'copies' | 'clear' | 'textOpen' | 'audience' | Right;

export interface Applied {
  terms: HandlingTerms;
  closing: ClosingResult;
  tightened: Tightened[];
}

const changedParts = (terms: HandlingTerms, own: HandlingTerms): Tightened[] => [
  ...(['check', 'question', 'watermark', 'copies', 'clear', 'textOpen', 'audience'] as const).filter(
    (part) => terms[part] !== own[part],
  ),
  ...RIGHTS.filter((right) => terms.rights[right] !== own.rights[right]),
];

/** At least these terms, whoever asks for them; `by` are the parts that this made stricter. */
export function tighten(applied: Applied, asked: HandlingTerms): { applied: Applied; by: Tightened[] } {
  const terms = mergeTerms(applied.terms, asked);
  return { applied: { ...applied, terms }, by: changedParts(terms, applied.terms) };
}

/** Of what is answered: undefined where nobody knows. `textOpen`: only its files were locked. */
export interface AnsweredLock {
  hadLock?: boolean | undefined;
  textOpen: boolean;
}

/** What answers a mail that came under a lock keeps one: its text stays readable to nobody, and it leaves open on purpose only. */
export const KEEPS_A_LOCK: HandlingTerms = { ...LOOSEST_TERMS, textOpen: false };

/** What an answer keeps of a lock, where what it answers carries no terms; undefined where that had none. */
export function keptOfLock({ hadLock, textOpen }: AnsweredLock): HandlingTerms | undefined {
  if (hadLock !== true) return undefined;
  return textOpen ? LOOSEST_TERMS : KEEPS_A_LOCK;
}

/**
 * An answer, which keeps at least the handling of what it answers; `kept` are the parts that this made stricter. What
 * is passed on closes when that closes, too: `until`.
 */
export function applyAnswered(
  applied: Applied,
  answered: HandlingTerms | undefined,
  until?: Date,
): { applied: Applied; kept: Tightened[] } {
  if (answered === undefined) return { applied, kept: [] };
  const { applied: tightened, by } = tighten(applied, forAnybody(answered));
  const { closing } = applied;
  const isLater = closing.ok && until !== undefined && closing.closesAt > until;
  return {
    applied: { ...tightened, closing: isLater ? { ok: true, closesAt: until } : closing },
    kept: [...(isLater ? (['closing'] as const) : []), ...by],
  };
}

/** Whether somebody of these departments may choose it. */
export const isFor = ({ departments = [] }: Pick<PresetTerms, 'departments'>, ofSender: readonly string[]): boolean =>
  departments.length === 0 || departments.some((one) => ofSender.includes(one));

/** What no worker may go below under this preset; the parts left to the worker ask nothing. */
export function presetFloor(preset: PresetTerms): HandlingTerms {
  const { mayLoosen } = preset;
  return {
    check: mayLoosen.identity ? LOOSEST_TERMS.check : preset.check,
    question: mayLoosen.identity ? LOOSEST_TERMS.question : preset.question,
    rights: mayLoosen.rights ? LOOSEST_TERMS.rights : preset.rights,
    watermark: mayLoosen.rights ? LOOSEST_TERMS.watermark : preset.watermark,
    copies: mayLoosen.rights ? LOOSEST_TERMS.copies : preset.copies,
    // Whether something may travel readable is never the worker's to loosen: the office says so in a preset of its own.
    clear: preset.clear,
    textOpen: preset.textOpen,
    audience: preset.audience,
  };
}

/** The earlier of a closing date and the preset's; `tightened` when that is the preset's. */
export function strictestClosing(
  own: ClosingResult,
  preset: PresetTerms,
  now: Date,
  calendar: OfficeCalendar,
): { closing: ClosingResult; tightened: boolean } {
  if (preset.mayLoosen.closing) return { closing: own, tightened: false };
  const latest = resolveClosing(preset.closing, now, calendar);
  // A preset's date that has passed (end of today, at night) is said as what it is rather than silently replaced by a
  // later one.
  if (!latest.ok) return { closing: latest, tightened: true };
  if (!own.ok)
    return own.problem === 'beyond-maximum' ? { closing: latest, tightened: true } : { closing: own, tightened: false };
  return own.closesAt <= latest.closesAt ? { closing: own, tightened: false } : { closing: latest, tightened: true };
}

/**
 * The strictest of what the worker wants and what the preset demands, and which parts the preset changed. Without a
 * preset: what the worker wants.
 */
export function applyPreset(
  wanted: WantedTerms,
  preset: PresetTerms | undefined,
  now: Date,
  calendar: OfficeCalendar,
): Applied {
  const { closing: chosen, ...own } = wanted;
  if (preset === undefined) return { terms: own, closing: resolveClosing(chosen, now, calendar), tightened: [] };
  const terms = mergeTerms(own, presetFloor(preset));
  const { closing, tightened } = strictestClosing(resolveClosing(chosen, now, calendar), preset, now, calendar);
  return { terms, closing, tightened: [...(tightened ? (['closing'] as const) : []), ...changedParts(terms, own)] };
}

/** What a draft begins with when this preset is chosen. */
export const termsOfPreset = ({
  closing,
  check,
  question,
  rights,
  watermark,
  copies,
  clear,
  textOpen,
  audience,
}: PresetTerms): WantedTerms => ({ closing, check, question, rights, watermark, copies, clear, textOpen, audience });

/**
 * A worker's "end of the day" may lie in another time zone than the office's: up to this much later is the same choice.
 */
export const ZONE_SLACK_MS = 26 * 60 * 60_000;

/** Whether a closing date keeps to the preset, judged by the office's own calendar. */
export function keepsToClosing(closesAt: Date, preset: PresetTerms, now: Date, calendar: OfficeCalendar): boolean {
  if (preset.mayLoosen.closing) return true;
  return closesAt.getTime() <= lastInstant(preset.closing, now, calendar).getTime() + ZONE_SLACK_MS;
}

/** Whether a finished handling keeps to the preset. */
export function keepsToPreset(handling: Handling, preset: PresetTerms, now: Date, calendar: OfficeCalendar): boolean {
  if (!keepsToClosing(handling.closesAt, preset, now, calendar)) return false;
  return isAsStrict(handling, { ...presetFloor(preset), closesAt: handling.closesAt });
}
