/** A worker's own OpenPGP key as it lies sealed in the vault. */
import { z } from 'zod';

/** How mail carries the public key to who is to answer: in the Autocrypt field, as a file, both, or not at all. */
export const CARRIED = ['field', 'file', 'both', 'nothing'] as const;
export type Carried = (typeof CARRIED)[number];

/** Bytes as base64url. */
export const keptOpenPgpSchema = z.object({
  kind: z.literal('openpgp'),
  /** Binary and without a passphrase: the vault is sealed as a whole. */
  secretKey: z.string(),
  /** Made at birth, armoured: revokes it whoever publishes it. */
  revocation: z.string().optional(),
  /**
   * `certifying` keys vouch for colleagues' keys and sign no mail; `programs`: it signs for the worker's mail programs, at
   * the door for these, and nothing here.
   */
  purpose: z.enum(['mail', 'certifying', 'programs']).default('mail'),
  madeAt: z.string(),
  imported: z.boolean(),
  backedUpAt: z.string().optional(),
  /** Kept for reading only. */
  retiredAt: z.string().optional(),
  carried: z.enum(CARRIED).default('field'),
  /** The addresses for which the worker chose it over others. */
  chosenFor: z.array(z.string()).default([]),
});
export type KeptOpenPgp = z.infer<typeof keptOpenPgpSchema>;
