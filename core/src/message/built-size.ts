/** How large a message becomes by being built. */

/** Base64 in lines makes four thirds and a little. */
const BASE64 = 1.38;
/** Text, formatting and heads of all parts. */
const BESIDE_BYTES = 4_000_000;

/**
 * The most octets that a message with files of `maxBytes` in all takes, as it is built.
 * @param layers How often base64 lies around it: once, and once more where a lock's own mail is built around it.
 */
export const builtLimit = (maxBytes: number, layers = 1): number =>
  Math.ceil(maxBytes * BASE64 * layers) + BESIDE_BYTES;
