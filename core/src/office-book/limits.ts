/** As many people as the office book takes at once from a file, and octets of a file of that many. */
export const MOST_EXCHANGED = 20_000;
export const MOST_OCTETS = 20_000_000;
