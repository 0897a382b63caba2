/** A worker's own key with its certificate, as it lies sealed in the vault. */
import { z } from 'zod';
import { addressKey } from '../people/address';
import { type Use } from './verdict';

export const PURPOSES = ['both', 'sign', 'encrypt'] as const;
export type Purpose = (typeof PURPOSES)[number];

/** Bytes as base64url. */
export const keptKeySchema = z.object({
  kind: z.literal('certificate'),
  /** PKCS#8. */
  privateKey: z.string(),
  /** Absent while the authority has not answered. */
  certificate: z.string().optional(),
  chain: z.array(z.string()),
  /** Asked for, and not answered yet. */
  request: z.string().optional(),
  purpose: z.enum(PURPOSES),
  madeAt: z.string(),
  /** Brought from a file, not made here. */
  imported: z.boolean(),
  /** Signs for the worker's mail programs, at the door for these, and nothing here. */
  forPrograms: z.boolean().optional(),
  /** When a backup was proved to open. */
  backedUpAt: z.string().optional(),
  /** Kept for reading only, since it was replaced, revoked or put aside. */
  retiredAt: z.string().optional(),
  /** The addresses for which the worker chose it over others, by use. */
  chosen: z
    .object({ sign: z.array(z.string()), encrypt: z.array(z.string()) })
    .optional()
    .catch(undefined),
});
export type KeptKey = z.infer<typeof keptKeySchema>;

type Chosen = KeptKey['chosen'];

/** Whether the worker chose it for that address and use, over others that would serve. */
export const isChosen = (chosen: Chosen, address: string, use: Use): boolean =>
  chosen?.[use].includes(addressKey(address)) ?? false;
