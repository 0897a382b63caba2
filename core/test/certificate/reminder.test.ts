import fc from 'fast-check';
import { REMINDER_DAYS, reminderDue, runsOutSoon } from '../../src/certificate/reminder';

const DAY = 86_400_000;
const end = new Date('2027-01-31T12:00:00Z');
const before = (days: number): Date => new Date(end.getTime() - days * DAY);

test.each([
  [31, undefined, undefined],
  [30, undefined, 30],
  [20, undefined, 30],
  [20, 30, undefined],
  [14, 30, 14],
  [13, 14, undefined],
  [3, 14, 3],
  [1, 3, undefined],
  [0, undefined, undefined],
  [-5, undefined, undefined],
  // Whoever was away for all of it is told once, with what is left.
  [2, undefined, 3],
  [2, 30, 3],
])('%d days before, last reminded at %s: %s', (days, reminded, due) =>
  expect(reminderDue(end, before(days), reminded)).toBe(due),
);

test('however often it is looked at, each reminder is given at most once and none after a later one', () => {
  fc.assert(
    fc.property(fc.array(fc.double({ min: -5, max: 60, noNaN: true }), { maxLength: 60 }), (looks) => {
      const given: number[] = [];
      for (const days of [...looks].sort((a, b) => b - a)) {
        const due = reminderDue(end, before(days), given.at(-1));
        if (due !== undefined) given.push(due);
      }
      expect(given).toEqual([...new Set(given)].sort((a, b) => b - a));
      expect(given.every((days) => (REMINDER_DAYS as readonly number[]).includes(days))).toBe(true);
    }),
  );
});

test('soon is the time in which reminders are given', () => {
  expect([31, 30, 1, 0].map((days) => runsOutSoon({ notAfter: end }, before(days)))).toEqual([
    false,
    true,
    true,
    false,
  ]);
});
