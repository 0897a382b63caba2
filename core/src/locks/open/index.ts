/**
 * No lock at all: ordinary mail, as it was written, where the office lets that be. Neither encrypted nor signed by
 * anybody but the office's mail host.
 */
import { buildMessage } from '../../message/build';
import { type Barred, copiesOf, forStaff, type TooLarge, tooLarge } from '../copy';
import {
  type AssessmentContext,
  type AssessmentOf,
  type CopyLock,
  type PlannedHandling,
  type Recipient,
} from '../lock';

export type OpenMissing = Barred | TooLarge | { code: 'nothing-leaves-open' };
export type OpenReason = { code: 'goes-as-written' };

export function assessOpen(
  recipient: Recipient,
  handling: PlannedHandling,
  context: AssessmentContext,
): AssessmentOf<'open', OpenMissing, never, OpenReason> {
  return {
    lock: 'open',
    ...(handling.clear ? { clear: true as const } : {}),
    available: handling.clear && recipient.colleague === undefined,
    // Signed is better where somebody can sign: it is never taken unless asked for.
    onRequest: true,
    missing: [
      ...(handling.clear ? [] : [{ code: 'nothing-leaves-open' } as const]),
      ...forStaff(handling),
      ...tooLarge(recipient, context),
    ],
    warnings: [],
    cannotHonour: [],
    reasons: [{ code: 'goes-as-written' }],
  };
}

export const openLock: CopyLock<'open', OpenMissing, never, OpenReason, { lock: 'open' }> = {
  lock: 'open',
  gives: 'copy',
  assess: assessOpen,
  want: (lines) => copiesOf('open', lines),
  order: () => ({ lock: 'open' }),
  seal: async (_, message) => buildMessage(message),
  // Whatever it is, it is taken for readable.
  recognise: async () => ({ keeps: 'nothing', weak: false }),
};
