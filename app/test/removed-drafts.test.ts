/** Drafts that were removed go for good an hour later, not before. */
import { emptyDraft } from '@under-lock/core/outgoing/draft';
import { goneForGood, isRemoved } from '../src/write/removed';

const now = new Date('2026-11-28T12:00:00Z');
const kept = (id: string, removedAt?: string) => ({
  id,
  revision: 1,
  updatedAt: now,
  value: { ...emptyDraft, subject: id, ...(removedAt === undefined ? {} : { removedAt }) },
});

test('what nobody removed stays, what was removed a moment ago can be had back, what was removed long ago goes', () => {
  const drafts = [
    kept('written'),
    kept('just-now', '2026-11-28T11:59:00.000Z'),
    kept('an-hour-ago', '2026-11-28T11:00:00.000Z'),
    kept('longer-ago', '2026-11-28T10:59:59.000Z'),
  ];
  expect(goneForGood(drafts, now).map(({ id }) => id)).toEqual(['longer-ago']);
  expect(drafts.filter(({ value }) => isRemoved(value)).map(({ id }) => id)).toEqual([
    'just-now',
    'an-hour-ago',
    'longer-ago',
  ]);
});
