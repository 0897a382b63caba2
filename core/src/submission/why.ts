/** Why a mail that was handed in waits for its writer: what a list shows of it, and what it still needs. */
import { z } from 'zod';

export const MOST_SENTENCE = 500;
export const MOST_SENTENCES = 50;

export const whySchema = z.object({
  subject: z.string().max(300),
  /** Each begins small, as after a colon. */
  sentences: z.array(z.string().max(MOST_SENTENCE)).max(MOST_SENTENCES),
});
export type Why = z.infer<typeof whySchema>;
