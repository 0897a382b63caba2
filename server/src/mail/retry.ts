/** When mail that could not leave is tried again (RFC 5321 §4.5.4.1): soon at first, every half hour later, for four days. */

const FIRST_S = 3;
const LONGEST_S = 30 * 60;
const GIVE_UP_MS = 4 * 86_400_000;

/**
 * The seconds to wait; undefined once it is given up.
 * @param attempts How many there have been, one at least.
 * @param since When it was to leave.
 */
export const nextTry = ({ attempts, since }: { attempts: number; since: Date }, now: Date): number | undefined =>
  now.getTime() - since.getTime() > GIVE_UP_MS
    ? undefined
    : Math.min(LONGEST_S, FIRST_S * 2 ** Math.min(attempts - 1, 20));
