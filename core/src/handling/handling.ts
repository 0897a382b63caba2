/** What the sender decides about one message. */
import { z } from 'zod';

/** How a reader proves who they are before the room releases anything. Ordered from the weaker to the stronger. */
export const IDENTITY_CHECKS = ['email', 'text'] as const;
export type IdentityCheck = (typeof IDENTITY_CHECKS)[number];

/** What a reader may do beyond reading. */
export const RIGHTS = ['reply', 'save'] as const;
export type Right = (typeof RIGHTS)[number];

export const handlingSchema = z.object({
  closesAt: z.coerce.date(),
  check: z.enum(IDENTITY_CHECKS),
  rights: z.object({ reply: z.boolean(), save: z.boolean() }),
});
/** `closesAt` is an instant; the passcode's way is `check`. */
export type Handling = z.infer<typeof handlingSchema>;

const stricterCheck = (a: IdentityCheck, b: IdentityCheck): IdentityCheck =>
  IDENTITY_CHECKS.indexOf(a) >= IDENTITY_CHECKS.indexOf(b) ? a : b;

/**
 * The strictest of each part of two handlings. A meet in a lattice (commutative, associative, idempotent), so the order in which
 * presets, rules and the worker speak never matters.
 */
export function mergeHandling(a: Handling, b: Handling): Handling {
  return {
    closesAt: a.closesAt <= b.closesAt ? a.closesAt : b.closesAt,
    check: stricterCheck(a.check, b.check),
    rights: { reply: a.rights.reply && b.rights.reply, save: a.rights.save && b.rights.save },
  };
}
