/** What one person and we have agreed for one direction, as it lies sealed in the vault. */
import { PASSWORD_LENGTH } from './minimum';
import { z } from 'zod';
import { byAddress } from '../people/find';
import { type Kept } from '../vault/kept';

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

/**
 * A password for one message alone: with how hard it is to guess, and whether it goes into the book when the message is
 * sent.
 */
export const draftPasswordSchema = z.object({
  password: z.string(),
  guesses: z.number(),
  told: z.boolean(),
  remember: z.boolean(),
});
export type DraftPassword = z.infer<typeof draftPasswordSchema>;

/** All of a worker's entries. */
export type Book = readonly Kept<PasswordEntry>[];

const going = (direction: Direction) =>
  byAddress<Kept<PasswordEntry>>(({ value }) => (value.direction === direction ? [value.address] : []));
const entries: Record<Direction, ReturnType<typeof going>> = { in: going('in'), out: going('out') };

export const entryFor = (book: Book, address: string, direction: Direction): Kept<PasswordEntry> | undefined =>
  entries[direction](book, address);

const MAX_BEFORE = 50;

/** The entry with another password in use; the one before is kept. Pure. */
export function withPassword(
  known: PasswordEntry | undefined,
  next: Pick<PasswordEntry, 'address' | 'direction' | 'password' | 'guesses'> & { toldAt?: string | undefined },
  now: Date,
): PasswordEntry {
  const { toldAt, ...rest } = next;
  const told = toldAt === undefined ? {} : { toldAt };
  if (known === undefined) return { ...rest, ...told, since: now.toISOString(), before: [], note: '' };
  const isSame = known.password === next.password;
  const before = isSame
    ? known.before
    : [
        { password: known.password, until: now.toISOString() },
        ...known.before.filter(({ password }) => password !== next.password),
      ].slice(0, MAX_BEFORE);
  return {
    ...rest,
    before,
    note: known.note,
    since: isSame ? known.since : now.toISOString(),
    ...(isSame && known.toldAt !== undefined ? { toldAt: known.toldAt } : {}),
    ...told,
  };
}
