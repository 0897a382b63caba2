/** The hosted reading room: one sealed content, one access for each recipient. */
import { type AccessLock } from '../lock';
import { assessRoom, type RoomMissing, type RoomReason, type RoomWarning } from './assess';
import { wantedAccesses } from './want';

export const roomLock: AccessLock<'room', RoomMissing, RoomWarning, RoomReason> = {
  lock: 'room',
  gives: 'access',
  assess: assessRoom,
  want: wantedAccesses,
  seal: async (...given) => (await import('./seal')).sealForRoomAsItGoes(...given),
  recognise: async (...given) => (await import('./recognise')).recogniseContent(...given),
  open: async (sealed) => (await import('./open')).openFromRoom(sealed),
};
