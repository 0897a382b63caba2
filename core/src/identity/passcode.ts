/**
 * One-time passcodes: six digits, sent only on a person's click, ten minutes, five tries, then a pause; and a budget
 * of wrong tries for the
 * whole access that only the sender renews, so that patience does not help whoever guesses.
 * Pure rules over a state the server keeps; the digits themselves are never kept, only their hash.
 * Sources: NIST SP 800-63B §5.1.3.2 (six digits at least, ten minutes at most) and §5.2.2 (throttling).
 */
import { type Bytes, randomBytes } from '../bytes';

export const PASSCODE_DIGITS = 6;
export const PASSCODE_LIFE_MS = 10 * 60_000;
export const PASSCODE_TRIES = 5;
/** Between two sendings, so that a phone is not flooded. */
export const PASSCODE_RESEND_MS = 60_000;
/** After the first, second, … round of five wrong tries; the last one repeats. */
export const PASSCODE_PAUSES_MS = [15 * 60_000, 60 * 60_000, 4 * 60 * 60_000, 24 * 60 * 60_000] as const;
/**
 * Wrong tries in the life of an access before only the sender can let anybody try again: nine of a million is below one
 * in 100,000. A right try gives none back.
 */
export const PASSCODE_BUDGET = 9;

export interface PasscodeState {
  /** When the passcode in force was sent; undefined when none is in force. */
  sentAt?: Date;
  /** Wrong tries since the last right one or pause. Sending a new passcode does not forgive them. */
  wrong: number;
  /** How many pauses there have been. */
  pauses: number;
  pausedUntil?: Date;
  /** Wrong tries since the sender last vouched for this reader. */
  spent: number;
}

export type SendDecision =
  { send: true } | { send: false; reason: 'stopped' } | { send: false; reason: 'paused' | 'too-soon'; until: Date };

export const isStopped = ({ spent }: Pick<PasscodeState, 'spent'>): boolean => spent >= PASSCODE_BUDGET;

/** Whether a new passcode may be sent at `now`. */
export function maySendPasscode(state: PasscodeState, now: Date): SendDecision {
  if (isStopped(state)) return { send: false, reason: 'stopped' };
  if (state.pausedUntil !== undefined && state.pausedUntil > now)
    return { send: false, reason: 'paused', until: state.pausedUntil };
  if (state.sentAt !== undefined) {
    const next = new Date(state.sentAt.getTime() + PASSCODE_RESEND_MS);
    if (next > now) return { send: false, reason: 'too-soon', until: next };
  }
  return { send: true };
}

export type TryOutcome =
  | { outcome: 'right' }
  | { outcome: 'wrong'; triesLeft: number }
  | { outcome: 'paused'; until: Date }
  | { outcome: 'stopped' }
  | { outcome: 'expired' };

/** Whether anything may be tried at `now`, be it a passcode or an answer. */
function blocked(state: PasscodeState, now: Date): TryOutcome | undefined {
  if (isStopped(state)) return { outcome: 'stopped' };
  if (state.pausedUntil !== undefined && state.pausedUntil > now)
    return { outcome: 'paused', until: state.pausedUntil };
  return undefined;
}

function afterWrong(state: PasscodeState, now: Date): { result: TryOutcome; next: PasscodeState } {
  const { sentAt, ...rest } = state;
  const wrong = state.wrong + 1;
  const spent = state.spent + 1;
  if (spent >= PASSCODE_BUDGET) return { result: { outcome: 'stopped' }, next: { ...rest, wrong: 0, spent } };
  if (wrong < PASSCODE_TRIES) {
    const triesLeft = Math.min(PASSCODE_TRIES - wrong, PASSCODE_BUDGET - spent);
    return { result: { outcome: 'wrong', triesLeft }, next: { ...state, wrong, spent } };
  }
  const pausedUntil = new Date(
    now.getTime() + PASSCODE_PAUSES_MS[Math.min(state.pauses, PASSCODE_PAUSES_MS.length - 1)]!,
  );
  return {
    result: { outcome: 'paused', until: pausedUntil },
    next: { wrong: 0, pauses: state.pauses + 1, pausedUntil, spent },
  };
}

const afterRight = ({ spent }: PasscodeState): { result: TryOutcome; next: PasscodeState } => ({
  result: { outcome: 'right' },
  next: { wrong: 0, pauses: 0, spent },
});

/**
 * What a try means at `now`, and the state after it. `matches` is whether the digits were those in force. A right try
 * spends the passcode.
 */
export function tryPasscode(
  state: PasscodeState,
  matches: boolean,
  now: Date,
): { result: TryOutcome; next: PasscodeState } {
  const stop = blocked(state, now);
  if (stop !== undefined) return { result: stop, next: state };
  if (state.sentAt === undefined || now.getTime() >= state.sentAt.getTime() + PASSCODE_LIFE_MS) {
    return { result: { outcome: 'expired' }, next: { wrong: state.wrong, pauses: state.pauses, spent: state.spent } };
  }
  return matches ? afterRight(state) : afterWrong(state, now);
}

/**
 * What an answer to the shared question means at `now`; the same budget and pauses as passcodes. A wrong one leaves a
 * passcode in force.
 */
export function tryAnswer(
  state: PasscodeState,
  matches: boolean,
  now: Date,
): { result: TryOutcome; next: PasscodeState } {
  const stop = blocked(state, now);
  if (stop !== undefined) return { result: stop, next: state };
  return matches ? afterRight(state) : afterWrong(state, now);
}

/**
 * Six uniformly random digits: numbers past the last whole multiple of a million are drawn again, so that no passcode
 * is likelier.
 */
export function makePasscode(random: (length: number) => Bytes = randomBytes): string {
  const span = 10 ** PASSCODE_DIGITS;
  const limit = Math.floor(2 ** 32 / span) * span;
  for (;;) {
    const bytes = random(4);
    const number = new DataView(bytes.buffer, bytes.byteOffset, 4).getUint32(0);
    if (number < limit) return String(number % span).padStart(PASSCODE_DIGITS, '0');
  }
}

/** Digits from what was typed or pasted ("482 913", "Your passcode: 482913"), or undefined when they are not six. */
export function readPasscode(typed: string): string | undefined {
  const digits = typed.slice(0, 200).replace(/\D/g, '');
  return digits.length === PASSCODE_DIGITS ? digits : undefined;
}
