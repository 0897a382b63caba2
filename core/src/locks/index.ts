import { carriedLock } from './carried/index';
import { certificateLock } from './certificate/index';
import { fileLock } from './file/index';
import { type PlannableLock } from './lock';
import { openPgpLock } from './openpgp/index';
import { roomLock } from './room/index';

/** Every lock there is, the preferred first: where a copy is allowed and possible, it asks nothing of its reader. */
export const lockKinds: readonly PlannableLock[] = [certificateLock, openPgpLock, roomLock, carriedLock, fileLock];
