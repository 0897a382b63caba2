/**
 * A delay that grows with every failure past the free ones: 2, 4, 8 … seconds, at most a quarter of an hour (NIST SP
 * 800-63B §5.2.2).
 */
export const MAX_DELAY_MS = 15 * 60_000;
