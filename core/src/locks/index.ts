/** Every lock there is, for whoever plans, sends or judges: names, codes and what follows from the list. */
import { type Bytes } from '../bytes';
import { type MessageContent } from '../message/content';
import { type Unwrapping } from './layer';
import { lockKinds } from './list';
import { type AssessmentOf, type SealingMeans } from './lock';

type Kind = (typeof lockKinds)[number];
export type CopyKind = Extract<Kind, { gives: 'copy' }>;
export type LockName = Kind['lock'];
export type CopyLockName = CopyKind['lock'];

/** What must be put right before sending. Codes with parameters; words are made where they are shown. */
export type Missing =
  | ReturnType<Kind['assess']>['missing'][number]
  /** A rule of the office lets others alone be used. */
  | { code: 'lock-not-allowed' };
/** What the worker should look at, and may send all the same. */
export type Warning = ReturnType<Kind['assess']>['warnings'][number];
/** Why this lock. */
export type Reason = ReturnType<Kind['assess']>['reasons'][number];
export type Assessment = AssessmentOf<LockName, Missing, Warning, Reason>;

const givesCopy = (kind: Kind): kind is CopyKind => kind.gives === 'copy';

export const LOCKS: readonly LockName[] = lockKinds.map(({ lock }) => lock);
/** Those that can keep something from others. */
export const KEEPING_LOCKS: readonly LockName[] = LOCKS.filter((lock) => lock !== 'open');
/** Those that send a copy to stay with its reader. */
export const COPY_LOCKS: readonly CopyLockName[] = lockKinds.filter(givesCopy).map(({ lock }) => lock);

/** Whether it is read in the reading room, by an access that closes and can be withdrawn. */
export const isRead = (lock: LockName): boolean =>
  lockKinds.some((kind) => kind.lock === lock && kind.gives === 'access');

/** @throws RangeError for none that sends copies */
export function copyLock(lock: string): CopyKind {
  const kind = lockKinds.filter(givesCopy).find((one) => one.lock === lock);
  if (kind === undefined) throw new RangeError(`No copies leave under “${lock}”`);
  return kind;
}

/** The ways off mail that came in, of every lock that surrounds a whole mail. */
export const unwrappings = (): Promise<Unwrapping[]> =>
  Promise.all(
    lockKinds.filter(givesCopy).flatMap((kind) => (kind.unwrapping === undefined ? [] : [kind.unwrapping()])),
  );

/** A copy to be sealed, with everything its lock asks for: plain data. */
export type CopyOrder = ReturnType<CopyKind['order']>;

/** The mail as it leaves, RFC 5322 bytes. @throws what its lock throws */
export const sealCopy = (order: CopyOrder, message: MessageContent, means: SealingMeans): Promise<Bytes> =>
  // An order is its own lock's: the list can't say so in types.
  copyLock(order.lock).seal(order as never, message, means);
