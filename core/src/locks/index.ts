import { type LockKind } from './lock';
import { roomLock } from './room/index';

/** Every lock there is, the preferred first. */
export const lockKinds: readonly LockKind[] = [roomLock];
