/** Octets of a sealed choice. */
export const MAX_SEALED_CHOICE = 160_000;
/** How many certificates are made for one address in a day. */
export const CERTIFIED_A_DAY = 3;
