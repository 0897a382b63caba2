/** The list of locks. A further lock is a folder beside this file, its words on the screens, and one line here. */
import { carriedLock } from './carried/index';
import { certificateLock } from './certificate/index';
import { fileLock } from './file/index';
import { openLock } from './open/index';
import { openPgpLock } from './openpgp/index';
import { roomLock } from './room/index';

/** The preferred first: where a copy is allowed and possible, it asks nothing of its reader. Open is the last. */
export const lockKinds = [certificateLock, openPgpLock, roomLock, carriedLock, fileLock, openLock] as const;
