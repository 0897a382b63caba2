/** What the office has said of what must happen before a message goes. Everybody reads it; administrators say it. */
import { contentFactsSchema } from '@under-lock/core/rules/facts';
import { exampleSchema, policyItemSchema, policySchema } from '@under-lock/core/rules/policy';
import { KINDS } from '@under-lock/core/scan/finding';
import { z } from 'zod';
import { address, endpoint, id, instant, line } from './endpoint';

/** Whose doing it was, and when. */
const said = { at: instant, by: z.string() };

/** For workers those rules that are on or tried; administrators get all. */
export const getPolicy = endpoint({
  method: 'GET',
  path: '/api/rules',
  access: 'worker',
  byDoor: true,
  versioned: true,
  reply: policySchema,
});

const ITEM_BYTES = 1_000_000;

/** `over`: the version of the whole that its maker saw it in. @see conflict when it has been changed since */
export const putPolicyItem = endpoint({
  method: 'PUT',
  path: '/api/rules/items/:id',
  access: 'administrator',
  maxBytes: ITEM_BYTES,
  params: z.object({ id }),
  body: z.object({ item: policyItemSchema, over: z.number().int().min(0) }),
  reply: z.object({ version: z.number() }),
});
/** @see conflict while a rule speaks of it */
export const removePolicyItem = endpoint({
  method: 'DELETE',
  path: '/api/rules/items/:id',
  access: 'administrator',
  params: z.object({ id }),
});

export const itemVersionSchema = z.object({
  /** The version of the whole that it came with. */
  version: z.number(),
  ...said,
  /** Undefined where it was removed. */
  item: policyItemSchema.optional(),
});
export type ItemVersion = z.infer<typeof itemVersionSchema>;
/** Every version of one of them, the latest first. */
export const listItemVersions = endpoint({
  method: 'GET',
  path: '/api/rules/items/:id/versions',
  access: 'administrator',
  params: z.object({ id }),
  reply: z.object({ versions: z.array(itemVersionSchema) }),
});

/** What a rule is tried on. */
export const listExamples = endpoint({
  method: 'GET',
  path: '/api/rules/items/:id/examples',
  access: 'administrator',
  params: z.object({ id }),
  reply: z.object({ examples: z.array(exampleSchema) }),
});

/** How often a rule acted on messages that went, or stopped some, or would have. */
const figuresSchema = z.object({ acted: z.number(), stopped: z.number(), would: z.number() });
export type RuleFigures = z.infer<typeof figuresSchema>;
/** Of the last thirty days. */
export const getRuleFigures = endpoint({
  method: 'GET',
  path: '/api/rules/figures',
  access: 'administrator',
  reply: z.object({
    rules: z.array(figuresSchema.extend({ id, days: z.array(figuresSchema.extend({ day: z.string() })) })),
    /** What the scan saw in messages that went, and how much of it their writers called something else. */
    seen: z.array(z.object({ kind: z.enum(KINDS), of: z.string(), found: z.number(), harmless: z.number() })),
  }),
});

/** A draft that a rule does not let go: counted once for each rule. */
export const tellStopped = endpoint({
  method: 'POST',
  path: '/api/rules/stopped',
  access: 'worker',
  body: z.object({ draftId: id, rules: z.array(id).min(1).max(200) }),
});

/** Whom the account has never written to, of these. */
export const listNewTo = endpoint({
  method: 'POST',
  path: '/api/written-to/new',
  access: 'worker',
  byDoor: true,
  maxBytes: 400_000,
  body: z.object({ addresses: z.array(address).min(1).max(1_000) }),
  reply: z.object({ addresses: z.array(z.string()) }),
});

/** What a dispatch says of the rules it was planned by. What the server can know itself, it knows itself. */
export const ruledSchema = z.object({
  /** Of the whole. */
  version: z.number().int().min(0),
  content: contentFactsSchema,
  /** Of whom no certificate, key or agreed password is known. */
  withoutLock: z.array(address).max(1_000),
  /** What rules asked about and the writer has confirmed, in the rules' words. */
  confirmed: z.array(line(300)).max(100),
  reason: line(300).optional(),
  /** What the scan saw and the writer called something else, counted. */
  harmless: z.array(z.object({ kind: z.enum(KINDS), of: z.string().max(64), count: z.number().int().min(1) })).max(500),
});
export type Ruled = z.infer<typeof ruledSchema>;
