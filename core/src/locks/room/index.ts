import { type LockKind } from '../lock';
import { assessRoom } from './assess';

/**
 * The hosted reading room: one sealed content, one grant per recipient. Whoever only plans loads none of the sealing.
 */
export const roomLock: LockKind = {
  lock: 'room',
  assess: assessRoom,
  seal: async (...input) => (await import('./seal')).sealForRoom(...input),
  open: async (means) => (await import('./open')).openFromRoom(means),
};
