import fc from 'fast-check';
import { type Bytes } from '../src/bytes';
import {
  makePasscode,
  maySendPasscode,
  PASSCODE_BUDGET,
  PASSCODE_DIGITS,
  PASSCODE_LIFE_MS,
  PASSCODE_PAUSES_MS,
  PASSCODE_RESEND_MS,
  PASSCODE_TRIES,
  type PasscodeState,
  readPasscode,
  tryAnswer,
  tryPasscode,
} from '../src/identity/passcode';

const now = new Date('2026-11-24T10:00:00Z');
const later = (ms: number): Date => new Date(now.getTime() + ms);
const sent: PasscodeState = { sentAt: now, wrong: 0, pauses: 0, spent: 0 };

test('a right passcode opens once and is spent', () => {
  const { result, next } = tryPasscode(sent, true, later(1000));
  expect(result).toEqual({ outcome: 'right' });
  expect(tryPasscode(next, true, later(2000)).result).toEqual({ outcome: 'expired' });
});

test('ten minutes are ten minutes', () => {
  expect(tryPasscode(sent, true, later(PASSCODE_LIFE_MS - 1)).result.outcome).toBe('right');
  expect(tryPasscode(sent, true, later(PASSCODE_LIFE_MS)).result.outcome).toBe('expired');
});

test('five wrong tries pause; while paused even the right digits are not looked at and nothing is sent', () => {
  let state = sent;
  for (let tries = 1; tries < PASSCODE_TRIES; tries++) {
    const { result, next } = tryPasscode(state, false, now);
    expect(result).toEqual({ outcome: 'wrong', triesLeft: PASSCODE_TRIES - tries });
    state = next;
  }
  const { result, next } = tryPasscode(state, false, now);
  expect(result).toEqual({ outcome: 'paused', until: later(PASSCODE_PAUSES_MS[0]) });
  expect(tryPasscode(next, true, later(PASSCODE_PAUSES_MS[0] - 1)).result.outcome).toBe('paused');
  expect(tryAnswer(next, true, later(PASSCODE_PAUSES_MS[0] - 1)).result.outcome).toBe('paused');
  expect(maySendPasscode(next, later(PASSCODE_PAUSES_MS[0] - 1))).toMatchObject({ send: false, reason: 'paused' });
  expect(maySendPasscode(next, later(PASSCODE_PAUSES_MS[0]))).toEqual({ send: true });
});

test('a right try ends a round and gives no wrong try of the budget back', () => {
  const { next } = tryPasscode({ ...sent, wrong: 3, pauses: 1, spent: 7 }, true, now);
  expect(next).toEqual({ wrong: 0, pauses: 0, spent: 7 });
});

test('a wrong answer leaves the passcode in force', () => {
  const { result, next } = tryAnswer(sent, false, later(1));
  expect(result).toEqual({ outcome: 'wrong', triesLeft: 4 });
  expect(tryPasscode(next, true, later(2)).result.outcome).toBe('right');
});

test('whatever is tried, in whatever order, with right tries in between and for ever: nine wrong tries and no more', () => {
  const step = fc.record({
    gap: fc.integer({ min: 0, max: 3 * 86_400_000 }),
    answer: fc.boolean(),
    right: fc.boolean(),
  });
  fc.assert(
    fc.property(fc.array(step, { maxLength: 120 }), (steps) => {
      let state: PasscodeState = sent;
      let time = now.getTime();
      let wrong = 0;
      for (const { gap, answer, right } of steps) {
        time += gap;
        const at = new Date(time);
        if (maySendPasscode(state, at).send) state = { ...state, sentAt: at };
        const { result, next } = (answer ? tryAnswer : tryPasscode)(state, right, at);
        if (next.spent > state.spent) wrong += 1;
        if (wrong > PASSCODE_BUDGET) return false;
        if (wrong === PASSCODE_BUDGET && result.outcome === 'right') return false;
        state = next;
      }
      return true;
    }),
  );
  expect(PASSCODE_BUDGET / 10 ** PASSCODE_DIGITS).toBeLessThan(1 / 100_000);
});

test('asking for a new passcode forgives no wrong tries', () => {
  const { next } = tryPasscode(sent, false, later(1));
  expect(
    tryPasscode({ ...next, sentAt: later(PASSCODE_RESEND_MS) }, false, later(PASSCODE_RESEND_MS + 1)).result,
  ).toEqual({ outcome: 'wrong', triesLeft: PASSCODE_TRIES - 2 });
});

test('another passcode has to wait a minute', () => {
  expect(maySendPasscode(sent, later(PASSCODE_RESEND_MS - 1))).toEqual({
    send: false,
    reason: 'too-soon',
    until: later(PASSCODE_RESEND_MS),
  });
  expect(maySendPasscode(sent, later(PASSCODE_RESEND_MS))).toEqual({ send: true });
});

test('no sequence of guesses gets more than five tries between pauses', () => {
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 0, max: 20 * 60_000 }), { maxLength: 80 }), (gaps) => {
      let state: PasscodeState = sent;
      let time = now.getTime();
      let inARow = 0;
      for (const gap of gaps) {
        time += gap;
        if (maySendPasscode(state, new Date(time)).send) state = { ...state, sentAt: new Date(time) };
        const { result, next } = tryPasscode(state, false, new Date(time));
        if (result.outcome === 'wrong') inARow += 1;
        if (next.pauses > state.pauses) inARow = 0;
        if (inARow >= PASSCODE_TRIES) return false;
        state = next;
      }
      return true;
    }),
  );
});

test('passcodes are six digits, drawn evenly: numbers past the last whole million are drawn again', () => {
  const draws = [
    [0xff, 0xff, 0xff, 0xff],
    [0x00, 0x00, 0x00, 0x07],
  ];
  let at = 0;
  expect(makePasscode(() => Uint8Array.from(draws[at++]!) as Bytes)).toBe('000007');
  expect(at).toBe(2);
  for (let tries = 0; tries < 200; tries++) expect(makePasscode()).toMatch(/^\d{6}$/);
});

test.each([
  ['482913', '482913'],
  [' 482 913 ', '482913'],
  ['Your passcode: 482-913', '482913'],
  ['48291', undefined],
  ['4829134', undefined],
  ['', undefined],
])('%j is read as %s', (typed, digits) => expect(readPasscode(typed)).toBe(digits));
