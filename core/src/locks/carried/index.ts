/** The carried page as the plan sees it; making and reading one are in the files beside. */
import {
  type AccessLock,
  type AssessmentContext,
  type AssessmentOf,
  type PlannedHandling,
  type Recipient,
} from '../lock';
import { type TooLarge, tooLarge } from '../copy';
import { assessRoom, type RoomMissing, type RoomReason, type RoomWarning } from '../room/assess';
import { roomLock } from '../room/index';

type CarriedMissing = RoomMissing | TooLarge;
type CarriedReason = RoomReason | { code: 'travels-as-a-file' };

/**
 * All that the room asks and promises, in a mail their gateway has to take. Colleagues read here and need no file; what
 * is no secret needs no lock.
 */
function assessCarried(
  recipient: Recipient,
  handling: PlannedHandling,
  context: AssessmentContext,
): AssessmentOf<'carried', CarriedMissing, RoomWarning, CarriedReason> {
  const room = assessRoom(recipient, handling, context);
  return {
    ...room,
    lock: 'carried',
    available: recipient.colleague === undefined && !handling.clear,
    onRequest: true,
    missing: [...room.missing, ...tooLarge(recipient, context)],
    reasons: [{ code: 'travels-as-a-file' }, { code: 'can-be-closed-and-withdrawn' }],
  };
}

/** Its content is sealed, recognised and opened as the room's. */
export const carriedLock: AccessLock<'carried', CarriedMissing, RoomWarning, CarriedReason> = {
  ...roomLock,
  lock: 'carried',
  assess: assessCarried,
  want: (lines, among) => roomLock.want(lines, among).map((access) => ({ ...access, carried: true })),
};
