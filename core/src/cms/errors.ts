export type CmsErrorCode =
  /** No CMS, or not such as the standard allows. */
  | 'malformed'
  /** CMS of a kind or with an algorithm we don't read. */
  | 'unsupported'
  /** Encrypted for others. */
  | 'not-for-us'
  /** The key did not open it, or the bytes have been changed: the two can't and must not be told apart. */
  | 'not-opened';

export class CmsError extends Error {
  constructor(
    readonly code: CmsErrorCode,
    options?: ErrorOptions,
  ) {
    super(`CMS: ${code}`, options);
    this.name = 'CmsError';
  }
}

/** Runs a reader; whatever it finds wrong in the octets becomes `malformed`. */
export function reading<T>(read: () => T): T {
  try {
    return read();
  } catch (cause) {
    if (cause instanceof CmsError) throw cause;
    throw new CmsError('malformed', { cause });
  }
}
