/** The page's message as it is read from somebody else's file. */
import { z } from 'zod';

const runSchema = z.object({
  text: z.string(),
  bold: z.boolean(),
  italic: z.boolean(),
  code: z.boolean(),
  href: z
    .string()
    .regex(/^(?:https:\/\/|mailto:)/i)
    .optional(),
});
const blockSchema = z.object({
  kind: z.enum(['paragraph', 'heading', 'item', 'quote', 'code', 'rule']),
  level: z.number(),
  marker: z.string(),
  runs: z.array(runSchema),
});
export const pageMessageSchema = z.object({
  subject: z.string(),
  head: z.array(z.tuple([z.string(), z.string()])),
  blocks: z.array(blockSchema),
});
