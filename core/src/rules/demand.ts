/**
 * What rules ask of a message: a product of chains and sets with one join, which is commutative, associative and
 * idempotent. So the order of rules never matters, and a further rule never loosens.
 */
import { z } from 'zod';
import { type HandlingTerms, handlingTermsSchema, LOOSEST_TERMS, mergeTerms } from '../handling/handling';
import { type LockName, LOCKS } from '../locks/index';
import { ALL_WAYS, type AllowedWays, CONTAINERS, PASSWORD_SOURCES } from '../ways/file-way';

const sentence = z.string().trim().min(1).max(300);

export const effectSchema = z.discriminatedUnion('kind', [
  /** At least this handling. */
  z.object({ kind: z.literal('handling'), terms: handlingTermsSchema }),
  /** A preset's terms as they are when the message goes. */
  z.object({ kind: z.literal('preset'), presetId: z.string().min(1).max(64) }),
  z.object({ kind: z.literal('only-locks'), locks: z.array(z.enum(LOCKS)).min(1) }),
  z.object({ kind: z.literal('no-copies') }),
  /** Files are locked by themselves; the text may stay as it is. */
  z.object({
    kind: z.literal('lock-files'),
    /** Whoever gets them as a locked file gets this one; whatever is usual for each recipient without it. */
    container: z.enum(CONTAINERS).optional(),
    /** Likewise, its password; as its sender wants without it. */
    password: z.enum(PASSWORD_SOURCES).optional(),
  }),
  z.object({ kind: z.literal('needs'), what: z.enum(['reference', 'reason']) }),
  z.object({ kind: z.literal('release') }),
  z.object({ kind: z.literal('wait'), minutes: z.number().int().min(1).max(1_440) }),
  z.object({
    kind: z.literal('tell'),
    addresses: z.array(z.string().trim().toLowerCase().min(3).max(254)).min(1).max(20),
  }),
  z.object({ kind: z.literal('stop'), sentence }),
  z.object({ kind: z.literal('ask'), sentence }),
  /** The permissions among demands: it needs no lock, where no other rule forbids that. */
  z.object({ kind: z.literal('may-leave-open') }),
  /** What ordinary mail programs hand in leaves as it was written. */
  z.object({ kind: z.literal('programs-leave-open') }),
  /** Likewise, but for its files: they are locked. */
  z.object({
    kind: z.literal('programs-lock-files'),
    /** Whatever is usual for each recipient without it. */
    container: z.enum(CONTAINERS).optional(),
    /** Files that are locked already go along as they are. */
    lockedStay: z.boolean(),
  }),
]);
export type Effect = z.infer<typeof effectSchema>;

/** A set as a sorted list without doubles: equal sets are equal lists. */
type Sorted<T> = readonly T[];

export interface Demand {
  floor: HandlingTerms;
  presets: Sorted<string>;
  /** Those that may be used; all of them without a rule. */
  locks: Sorted<LockName>;
  lockFiles: boolean;
  /** How a locked file may be made. */
  ways: AllowedWays;
  needs: Sorted<'reference' | 'reason'>;
  release: boolean;
  waitMinutes: number;
  tell: Sorted<string>;
  stops: Sorted<string>;
  asks: Sorted<string>;
}

const asSet = <T extends string>(values: readonly T[]): Sorted<T> => [...new Set(values)].sort();

/** What asks nothing: the neutral element of {@link join}. */
export const NOTHING: Demand = {
  floor: LOOSEST_TERMS,
  presets: [],
  locks: asSet(LOCKS),
  lockFiles: false,
  ways: ALL_WAYS,
  needs: [],
  release: false,
  waitMinutes: 0,
  tell: [],
  stops: [],
  asks: [],
};

export const join = (one: Demand, other: Demand): Demand => ({
  floor: mergeTerms(one.floor, other.floor),
  presets: asSet([...one.presets, ...other.presets]),
  locks: one.locks.filter((lock) => other.locks.includes(lock)),
  lockFiles: one.lockFiles || other.lockFiles,
  ways: {
    containers: one.ways.containers.filter((container) => other.ways.containers.includes(container)),
    passwords: one.ways.passwords.filter((source) => other.ways.passwords.includes(source)),
  },
  needs: asSet([...one.needs, ...other.needs]),
  release: one.release || other.release,
  waitMinutes: Math.max(one.waitMinutes, other.waitMinutes),
  tell: asSet([...one.tell, ...other.tell]),
  stops: asSet([...one.stops, ...other.stops]),
  asks: asSet([...one.asks, ...other.asks]),
});

const waysOf = ({ container, password }: Extract<Effect, { kind: 'lock-files' }>): AllowedWays => ({
  containers: container === undefined ? ALL_WAYS.containers : [container],
  passwords: password === undefined ? ALL_WAYS.passwords : [password],
});

/** What one effect asks. */
export function demandOf(effect: Effect): Demand {
  switch (effect.kind) {
    case 'handling':
      return { ...NOTHING, floor: effect.terms };
    case 'preset':
      return { ...NOTHING, presets: [effect.presetId] };
    case 'only-locks':
      return { ...NOTHING, locks: asSet(effect.locks) };
    case 'no-copies':
      return { ...NOTHING, floor: { ...LOOSEST_TERMS, copies: false } };
    case 'lock-files':
      return { ...NOTHING, lockFiles: true, ways: waysOf(effect) };
    case 'needs':
      return { ...NOTHING, needs: [effect.what] };
    case 'release':
      return { ...NOTHING, release: true };
    case 'wait':
      return { ...NOTHING, waitMinutes: effect.minutes };
    case 'tell':
      return { ...NOTHING, tell: asSet(effect.addresses) };
    case 'stop':
      return { ...NOTHING, stops: [effect.sentence] };
    case 'ask':
      return { ...NOTHING, asks: [effect.sentence] };
    case 'may-leave-open':
    case 'programs-leave-open':
    case 'programs-lock-files':
      return NOTHING;
  }
}

/** What is asked of the handling itself: files that are to be locked don't leave readable. */
export const floorOf = ({ floor, lockFiles }: Demand, hasFiles: boolean): HandlingTerms =>
  mergeTerms(floor, { ...LOOSEST_TERMS, clear: !(lockFiles && hasFiles) });

/** What of the message is still wanted, blanks being nothing. */
export const stillNeeded = (
  { needs }: Demand,
  { reference, reason = '' }: { reference: string; reason?: string | undefined },
): Demand['needs'] => needs.filter((what) => (what === 'reference' ? reference : reason).trim() === '');

/** What was asked and nobody has said yes to. */
export const unconfirmed = ({ asks }: Demand, confirmed: readonly string[] = []): string[] =>
  asks.filter((sentence) => !confirmed.includes(sentence));

/** Whether one demand asks all that the other asks. */
export const asksAtLeast = (one: Demand, other: Demand): boolean =>
  JSON.stringify(join(one, other)) === JSON.stringify(one);

const PERMISSIONS: readonly Effect['kind'][] = ['may-leave-open', 'programs-leave-open', 'programs-lock-files'];
export const isPermission = ({ kind }: Effect): boolean => PERMISSIONS.includes(kind);

/** An effect that forbids leaving open: whatever asks for a lock, a person's word, or more than to be told. */
export const forbidsOpen = (effect: Effect): boolean =>
  !isPermission(effect) && !['tell', 'wait', 'ask', 'needs'].includes(effect.kind);

/** One that forbids that its text is readable beside its locked files. */
export const forbidsOpenText = (effect: Effect): boolean => effect.kind !== 'lock-files' && forbidsOpen(effect);
