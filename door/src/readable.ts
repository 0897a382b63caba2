import { CertificateError } from '@under-lock/core/certificate/errors';
import { OpenPgpError } from '@under-lock/core/openpgp/errors';

/** A certificate or key that can't be read, or not any more, is as good as not there. */
export async function readable<T>(read: () => T | Promise<T>): Promise<T | undefined> {
  try {
    return await read();
  } catch (error) {
    if (error instanceof CertificateError || error instanceof OpenPgpError) return undefined;
    throw error;
  }
}
