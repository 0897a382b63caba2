/** Closing dates across daylight saving in three time zones, and the merge that must not care for order. */
import fc from 'fast-check';
import { calendarDays, latestClosing, resolveClosing, toLocal } from '../src/handling/closing';
import { type Closing } from '../src/handling/closing-choice';
import {
  AUDIENCES,
  type Handling,
  IDENTITY_CHECKS,
  isAsStrict,
  LOOSEST_TERMS,
  mergeHandling,
  mergeTerms,
  NO_RIGHTS,
} from '../src/handling/handling';
import {
  type Applied,
  applyAnswered,
  applyPreset,
  keepsToClosing,
  keepsToPreset,
  type PresetTerms,
  termsOfPreset,
} from '../src/handling/preset';
import { distanceInWords, isZone, listedInWords, momentInWords, sizeInWords } from '../src/when';

const calendar = (zone: string) => ({ zone, dayEnds: '17:00', weekEndsOn: 5, maxDays: 366 });
const resolved = (closing: Closing, now: string, zone: string): string => {
  const result = resolveClosing(closing, new Date(now), calendar(zone));
  return result.ok ? result.closesAt.toISOString() : result.problem;
};

describe('closing', () => {
  it.each([
    // Europe/Lisbon: clocks back on 25 October 2026, forward on 28 March 2027
    ['two-weeks', '2026-10-20T09:00:00Z', 'Europe/Lisbon', '2026-11-03T17:00:00.000Z'],
    ['end-of-today', '2026-10-24T09:00:00Z', 'Europe/Lisbon', '2026-10-24T16:00:00.000Z'],
    ['end-of-today', '2026-10-25T09:00:00Z', 'Europe/Lisbon', '2026-10-25T17:00:00.000Z'],
    ['end-of-week', '2026-11-24T09:00:00Z', 'Europe/Lisbon', '2026-11-27T17:00:00.000Z'],
    ['end-of-week', '2026-11-27T18:00:00Z', 'Europe/Lisbon', '2026-12-04T17:00:00.000Z'],
    ['end-of-week', '2026-11-28T08:00:00Z', 'Europe/Lisbon', '2026-12-04T17:00:00.000Z'],
    ['end-of-month', '2027-03-02T09:00:00Z', 'Europe/Lisbon', '2027-03-31T16:00:00.000Z'],
    ['end-of-quarter', '2027-01-15T09:00:00Z', 'Europe/Lisbon', '2027-03-31T16:00:00.000Z'],
    // America/New_York: back on 1 November 2026
    ['two-weeks', '2026-10-20T13:00:00Z', 'America/New_York', '2026-11-03T22:00:00.000Z'],
    ['end-of-month', '2026-11-02T03:30:00Z', 'America/New_York', '2026-11-30T22:00:00.000Z'],
    // After the last day’s end it is the next one that is meant, as with the week.
    ['end-of-quarter', '2026-12-31T23:00:00Z', 'America/New_York', '2027-03-31T21:00:00.000Z'],
    ['end-of-month', '2026-11-30T18:00:00Z', 'Europe/Lisbon', '2026-12-31T17:00:00.000Z'],
    ['end-of-month', '2027-01-31T18:00:00Z', 'Europe/Lisbon', '2027-02-28T17:00:00.000Z'],
    // Australia/Lord_Howe: half an hour of daylight saving, back on 5 April 2026
    ['two-weeks', '2026-03-28T00:00:00Z', 'Australia/Lord_Howe', '2026-04-11T06:30:00.000Z'],
    ['end-of-today', '2026-03-28T00:00:00Z', 'Australia/Lord_Howe', '2026-03-28T06:00:00.000Z'],
    ['end-of-today', '2026-11-24T17:00:00Z', 'Europe/Lisbon', 'past'],
  ] as const)('%s at %s in %s is %s', (kind, now, zone, expected) => {
    expect(resolved({ kind }, now, zone)).toBe(expected);
  });

  it('takes an exact moment on the wall clock: one that is skipped moves forward, one that comes twice is the first', () => {
    expect(resolved({ kind: 'exact', local: '2027-03-28T01:30' }, '2027-03-01T00:00:00Z', 'Europe/Lisbon')).toBe(
      '2027-03-28T01:30:00.000Z',
    );
    expect(resolved({ kind: 'exact', local: '2026-10-25T01:30' }, '2026-10-01T00:00:00Z', 'Europe/Lisbon')).toBe(
      '2026-10-25T00:30:00.000Z',
    );
  });

  it('refuses what is no date, past, or beyond the office’s maximum, and says the limit', () => {
    expect(resolved({ kind: 'exact', local: '2026-02-30T10:00' }, '2026-01-01T00:00:00Z', 'Europe/Lisbon')).toBe(
      'not-a-date',
    );
    expect(resolved({ kind: 'exact', local: '2026-11-01T10:00' }, '2026-11-24T00:00:00Z', 'Europe/Lisbon')).toBe(
      'past',
    );
    const beyond = resolveClosing(
      { kind: 'exact', local: '2027-12-24T10:00' },
      new Date('2026-11-24T12:00:00Z'),
      calendar('Europe/Lisbon'),
    );
    expect(beyond).toEqual({
      ok: false,
      problem: 'beyond-maximum',
      limit: latestClosing(new Date('2026-11-24T12:00:00Z'), calendar('Europe/Lisbon')),
    });
    expect(toLocal(latestClosing(new Date('2026-11-24T12:00:00Z'), calendar('Europe/Lisbon')), 'Europe/Lisbon')).toBe(
      '2027-11-25T23:59',
    );
  });

  it('gives every choice a moment in the future or a reason, at any time of any year in any zone', () => {
    fc.assert(
      fc.property(
        fc.date({ min: new Date('2024-01-01'), max: new Date('2032-01-01'), noInvalidDate: true }),
        fc.constantFrom('Europe/Lisbon', 'America/New_York', 'Australia/Lord_Howe', 'Asia/Kathmandu', 'Pacific/Apia'),
        fc.constantFrom('end-of-today', 'end-of-week', 'two-weeks', 'end-of-month', 'end-of-quarter'),
        (now, zone, kind) => {
          const result = resolveClosing({ kind }, now, calendar(zone));
          if (!result.ok) return result.problem === 'past' && kind === 'end-of-today';
          return result.closesAt > now && momentInWords(result.closesAt, now, zone).endsWith('17:00');
        },
      ),
    );
  });

  it('counts days as the calendar does', () => {
    expect(calendarDays(new Date('2026-10-24T23:30:00Z'), new Date('2026-10-26T00:10:00Z'), 'Europe/Lisbon')).toBe(1);
  });
});

