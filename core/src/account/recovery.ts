/**
 * The printed recovery code: 128 random bits and a check octet in Crockford's base 32 (no I, L, O, U),
 * in groups of four. It proves itself to the server and wraps the account's secret, like a password that needs no
 * stretching.
 */
import { base32crockford } from '@scure/base';
import { type Bytes, concat, randomBytes, sha256 } from '../bytes';
import { hkdf, sealingKey } from '../sealing';
import { type PasswordKeys } from './password';

const SECRET_BYTES = 16;

export class RecoveryCodeError extends Error {
  constructor(readonly code: 'wrong-length' | 'wrong-character' | 'mistyped') {
    super(`Recovery code: ${code}`);
    this.name = 'RecoveryCodeError';
  }
}

export async function makeRecoveryCode(random: (length: number) => Bytes = randomBytes): Promise<string> {
  const secret = random(SECRET_BYTES);
  const check = await sha256(secret);
  const text = base32crockford.encode(concat(secret, check.subarray(0, 1)));
  return text.match(/.{1,4}/g)!.join('-');
}

/** Reads a code as people type it: any case, spaces or dashes, O for 0, I or L for 1. Throws RecoveryCodeError. */
export async function readRecoveryCode(typed: string): Promise<Bytes> {
  const text = typed.toUpperCase().replace(/[\s-]/g, '').replace(/O/g, '0').replace(/[IL]/g, '1');
  if (!/^[0-9A-HJKMNP-TV-Z]*$/.test(text)) throw new RecoveryCodeError('wrong-character');
  if (text.length !== 28) throw new RecoveryCodeError('wrong-length');
  let bytes: Uint8Array;
  try {
    bytes = base32crockford.decode(text);
  } catch {
    throw new RecoveryCodeError('mistyped');
  }
  const secret = bytes.slice(0, SECRET_BYTES) as Bytes;
  const check = await sha256(secret);
  if (bytes.length !== SECRET_BYTES + 1 || bytes[SECRET_BYTES] !== check[0]) throw new RecoveryCodeError('mistyped');
  return secret;
}

/** The same two keys a password gives, from a recovery code's 16 bytes. */
export async function recoveryKeys(secret: Bytes): Promise<PasswordKeys> {
  return {
    authKey: await hkdf(secret, 'under-lock/recovery/auth/v1', 32),
    unlockKey: await sealingKey(await hkdf(secret, 'under-lock/recovery/unlock/v1', 32)),
  };
}
