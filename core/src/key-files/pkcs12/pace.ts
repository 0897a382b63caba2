/**
 * How far the slow part of reading a file is: rounds of deriving keys, of those that what has been read so far asks
 * for.
 */
export interface Pace {
  expect(rounds: number): void;
  tick(rounds: number): void;
}

/** `told` is given a share between 0 and 1 that never falls, a hundred times at most. */
export function paceOf(told: (share: number) => void = () => undefined): Pace {
  let [expected, done, said] = [0, 0, 0];
  return {
    expect(rounds) {
      expected += rounds;
    },
    tick(rounds) {
      done += rounds;
      const share = Math.min(1, done / Math.max(expected, done));
      if (share < said + 0.01) return;
      said = share;
      told(share);
    },
  };
}