describe('merging', () => {
  const handling: fc.Arbitrary<Handling> = fc.record({
    closesAt: fc.date({ min: new Date('2026-01-01'), max: new Date('2028-01-01'), noInvalidDate: true }),
    check: fc.constantFrom(...IDENTITY_CHECKS),
    question: fc.boolean(),
    rights: fc.record({
      reply: fc.boolean(),
      replyAll: fc.boolean(),
      forward: fc.boolean(),
      print: fc.boolean(),
      copy: fc.boolean(),
      save: fc.boolean(),
    }),
    watermark: fc.boolean(),
    copies: fc.boolean(),
    clear: fc.boolean(),
    textOpen: fc.boolean(),
    audience: fc.constantFrom(...AUDIENCES),
  });
  const preset: fc.Arbitrary<PresetTerms> = fc.record({
    closing: fc.record({
      kind: fc.constantFrom('end-of-today', 'end-of-week', 'two-weeks', 'end-of-month', 'end-of-quarter'),
    }),
    check: fc.constantFrom(...IDENTITY_CHECKS),
    question: fc.boolean(),
    watermark: fc.boolean(),
    copies: fc.boolean(),
    clear: fc.boolean(),
    textOpen: fc.boolean(),
    receipt: fc.boolean(),
    remindHours: fc.constant(0),
    audience: fc.constantFrom('anyone', 'outsiders', 'staff'),
    rights: fc.record({
      reply: fc.boolean(),
      replyAll: fc.boolean(),
      forward: fc.boolean(),
      print: fc.boolean(),
      copy: fc.boolean(),
      save: fc.boolean(),
    }),
    mayLoosen: fc.record({ closing: fc.boolean(), identity: fc.boolean(), rights: fc.boolean() }),
  });
  const choice: fc.Arbitrary<Closing> = fc.constantFrom(
    { kind: 'end-of-week' },
    { kind: 'two-weeks' },
    { kind: 'end-of-quarter' },
    { kind: 'exact', local: '2027-05-03T12:00' },
  );
  const morning = new Date('2026-11-24T09:00:00Z');
  it('is commutative, associative and idempotent: a lattice', () => {
    fc.assert(
      fc.property(handling, handling, handling, (a, b, c) => {
        expect(mergeHandling(a, b)).toEqual(mergeHandling(b, a));
        expect(mergeHandling(mergeHandling(a, b), c)).toEqual(mergeHandling(a, mergeHandling(b, c)));
        expect(mergeHandling(a, a)).toEqual(a);
      }),
    );
  });
  it('is never looser than either', () => {
    fc.assert(
      fc.property(handling, handling, (a, b) => {
        const merged = mergeHandling(a, b);
        return (
          isAsStrict(merged, a) &&
          isAsStrict(merged, b) &&
          merged.closesAt <= a.closesAt &&
          (!merged.rights.save || (a.rights.save && b.rights.save)) &&
          (!(a.question || b.question) || merged.question)
        );
      }),
    );
  });
  it('leaves nobody where one is for staff and the other for outsiders', () => {
    expect(
      mergeTerms({ ...LOOSEST_TERMS, audience: 'staff' }, { ...LOOSEST_TERMS, audience: 'outsiders' }).audience,
    ).toBe('nobody');
  });
  it('has a neutral element', () =>
    fc.assert(fc.property(handling, (a) => expect(mergeTerms(a, LOOSEST_TERMS)).toEqual(mergeTerms(a, a)))));

  it('under any preset, whatever the worker wants, keeps to the preset; and a part is said to be tightened exactly when it is not as wanted', () => {
    fc.assert(
      fc.property(handling, choice, preset, ({ closesAt: _, ...own }, closing, terms) => {
        const applied = applyPreset({ ...own, closing }, terms, morning, calendar('Europe/Lisbon'));
        if (!applied.closing.ok) throw new Error('in the morning every choice is a date');
        expect(
          keepsToPreset(
            { ...applied.terms, closesAt: applied.closing.closesAt },
            terms,
            morning,
            calendar('Europe/Lisbon'),
          ),
        ).toBe(true);
        const wanted = resolveClosing(closing, morning, calendar('Europe/Lisbon'));
        expect(applied.tightened.includes('closing')).toBe(
          wanted.ok && wanted.closesAt.getTime() !== applied.closing.closesAt.getTime(),
        );
        expect(applied.tightened.includes('save')).toBe(own.rights.save !== applied.terms.rights.save);
      }),
    );
  });
  const today: PresetTerms = {
    closing: { kind: 'end-of-today' },
    check: 'email',
    question: false,
    rights: NO_RIGHTS,
    watermark: false,
    copies: false,
    clear: false,
    textOpen: false,
    receipt: false,
    remindHours: 0,
    audience: 'anyone',
    mayLoosen: { closing: false, identity: false, rights: false },
  };
  it('lets a worker loosen what the preset leaves to them, and nothing else', () => {
    const strict: PresetTerms = {
      ...today,
      closing: { kind: 'end-of-week' },
      check: 'text',
      question: true,
      watermark: true,
    };
    const wanted = { ...LOOSEST_TERMS, closing: { kind: 'two-weeks' } as const };
    expect(applyPreset(wanted, strict, morning, calendar('Europe/Lisbon'))).toMatchObject({
      terms: { check: 'text', question: true, rights: NO_RIGHTS, watermark: true },
      closing: { closesAt: new Date('2026-11-27T17:00:00Z') },
    });
    const free = { ...strict, mayLoosen: { closing: true, identity: true, rights: true } };
    expect(applyPreset(wanted, free, morning, calendar('Europe/Lisbon'))).toMatchObject({
      terms: { ...LOOSEST_TERMS, clear: false, textOpen: false },
      tightened: ['clear', 'textOpen'],
      closing: { closesAt: new Date('2026-12-08T17:00:00Z') },
    });
    expect(
      keepsToPreset(
        { ...LOOSEST_TERMS, closesAt: new Date('2026-12-08T17:00:00Z') },
        strict,
        morning,
        calendar('Europe/Lisbon'),
      ),
    ).toBe(false);
  });
  it('says a preset’s date that has passed instead of taking a later one', () => {
    expect(
      applyPreset(termsOfPreset(today), today, new Date('2026-11-24T20:00:00Z'), calendar('Europe/Lisbon')).closing,
    ).toEqual({ ok: false, problem: 'past' });
  });
  it.each([
    ['in the morning', '2026-11-24T09:00:00Z'],
    ['at night, when the preset’s date has passed', '2026-11-24T23:00:00Z'],
  ])('lets no date go beyond the preset’s, %s', (_, at) => {
    const keeps = (closesAt: string, of = today): boolean =>
      keepsToClosing(new Date(closesAt), of, new Date(at), calendar('Europe/Lisbon'));
    // The end of the day anywhere, and no later.
    expect([keeps('2026-11-25T19:00:00Z'), keeps('2026-11-25T19:00:01Z'), keeps('2026-12-04T17:00:00Z')]).toEqual([
      true,
      false,
      false,
    ]);
    expect(keeps('2026-12-04T17:00:00Z', { ...today, mayLoosen: { ...today.mayLoosen, closing: true } })).toBe(true);
  });
  it('lets no date go beyond the office’s own where the preset’s lies further', () => {
    const quarter: PresetTerms = { ...today, closing: { kind: 'end-of-quarter' } };
    const short = { ...calendar('Europe/Lisbon'), maxDays: 7 };
    const keeps = (closesAt: string): boolean =>
      keepsToClosing(new Date(closesAt), quarter, new Date('2026-11-24T09:00:00Z'), short);
    expect([keeps('2026-12-01T17:00:00Z'), keeps('2026-12-20T17:00:00Z')]).toEqual([true, false]);
  });
});

