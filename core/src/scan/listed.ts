/** What the office lists itself: words and patterns to look for. As data, apart from what looks for them. */
import { z } from 'zod';

export const WORD_LIMITS = { lists: 50, words: 2_000, length: 100 } as const;

export const wordListSchema = z.object({
  id: z.uuid(),
  name: z.string().trim().min(1).max(80),
  words: z.array(z.string().trim().min(2).max(WORD_LIMITS.length)).max(WORD_LIMITS.words),
});
export type WordList = z.infer<typeof wordListSchema>;

export const PATTERN_LIMITS = { patterns: 50, length: 500 } as const;

export const patternSchema = z.object({
  id: z.uuid(),
  name: z.string().trim().min(1).max(80),
  pattern: z.string().min(1).max(PATTERN_LIMITS.length),
  /** Whether case counts. */
  exact: z.boolean(),
});
export type OfficePattern = z.infer<typeof patternSchema>;
