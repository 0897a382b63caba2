/** The carried page as the plan sees it; making and reading one are in the files beside. */
import {
  type Assessment,
  type AssessmentContext,
  type PlannableLock,
  type PlannedHandling,
  type Recipient,
} from '../lock';
import { assessRoom } from '../room/assess';

/**
 * All that the room asks and promises, in a mail their gateway has to take. Colleagues read here and need no file; what
 * is no secret needs no lock.
 */
function assessCarried(recipient: Recipient, handling: PlannedHandling, context: AssessmentContext): Assessment {
  const room = assessRoom(recipient, handling, context);
  const largest = recipient.file?.largest;
  return {
    ...room,
    lock: 'carried',
    available: recipient.colleague === undefined && !handling.clear,
    onRequest: true,
    missing: [
      ...room.missing,
      ...(largest !== undefined && context.size > largest ? [{ code: 'file-too-large', limit: largest } as const] : []),
    ],
    reasons: [{ code: 'travels-as-a-file' }, { code: 'can-be-closed-and-withdrawn' }],
  };
}

export const carriedLock: PlannableLock = { lock: 'carried', assess: assessCarried };
