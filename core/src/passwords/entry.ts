/** What one person and we have agreed for one direction, as it lies sealed in the vault. */
import { PASSWORD_LENGTH } from './minimum';
import { z } from 'zod';

export const DIRECTIONS = ['out', 'in'] as const;
/** `out`: for what we send; `in`: for what they send. */
export type Direction = (typeof DIRECTIONS)[number];

/** What others gave us may be shorter than what we would take. */
const password = z.string().min(1).max(Math.max(200, PASSWORD_LENGTH.max));

export const passwordEntrySchema = z.object({
  address: z.string().max(254),
  direction: z.enum(DIRECTIONS),
  password,
  /** Logarithm to base 10 of the guesses it stands. */
  guesses: z.number(),
  since: z.string(),
  /** When they were last told, or had agreed; without it they don't have it yet. */
  toldAt: z.string().optional(),
  /** Those before, the latest first: what came or went long ago still opens. */
  before: z
    .array(z.object({ password, until: z.string() }))
    .max(50)
    .default([]),
  note: z.string().max(500).default(''),
});
export type PasswordEntry = z.infer<typeof passwordEntrySchema>;
