/**
 * How a recipient wants to be written to from now on. Sealed in their browser for the office book, whose members open
 * it; the server learns the way and nothing else (docs/decisions/29).
 */
import { PASSWORD_LENGTH } from '../passwords/minimum';
import { CONTAINERS } from '../ways/file-way';
import { z } from 'zod';

/** Octets of a certificate that is taken from anybody. */
export const MOST_CERTIFICATE = 10_000;
/** The same as base64url, how many above it, and of a key. */
const MAX_CERTIFICATE = 14_000;
const MAX_CHAIN = 5;
const MAX_KEY = 90_000;

export const choiceSchema = z.discriminatedUnion('way', [
  /** Taken back: as the sender decides. */
  z.object({ way: z.literal('none') }),
  z.object({ way: z.literal('room') }),
  z.object({
    way: z.literal('file'),
    container: z.enum(CONTAINERS),
    password: z.string().min(1).max(PASSWORD_LENGTH.max),
    /** Logarithm to base 10 of the guesses it stands. */
    guesses: z.number().min(0).max(1000),
  }),
  z.object({
    way: z.literal('certificate'),
    certificate: z.string().max(MAX_CERTIFICATE),
    chain: z.array(z.string().max(MAX_CERTIFICATE)).max(MAX_CHAIN),
    notAfter: z.string(),
  }),
  z.object({
    way: z.literal('openpgp'),
    /** Binary, as base64url. */
    key: z.string().max(MAX_KEY),
    fingerprint: z.string().max(80),
    keyIds: z.array(z.string().max(16)).max(50),
    notAfter: z.string().optional(),
  }),
]);
export type Choice = z.infer<typeof choiceSchema>;
/** What a mail can be locked with for their own program. */
export type OwnChoice = Extract<Choice, { way: 'certificate' | 'openpgp' }>;
