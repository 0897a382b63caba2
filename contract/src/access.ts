/**
 * What an access is made of, for senders and readers alike. Apart from the office's endpoints: the reading room's first
 * page loads this and not those.
 */
import { handlingSchema as coreHandling, IDENTITY_CHECKS } from '@under-lock/core/handling/handling';
import { z } from 'zod';
import { bytes, instant } from './endpoint';

export const handlingSchema = coreHandling.extend({ closesAt: instant });

/** The shared question, sealed for who holds the link, and the proof of its answer. */
const questionSchema = z.object({ sealed: bytes(30, 1000), answerProof: bytes(16, 16) });
/**
 * How a reader is known. `target` is an E.164 number or a second address; the server seals it at rest and never shows
 * it again.
 * A question alone has no target; with a passcode both are asked.
 */
export const channelSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.enum(IDENTITY_CHECKS).exclude(['question', 'told']),
    target: z.string().min(3).max(254),
    question: questionSchema.optional(),
  }),
  z.object({ kind: z.literal('question'), question: questionSchema }),
  /** A one-time password that the sender tells them: what proves it, nothing of what it is. */
  z.object({ kind: z.literal('told'), toldProof: bytes(16, 16), question: questionSchema.optional() }),
]);
export type Channel = z.infer<typeof channelSchema>;

export const GRANT_STATES = ['held', 'closed', 'withdrawn'] as const;
export type GrantState = (typeof GRANT_STATES)[number];

export const USES = ['saved', 'printed'] as const;

/** There when the reader is asked to confirm having read it; `at` when they did. */
export const confirmSchema = z.object({ at: instant.optional() }).optional();
