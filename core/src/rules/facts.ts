/**
 * All that a rule may ask about a message: plain data, made by whoever has the message, judged alike everywhere. No word
 * of the message is among it, and no name of a file: what was found is counted, by kind.
 */
import { z } from 'zod';
import { CONFIDENCES, KINDS } from '../scan/finding';

export interface RecipientFacts {
  /** Lower case, as addresses are compared. */
  address: string;
  isStaff: boolean;
  /** The sender has not written to them before. */
  isNew: boolean;
  /** No certificate, key or agreed password of theirs is known. */
  hasNoLock: boolean;
}

export const FILE_KINDS = ['picture', 'pdf', 'office', 'archive', 'program', 'mail', 'text', 'other'] as const;
export type FileKind = (typeof FILE_KINDS)[number];

export const fileFactsSchema = z.object({
  /** By what is in it, not by its ending. */
  kind: z.enum(FILE_KINDS),
  /** In octets. */
  size: z.number().int().min(0),
  isLocked: z.boolean(),
  /** It could not be looked into, or not to its end. */
  isUnread: z.boolean(),
  /** Which of the rules' patterns of names its name fits: they are the office's words, not the sender's. */
  fits: z.array(z.string().max(100)).max(500),
});
export type FileFacts = z.infer<typeof fileFactsSchema>;

export const PARTS = ['subject', 'text', 'names', 'files'] as const;
export type Part = (typeof PARTS)[number];

/** What the scan found, counted: of a kind, of which of its kind, how sure, and in which part. */
export const foundFactsSchema = z.object({
  kind: z.enum(KINDS),
  of: z.string().max(64),
  confidence: z.enum(CONFIDENCES),
  part: z.enum(PARTS),
  count: z.number().int().min(1),
});
export type FoundFacts = z.infer<typeof foundFactsSchema>;

/** Names in lower case. */
export const headersSchema = z
  .record(z.string().max(60), z.string().max(200))
  .refine((all) => Object.keys(all).length <= 50, 'at most 50 fields');
export type Headers = z.infer<typeof headersSchema>;

/** What only whoever has the message can say of it. */
export const contentFactsSchema = z.object({
  /** By id. */
  tags: z.array(z.string().max(64)).max(200),
  files: z.array(fileFactsSchema).max(1_000),
  found: z.array(foundFactsSchema).max(2_000),
  /** Of a mail that a mail program wrote: those fields of its head that rules ask about. */
  headers: headersSchema.optional(),
  /** What it answers or passes on. */
  answers: z.object({ as: z.enum(['reply', 'forward']), hadLock: z.boolean() }).optional(),
});
export type ContentFacts = z.infer<typeof contentFactsSchema>;

export const NO_CONTENT: ContentFacts = { tags: [], files: [], found: [] };

export interface Facts extends ContentFacts {
  sender: { address: string; departments: readonly string[] };
  recipients: readonly RecipientFacts[];
  presetId: string | undefined;
  /** Of a mail handed in by an ordinary program, names in lower case. */
  headers: Readonly<Headers>;
}
