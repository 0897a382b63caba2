/**
 * `aes-256` and `aes-128`: the AE-2 format (PBKDF2-HMAC-SHA-1 of 1,000 rounds, AES in counter mode, HMAC-SHA-1 over
 * it), which unpacking programs of the last twenty years read.
 * `legacy`: the format's first cipher (APPNOTE 6.3.10, §6.1), for programs that know nothing else; whoever wants to
 * breaks it.
 */
export const ZIP_CIPHERS = ['aes-256', 'aes-128', 'legacy'] as const;
export type ZipCipher = (typeof ZIP_CIPHERS)[number];

/** To choose from: the legacy one where the office allows it, or where it was chosen before. */
export const ciphersOffered = (chosen: ZipCipher | undefined, legacyAllowed: boolean): ZipCipher[] =>
  ZIP_CIPHERS.filter((one) => one !== 'legacy' || legacyAllowed || chosen === 'legacy');
