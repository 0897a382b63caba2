/** A draft as it lies sealed in the vault. */
import { RECIPIENT_ROLES } from '../people/role';
import { handlingTermsSchema, IDENTITY_CHECKS, NO_RIGHTS } from '../handling/handling';
import { COPY_LOCKS, LOCKS } from '../locks/index';
import { ruledWaySchema, SCOPES, TELLINGS } from '../ways/file-way';
import { LANGUAGES } from '../language';
import { headersSchema } from '../rules/facts';
import { type WantedTerms, wantedTermsSchema } from '../handling/preset';
import { draftPasswordSchema } from '../passwords/entry';
import { z } from 'zod';

/** A content key as it is kept in the vault, as base64url. */
const keySchema = z.object({ key: z.string(), salt: z.string() });
export type KeptKey = z.infer<typeof keySchema>;

/** A file of a draft: it lies sealed under a key of its own. */
export const draftFileSchema = z.object({
  blobId: z.string(),
  name: z.string(),
  type: z.string(),
  size: z.number(),
  key: keySchema,
});
export type DraftFile = z.infer<typeof draftFileSchema>;

/**
 * One recipient's grant as it is kept with the draft, so that a second try is the same dispatch. Bytes as base64url.
 */
export const keptGrantSchema = z.object({
  id: z.string(),
  address: z.string(),
  name: z.string(),
  role: z.enum(RECIPIENT_ROLES),
  /** The content travels as a file. */ carried: z.boolean().optional(),
  readerShare: z.string(),
  houseShare: z.string(),
  wrappedKey: z.string(),
  reader: z.discriminatedUnion('kind', [
    z.object({
      kind: z.literal('link'),
      language: z.enum(LANGUAGES).optional(),
      check: z.enum(IDENTITY_CHECKS),
      target: z.string().optional(),
      question: z.object({ sealed: z.string(), answerProof: z.string() }).optional(),
      /** A one-time password, and what proves it. */
      told: z.object({ password: z.string(), proof: z.string() }).optional(),
    }),
    z.object({ kind: z.literal('account'), accountId: z.string(), sealedShare: z.string(), sealedSummary: z.string() }),
    z.object({
      kind: z.literal('registered'),
      readerId: z.string(),
      language: z.enum(LANGUAGES).optional(),
      sealedShare: z.string(),
      sealedSummary: z.string(),
    }),
  ]),
});
export type KeptGrant = z.infer<typeof keptGrantSchema>;

/** As attempts were kept when two locks' terms stood in fields of their own. */
function withHow(copy: unknown): unknown {
  if (typeof copy !== 'object' || copy === null || !('form' in copy)) return copy;
  const { form, file, lock = 'certificate', ...rest } = copy as Record<string, unknown>;
  const how = lock === 'file' ? { how: file } : lock === 'openpgp' ? { how: { form } } : {};
  return { ...rest, lock, ...how };
}

export const keptCopySchema = z.preprocess(
  withHow,
  z.object({
    id: z.string(),
    lock: z.enum(COPY_LOCKS),
    /** Signed and not encrypted, or packed and not locked. */ clear: z.boolean().default(false),
    /** How it is made, in its lock's own terms. */ how: z.unknown().optional(),
    recipients: z.array(
      z.object({ id: z.string(), address: z.string(), name: z.string(), role: z.enum(RECIPIENT_ROLES) }),
    ),
  }),
);
export type KeptCopy = z.infer<typeof keptCopySchema>;

/** What a try at sending has made so far: with it a second try sends the same, and never twice. */
export const attemptSchema = z.object({
  messageId: z.string(),
  contentBlobId: z.string(),
  key: keySchema,
  fingerprint: z.string(),
  mailId: z.string(),
  date: z.string(),
  closesAt: z.string(),
  grants: z.array(keptGrantSchema),
  /** Who gets a copy of their own; sealed anew at each try. */
  copies: z.array(keptCopySchema).default([]),
});
export type Attempt = z.infer<typeof attemptSchema>;

