/** A draft as it lies sealed in the vault. */
import { closingSchema } from '@under-lock/core/handling/closing';
import { IDENTITY_CHECKS } from '@under-lock/core/handling/handling';
import { z } from 'zod';

const keySchema = z.object({ key: z.string(), salt: z.string() });

export const draftFileSchema = z.object({ blobId: z.string(), name: z.string(), type: z.string(), size: z.number(), key: keySchema });

/** What a try at sending has made so far: with it a second try sends the same, and never twice. */
export const attemptSchema = z.object({
  messageId: z.string(),
  contentBlobId: z.string(),
  key: keySchema,
  fingerprint: z.string(),
  mailId: z.string(),
  date: z.string(),
  closesAt: z.string(),
  grants: z.array(
    z.object({
      id: z.string(), address: z.string(), name: z.string(), role: z.enum(['to', 'cc']), channel: z.object({ kind: z.enum(IDENTITY_CHECKS), target: z.string() }),
      readerShare: z.string(), houseShare: z.string(), wrappedKey: z.string(),
    }),
  ),
});
export type Attempt = z.infer<typeof attemptSchema>;

export const draftSchema = z.object({
  recipients: z.array(z.object({ name: z.string(), address: z.string(), role: z.enum(['to', 'cc']), check: z.enum(IDENTITY_CHECKS).optional() })),
  subject: z.string(),
  reference: z.string(),
  html: z.string(),
  text: z.string(),
  files: z.array(draftFileSchema),
  closing: closingSchema,
  check: z.enum(IDENTITY_CHECKS),
  rights: z.object({ reply: z.boolean(), save: z.boolean() }),
  attempt: attemptSchema.optional(),
});
export type Draft = z.infer<typeof draftSchema>;
export type DraftRecipient = Draft['recipients'][number];

export const emptyDraft: Draft = {
  recipients: [], subject: '', reference: '', html: '', text: '', files: [], closing: { kind: 'two-weeks' }, check: 'text', rights: { reply: true, save: false },
};

export const isBlank = (draft: Draft): boolean => draft.recipients.length === 0 && draft.subject === '' && draft.text.trim() === '' && draft.files.length === 0 && draft.reference === '';

/** What the vault keeps of a sent message: the only place where subject, keys and links can be read. */
export const summarySchema = z.object({
  subject: z.string(),
  mailId: z.string(),
  key: keySchema,
  files: z.array(z.object({ name: z.string(), size: z.number() })),
  links: z.record(z.string(), z.string()),
});
export type Summary = z.infer<typeof summarySchema>;
