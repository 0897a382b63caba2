export type Pkcs12ErrorCode = 'malformed' | 'wrong-password' | 'unsupported' | 'too-many-rounds';
export class Pkcs12Error extends Error {
  constructor(
    readonly code: Pkcs12ErrorCode,
    options?: ErrorOptions,
  ) {
    super(`PKCS#12: ${code}`, options);
    this.name = 'Pkcs12Error';
  }
}