export const draftSchema = z.object({
  /** Which of the worker's addresses it is written from; the main one without it. */
  from: z.string().optional(),
  recipients: z.array(
    z.object({
      name: z.string(),
      address: z.string(),
      role: z.enum(RECIPIENT_ROLES),
      check: z.enum([...IDENTITY_CHECKS, 'password']).optional(),
      question: z.string().optional(),
      answer: z.string().optional(),
      /** A one-time password that is told to them. */ told: z.string().max(20).optional(),
      lock: z.enum(LOCKS).optional(),
      /** What is locked in this message alone. */ scope: z.enum(SCOPES).optional(),
      /** A locked file's password for this message. */ password: draftPasswordSchema.optional(),
      /** How their files are locked where a rule says so. */ ruledWay: ruledWaySchema.optional(),
    }),
  ),
  /** Nobody sees who else gets it. */
  eachAlone: z.boolean().optional(),
  subject: z.string(),
  reference: z.string(),
  html: z.string(),
  text: z.string(),
  files: z.array(draftFileSchema),
  /** The office's default when none was chosen. */
  presetId: z.string().optional(),
  /** Why it is to leave open, under a preset for that; without it, it goes under lock. */
  openReason: z.string().optional(),
  /** What the worker chose beside the preset; the preset's own terms until they choose. */
  terms: wantedTermsSchema.optional(),
  /** When it is to leave, as wall-clock time `yyyy-MM-ddTHH:mm` in the worker's zone; at once when absent. */
  sendAt: z
    .string()
    .regex(/^\d{4}-\d\d-\d\dT\d\d:\d\d$/)
    .optional(),
  /** Sent, and not left yet: kept until it has, so that it can be taken back. Without a time somebody else lets it go. */
  waiting: z.object({ messageId: z.string(), leavesAt: z.string().optional() }).optional(),
  /** To whoever lets it go. */
  releaseNote: z.string().max(1_000).optional(),
  /** Who looked at it last and did not let it go, and why. */
  sentBack: z.object({ by: z.string(), sentence: z.string(), at: z.string() }).optional(),
  /** The message this answers, and the conversation's page it belongs to. */
  inReplyTo: z.string().optional(),
  /** What that asks of whoever reads it: the answer asks no less. */
  answered: handlingTermsSchema.optional(),
  /** It passes that on, and closes when it closes. */
  passedOnUntil: z.string().optional(),
  /** Message-IDs of the mail it answers and those before, for whoever reads the answer in a mail program. */
  answers: z.array(z.string()).optional(),
  attempt: attemptSchema.optional(),
  /** The Message-ID that its mail program gave it. */
  mailId: z.string().optional(),
  /** Of the mail it was, where a mail program wrote it. */
  headers: headersSchema.optional(),
  /** What the scan saw and its writer called harmless, by its ids. */
  passedOver: z.array(z.string().max(100)).max(1_000).optional(),
  /** Why it goes out as it does, where a rule of the office asks; the office can read it. */
  reason: z.string().max(300).optional(),
  /** What a rule asked about and its writer has confirmed, in the rule's words. */
  confirmed: z.array(z.string().max(300)).max(100).optional(),
  /** Removed by its writer, who can have it back for a while; ISO 8601. */
  removedAt: z.string().optional(),
});
export type Draft = z.infer<typeof draftSchema>;
export type DraftRecipient = Draft['recipients'][number];

export const emptyDraft: Draft = {
  recipients: [],
  subject: '',
  reference: '',
  html: '',
  text: '',
  files: [],
};

/** What a message begins with in an office without presets. */
export const plainTerms: WantedTerms = {
  closing: { kind: 'two-weeks' },
  check: 'text',
  question: false,
  rights: { ...NO_RIGHTS, reply: true, copy: true, print: true },
  watermark: false,
  copies: false,
  clear: false,
  textOpen: false,
  audience: 'anyone',
};

export const isBlank = (draft: Draft): boolean =>
  draft.recipients.length === 0 &&
  draft.subject === '' &&
  draft.text.trim() === '' &&
  draft.files.length === 0 &&
  draft.reference === '';

/** What the vault keeps of a sent message: the only place where subject, keys and links can be read. */
export const summarySchema = z.object({
  subject: z.string(),
  mailId: z.string(),
  key: keySchema,
  files: z.array(z.object({ name: z.string(), size: z.number() })),
  links: z.record(z.string(), z.string()),
  /** One-time passwords to be told, by access. */
  told: z.record(z.string(), z.string()).optional(),
  /** What opens the locked files that went out, by copy's recipient; nothing of those that were not to be kept. */
  passwords: z
    .record(z.string(), z.object({ password: z.string(), telling: z.enum(TELLINGS), told: z.boolean() }))
    .optional(),
  /** The draft it came from, while it can be taken back. */
  draftId: z.string().optional(),
  /** The draft that waits for an answer to this request. */
  forDraft: z.string().optional(),
});
export type Summary = z.infer<typeof summarySchema>;