describe('words for time and size', () => {
  const now = new Date('2026-11-24T04:00:00Z');
  it.each([
    ['2026-11-26T17:00:00Z', 'in 2 days'],
    ['2026-12-03T17:00:00Z', 'in 9 days'],
    ['2026-11-24T05:30:00Z', 'in 90 minutes'],
    ['2026-11-25T10:00:00Z', 'in 30 hours'],
    ['2027-01-20T00:00:00Z', 'in 8 weeks'],
    ['2026-11-20T00:00:00Z', '4 days ago'],
  ])('%s is %s', (instant, words) => expect(distanceInWords(new Date(instant), now, 'Europe/Lisbon')).toBe(words));
  it.each([
    ['2026-11-24T08:00:00Z', '08:00'],
    ['2026-11-20T23:30:00Z', 'Fri'],
    ['2026-11-30T12:00:00Z', 'Mon'],
    ['2026-11-17T12:00:00Z', '17 Nov'],
    ['2025-09-01T12:00:00Z', '1 Sep 2025'],
  ])('a list says %s as %s', (instant, words) =>
    expect(listedInWords(new Date(instant), new Date('2026-11-24T09:00:00Z'), 'Europe/Lisbon')).toBe(words),
  );
  it('names the year only when it is another one', () => {
    expect(momentInWords(new Date('2026-12-03T17:00:00Z'), now, 'Europe/Lisbon')).toBe('Thu 3 Dec, 17:00');
    expect(momentInWords(new Date('2027-09-01T16:00:00Z'), now, 'Europe/Lisbon')).toBe('Wed 1 Sep 2027, 17:00');
  });
  it('counts bytes as limits do', () =>
    expect([sizeInWords(999), sizeInWords(41_000), sizeInWords(25_000_000), sizeInWords(2_940_000)]).toEqual([
      '999 B',
      '41 kB',
      '25 MB',
      '2.9 MB',
    ]));
});

