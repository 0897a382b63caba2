/** Words the office has chosen for the subject or the first line: whoever writes one says by it what must happen. */
import { z } from 'zod';

export const MAX_TAGS = 50;

export const tagSchema = z.object({
  id: z.uuid(),
  /** As it is written, brackets included. */
  word: z
    .string()
    .trim()
    .min(3)
    .max(40)
    .regex(/^\S+(?: \S+){0,3}$/),
  /** Where it counts. */
  place: z.enum(['subject', 'first-line']),
  /** It is for the office alone: what leaves is without it. */
  takenOut: z.boolean(),
});
export type Tag = z.infer<typeof tagSchema>;
