/** The one kind of error that OpenPGP material brings up, whatever is the matter with it. */
export type OpenPgpErrorCode =
  /** No OpenPGP, or damaged. */
  | 'malformed'
  /** More of something than any honest message or file has. */
  | 'too-large'
  /** Well formed, and of a kind that is not read here. */
  | 'unsupported'
  /** Encrypted to other keys than ours. */
  | 'not-for-us'
  /** Encrypted to one of our keys and damaged, or changed on its way. */
  | 'not-opened'
  | 'wrong-passphrase';

export class OpenPgpError extends Error {
  constructor(
    readonly code: OpenPgpErrorCode,
    options?: ErrorOptions,
  ) {
    super(`OpenPGP: ${code}`, options);
    this.name = 'OpenPgpError';
  }
}
