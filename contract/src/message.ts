import { handlingSchema as coreHandling, IDENTITY_CHECKS } from '@under-lock/core/handling/handling';
import { z } from 'zod';
import { address, bytes, endpoint, id, instant, line } from './endpoint';

export const handlingSchema = coreHandling.extend({ closesAt: instant });

/** Where the passcode goes. `target` is an E.164 number or a second address; the server seals it at rest and never shows it again. */
const channelSchema = z.object({ kind: z.enum(IDENTITY_CHECKS), target: z.string().min(3).max(254) });

const newGrantSchema = z.object({
  id,
  address,
  name: line(200),
  role: z.enum(['to', 'cc']),
  channel: channelSchema,
  houseShare: bytes(32, 32),
  wrappedKey: bytes(61, 61),
  /** Passes through to the notice and is wiped once that is delivered. */
  readerShare: bytes(32, 32),
});
export type NewGrant = z.infer<typeof newGrantSchema>;

export const NOTICE_STATES = ['waiting', 'accepted', 'junk', 'refused', 'bounced'] as const;
export type NoticeState = (typeof NOTICE_STATES)[number];
export const GRANT_STATES = ['held', 'closed', 'withdrawn'] as const;
export type GrantState = (typeof GRANT_STATES)[number];

export const grantSchema = z.object({
  id,
  address: z.string(),
  name: z.string(),
  role: z.enum(['to', 'cc']),
  state: z.enum(GRANT_STATES),
  closesAt: instant,
  /** When it was closed or withdrawn. */
  endedAt: instant.optional(),
  check: z.object({ kind: z.enum(IDENTITY_CHECKS), hint: z.string() }),
  notice: z.object({ state: z.enum(NOTICE_STATES), at: instant.optional(), answer: z.string().optional() }),
  opened: z.object({ count: z.number().int(), first: instant.optional(), last: instant.optional() }),
  wrongTries: z.number().int(),
  pausedUntil: instant.optional(),
});
export type Grant = z.infer<typeof grantSchema>;

export const EVENT_KINDS = [
  'dispatched', 'notice-accepted', 'notice-junk', 'notice-refused', 'notice-bounced', 'notice-again', 'passcode-sent', 'passcode-failed', 'passcode-wrong', 'passcode-paused',
  'opened', 'not-for-me', 'closing-moved', 'channel-changed', 'withdrawn', 'closed', 'given-again', 'purged',
] as const;
export type EventKind = (typeof EVENT_KINDS)[number];
export const eventSchema = z.object({
  id, at: instant, kind: z.enum(EVENT_KINDS), grantId: id.optional(),
  /** True when the recipient had opened it before; said with `withdrawn`. */
  hadOpened: z.boolean().optional(),
  closesAt: instant.optional(),
});
export type MessageEvent = z.infer<typeof eventSchema>;

export const sentSchema = z.object({
  id,
  reference: z.string(),
  sentAt: instant,
  size: z.number().int(),
  handling: handlingSchema,
  /** Vault item `sent` with the message's id, sealed: subject, keys, shares. */
  summary: bytes(0, 2_000_000),
  grants: z.array(grantSchema),
});
export type SentMessage = z.infer<typeof sentSchema>;

export const dispatchMessage = endpoint({
  method: 'POST', path: '/api/messages/:id/dispatch', access: 'worker', params: z.object({ id }),
  body: z.object({
    contentBlobId: id,
    reference: line(100),
    handling: handlingSchema,
    summary: bytes(29, 2_000_000),
    grants: z.array(newGrantSchema).min(1).max(1000),
  }),
  /** `already`: an earlier try of the same dispatch had arrived; nothing was done twice. */
  reply: z.object({ sentAt: instant, already: z.boolean() }),
});
export const listSent = endpoint({
  method: 'GET', path: '/api/messages', access: 'worker',
  query: z.object({ before: z.string().max(100).optional(), limit: z.coerce.number().int().min(1).max(100).optional() }),
  reply: z.object({ messages: z.array(sentSchema), next: z.string().optional() }),
});
export const getSent = endpoint({
  method: 'GET', path: '/api/messages/:id', access: 'worker', params: z.object({ id }),
  reply: sentSchema.extend({
    events: z.array(eventSchema),
    contentBlobId: id.optional(),
    /** SHA-256 of each notice as it left, by grant. */
    notices: z.array(z.object({ grantId: id, sentAt: instant, messageId: z.string(), sha256: bytes(32, 32) })),
  }),
});
const forGrants = z.array(id).min(1).max(1000);
export const moveClosing = endpoint({ method: 'POST', path: '/api/messages/:id/closing', access: 'worker', params: z.object({ id }), body: z.object({ grantIds: forGrants, closesAt: instant }), reply: z.object({ moved: z.number() }) });
export const withdrawGrants = endpoint({ method: 'POST', path: '/api/messages/:id/withdraw', access: 'worker', params: z.object({ id }), body: z.object({ grantIds: forGrants }), reply: z.object({ withdrawn: z.number(), hadOpened: z.number() }) });
export const tellAgain = endpoint({ method: 'POST', path: '/api/messages/:id/grants/:grantId/notice', access: 'worker', params: z.object({ id, grantId: id }), body: z.object({ readerShare: bytes(32, 32) }) });
export const changeChannel = endpoint({ method: 'PUT', path: '/api/messages/:id/grants/:grantId/channel', access: 'worker', params: z.object({ id, grantId: id }), body: channelSchema });
/** A new grant for somebody whose access ended; the ended one stays in the record. */
export const giveAgain = endpoint({
  method: 'POST', path: '/api/messages/:id/grants', access: 'worker', params: z.object({ id }),
  body: z.object({ replaces: id, grant: newGrantSchema, closesAt: instant, summary: bytes(29, 2_000_000) }),
});

export const NEED_KINDS = ['notice-failed', 'passcode-paused', 'not-opened', 'closing-unopened', 'not-for-me'] as const;
export const getDesk = endpoint({
  method: 'GET', path: '/api/desk', access: 'worker',
  query: z.object({ zone: z.string().max(60).optional() }),
  reply: z.object({
    needs: z.array(z.object({ kind: z.enum(NEED_KINDS), messageId: id, grant: grantSchema, summary: bytes(0, 2_000_000), sentAt: instant })),
    needsTotal: z.number().int(),
    open: z.array(z.object({ messageId: id, sentAt: instant, closesAt: instant, readers: z.number().int(), opened: z.number().int(), names: z.array(z.string()), summary: bytes(0, 2_000_000) })),
    openTotal: z.number().int(),
    accessTotal: z.number().int(),
    /** Accesses closing per calendar day (`yyyy-MM-dd`) in the asked zone, 30 days from today. */
    closingPerDay: z.array(z.object({ day: z.string(), count: z.number().int() })),
  }),
});
export type Desk = z.infer<(typeof getDesk)['reply'] & z.ZodType>;
