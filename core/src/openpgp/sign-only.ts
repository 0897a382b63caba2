/** A key that signs and opens nothing. */
import { type Bytes } from '../bytes';
import { readSecretKey } from './key';

/** RFC 9580 §5.2.3.29. */
const SIGN_DATA = 0x02;

/** Without the parts that mail is encrypted to: nobody who finds it encrypts to it, and whoever holds it reads nothing. */
export async function signOnly(secretKey: Bytes): Promise<Bytes> {
  const key = await readSecretKey(secretKey);
  key.subkeys = key.subkeys.filter(({ bindingSignatures }) =>
    bindingSignatures.some(({ keyFlags }) => ((keyFlags?.[0] ?? 0) & SIGN_DATA) !== 0),
  );
  return key.write() as Bytes;
}
