/** Everybody who is named can get it, where copies may be had. */
import { type AssessmentOf, type PlannedHandling, type Recipient } from '@under-lock/core/locks/lock';

export type KnotMissing = { code: 'no-knot-for-colleagues' };

export const assessKnot = (
  { colleague }: Recipient,
  { copies }: PlannedHandling,
): AssessmentOf<'knot', KnotMissing, never, { code: 'tied-by-hand' }> => ({
  lock: 'knot',
  available: copies && colleague === undefined,
  onRequest: true,
  missing: colleague === undefined ? [] : [{ code: 'no-knot-for-colleagues' }],
  warnings: [],
  reasons: [{ code: 'tied-by-hand' }],
  cannotHonour: [],
});