describe('what is passed on', () => {
  const applied = (closesAt: Date): Applied => ({
    terms: LOOSEST_TERMS,
    closing: { ok: true, closesAt },
    tightened: [],
  });
  const [sooner, later] = [new Date('2026-12-01T17:00:00Z'), new Date('2026-12-09T17:00:00Z')];

  test('closes when that closes, or sooner', () => {
    expect(applyAnswered(applied(later), LOOSEST_TERMS, sooner)).toMatchObject({
      applied: { closing: { closesAt: sooner } },
      kept: ['closing'],
    });
    expect(applyAnswered(applied(sooner), LOOSEST_TERMS, later)).toMatchObject({
      applied: { closing: { closesAt: sooner } },
      kept: [],
    });
  });

  test('an answer asks as much as what it answers, and closes when its writer says', () => {
    const strict = { ...LOOSEST_TERMS, watermark: true, rights: NO_RIGHTS };
    expect(applyAnswered(applied(later), strict)).toMatchObject({
      applied: { terms: { watermark: true, rights: NO_RIGHTS }, closing: { closesAt: later } },
    });
  });
});

test.each([
  ['Europe/Lisbon', true],
  ['utc', true],
  ['Mars/Base', false],
  ['', false],
])('a time zone: %j', (zone, known) => expect(isZone(zone)).toBe(known));
