/** Each lock's word and shape. */
import { type LockName } from '@under-lock/core/locks/index';
import { type Shape } from '@under-lock/ui/lock-shape';

export const lockWords: Record<LockName, string> = {
  room: 'Reading room',
  carried: 'Carried page',
  certificate: 'Certificate',
  openpgp: 'OpenPGP key',
  file: 'Locked file',
  open: 'Open mail',
};

/** Under a handling for what is no secret a file is only packed, and is not called locked. */
export const lockLabel = (lock: LockName, clear: boolean): string =>
  clear && lock === 'file' ? 'Packed files' : lockWords[lock];

/** Each lock its own shape, beside its word. */
export const lockShapes: Record<LockName, Shape> = {
  room: 'arch',
  carried: 'folded-arch',
  certificate: 'hexagon',
  openpgp: 'diamond',
  file: 'sheet',
  open: 'ring',
};
