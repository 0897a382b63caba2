/** A message that goes only when somebody else has let it go: what waits, for whom, and how it ends. */
import { closingSchema } from '@under-lock/core/handling/closing-choice';
import { isZone } from '@under-lock/core/when';
import { z } from 'zod';
import { bytes, endpoint, id, instant, rawBytes } from './endpoint';

/** Comes with a dispatch where a rule wants somebody else to let it go. */
export const releaseSchema = z.object({
  /** What they decide by, under the content's key. */
  paper: bytes(29, 4_000_000),
  /** The content's key, for each who may. */
  keys: z
    .array(z.object({ accountId: id, sealedKey: bytes(60, 2_000) }))
    .min(1)
    .max(200),
  /** What the closing date is counted by, from when it leaves; the date stays without it. */
  closing: closingSchema.optional(),
  /** IANA, whoever counts. */
  zone: z.string().max(60).refine(isZone),
});

const waitingSchema = z.object({
  id,
  askedAt: instant,
  /** The office's rules that ask for it. */
  rules: z.array(z.string()),
  people: z.number().int(),
});
const ownSchema = waitingSchema.extend({
  state: z.enum(['waiting', 'sent-back']),
  /** Who may let it go. */
  releasers: z.array(z.string()),
  /** Sealed for its sender, as of a message that was sent. */
  summary: bytes(0, 2_000_000),
  decidedAt: instant.optional(),
  /** Who sent it back; nobody where it has waited too long. */
  by: z.object({ id, name: z.string() }).optional(),
  /** Why, sealed to the sender's account. */
  sentence: bytes(60, 8_000).optional(),
});
export type OwnRelease = z.infer<typeof ownSchema>;
const askedSchema = waitingSchema.extend({
  from: z.object({ id, name: z.string(), address: z.string() }),
});
export type AskedRelease = z.infer<typeof askedSchema>;

/** What waits of one's own, or was sent back; and what waits for one's own word. The oldest first. */
export const listReleases = endpoint({
  method: 'GET',
  path: '/api/releases',
  access: 'worker',
  versioned: true,
  reply: z.object({ own: z.array(ownSchema), asked: z.array(askedSchema) }),
});
/** @see not-found also when it has been decided, or is one's own */
export const getRelease = endpoint({
  method: 'GET',
  path: '/api/releases/:id',
  access: 'worker',
  params: z.object({ id }),
  reply: askedSchema.extend({
    sealedKey: bytes(60, 2_000),
    paper: bytes(29, 4_000_000),
    /** Octets of the sealed content. */
    size: z.number().int(),
  }),
});
export const getReleasePart = endpoint({
  method: 'GET',
  path: '/api/releases/:id/parts/:index',
  access: 'worker',
  params: z.object({ id, index: z.coerce.number().int().min(0).max(1_000) }),
  reply: rawBytes,
});
/** Lets it go, in its sender's name. @see breaks-rule, closing-out-of-range, below-preset, and what sending says */
export const letGo = endpoint({
  method: 'POST',
  path: '/api/releases/:id/let-go',
  access: 'worker',
  params: z.object({ id }),
  reply: z.object({ sentAt: instant }),
});
export const sendBack = endpoint({
  method: 'POST',
  path: '/api/releases/:id/send-back',
  access: 'worker',
  params: z.object({ id }),
  body: z.object({ sentence: bytes(60, 8_000) }),
});
/** By its sender, while it waits or after it was sent back: nothing of it stays. @see conflict when it has left */
export const takeReleaseBack = endpoint({
  method: 'DELETE',
  path: '/api/releases/:id',
  access: 'worker',
  params: z.object({ id }),
});
