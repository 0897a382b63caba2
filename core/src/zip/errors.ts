/** The one kind of error that archives bring up, whatever is the matter with them. */
export type ZipErrorCode =
  /** No ZIP, damaged, or made to be read in two ways. */
  | 'malformed'
  /** More of something than any honest archive has, or more than it says. */
  | 'too-large'
  /** Well formed, and of a kind that is not read here. */
  | 'unsupported'
  /** Locked, and no password was given. */
  | 'locked'
  | 'wrong-password';

export class ZipError extends Error {
  /** @param method How something in it is packed, when that is why it is not read. */
  constructor(
    readonly code: ZipErrorCode,
    options?: ErrorOptions,
    readonly method?: string,
  ) {
    super(`ZIP: ${code}`, options);
    this.name = 'ZipError';
  }
}
