/** Octets of a sealed choice. */
export const MAX_SEALED_CHOICE = 160_000;
/** Octets of a file or of pasted text that is looked into for a certificate or key. */
export const MOST_GIVEN = 1024 * 1024;
/** How many certificates are made for one address in a day. */
export const CERTIFIED_A_DAY = 3;
