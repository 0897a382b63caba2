export type CertificateErrorCode = 'malformed' | 'unsupported';

/** What could not be read as a certificate, a revocation list or an answer about one. `cause` says more. */
export class CertificateError extends Error {
  constructor(
    readonly code: CertificateErrorCode,
    readonly what: string,
    options?: ErrorOptions,
  ) {
    super(`${what}: ${code}`, options);
    this.name = 'CertificateError';
  }
}

/** Runs a reader; whatever it finds wrong in the octets becomes `malformed`. */
export function reading<T>(what: string, read: () => T): T {
  try {
    return read();
  } catch (cause) {
    if (cause instanceof CertificateError) throw cause;
    throw new CertificateError('malformed', what, { cause });
  }
}
