import { z } from 'zod';
import { bytes } from './endpoint';

/** How a password is stretched (Argon2id). */
export const hashingSchema = z.object({
  salt: bytes(16, 64),
  memoryKiB: z.number().int(),
  iterations: z.number().int(),
  parallelism: z.number().int(),
});

/** An account's HPKE public key; `suite` says which (core/account/key-pair). */
export const publicKeySchema = z.object({ suite: z.number().int(), publicKey: bytes(32, 2000) });
