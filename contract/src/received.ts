/** Mail › Received: messages held for an account, and mail that came in; opened under its own sign-in. */
import { RECIPIENT_ROLES } from '@under-lock/core/people/role';
import { z } from 'zod';
import { bytes, endpoint, id, ids, instant, rawBytes } from './endpoint';
import { MAX_SEALED_WORDS } from '@under-lock/core/search/words';
import { handlingTermsSchema } from '@under-lock/core/handling/handling';
import { confirmSchema, handlingSchema, USES } from './access';

export const receivedSchema = z.object({
  kind: z.literal('held'),
  grantId: id,
  messageId: id,
  conversationId: id,
  from: z.object({ name: z.string(), address: z.string() }),
  arrivedAt: instant,
  closesAt: instant,
  state: z.enum(['held', 'closed', 'withdrawn']),
  endedAt: instant.optional(),
  size: z.number().int(),
  unread: z.boolean(),
  reference: z.string(),
  /** The reader's share and, sealed under it, what the list may show; gone when the access has ended. */
  sealed: z.object({ share: bytes(60, 2000), summary: bytes(29, 2000) }).optional(),
});
export type Received = z.infer<typeof receivedSchema>;

/** Mail that came by SMTP, sealed to the account at the door: who and what is under its key only. */
export const incomingMailSchema = z.object({
  kind: z.literal('mail'),
  id,
  conversationId: id,
  arrivedAt: instant,
  size: z.number().int(),
  unread: z.boolean(),
  /** Its content, as a blob of the account's. */
  blobId: id,
  sealedKey: bytes(60, 2000),
  sealedSummary: bytes(29, 4000),
  /** Our request for a signed message that this answers. */
  requestId: id.optional(),
  /** It answers the mail that told of a message of ours, and so came past the reading room. */
  answersNotice: z.boolean(),
  /** It answers something of ours, and a key or a certificate seems to come along. */
  bringsMeans: z.boolean(),
  /** It was left in a mail slot: sealed to the account by the server, and under the mail's key by who left it. */
  slot: z.object({ sealedProof: bytes(60, 4000), sealedAnswer: bytes(29, 1000) }).optional(),
});
export type IncomingMail = z.infer<typeof incomingMailSchema>;

/** The number of what was received, whichever of the two it is. */
export const receivedId = (one: Received | IncomingMail): string => (one.kind === 'held' ? one.grantId : one.id);

export const listReceived = endpoint({
  method: 'GET',
  path: '/api/received',
  access: 'worker',
  versioned: true,
  /** With `ids` only these, newest first; no page follows. */
  query: z.object({ before: z.string().max(100).optional(), ids: ids.optional() }),
  reply: z.object({
    messages: z.array(z.discriminatedUnion('kind', [receivedSchema, incomingMailSchema])),
    unread: z.number().int(),
    next: z.string().optional(),
  }),
});
/** How much is unread, and when something sent was last opened by somebody for the first time. */
export const getNews = endpoint({
  method: 'GET',
  path: '/api/news',
  access: 'worker',
  versioned: true,
  reply: z.object({ unread: z.number().int(), openedAt: instant.optional() }),
});

export const getReceived = endpoint({
  method: 'GET',
  path: '/api/received/:id',
  access: 'worker',
  versioned: true,
  params: z.object({ id }),
  reply: receivedSchema.extend({
    /** Written by somebody outside, from an access of theirs. */
    fromReader: z.boolean(),
    /** As it holds for this account. */
    handling: handlingSchema,
    /** What an answer to it, or whoever it is passed on to, is asked at the least. */
    keeps: handlingTermsSchema,
    people: z.array(z.object({ name: z.string(), address: z.string(), role: z.enum(RECIPIENT_ROLES) })),
  }),
});
/** Releases the house's half to the account it was sealed to, and counts as an opening. */
export const openReceived = endpoint({
  method: 'POST',
  path: '/api/received/:id/open',
  access: 'worker',
  params: z.object({ id }),
  reply: z.object({
    messageId: id,
    houseShare: bytes(32, 32),
    wrappedKey: bytes(61, 61),
    sealedShare: bytes(60, 2000),
    size: z.number().int(),
    handling: handlingSchema,
    confirm: confirmSchema,
  }),
});
export const confirmReceived = endpoint({
  method: 'POST',
  path: '/api/received/:id/confirm',
  access: 'worker',
  params: z.object({ id }),
  reply: z.object({ at: instant }),
});
export const getReceivedPart = endpoint({
  method: 'GET',
  path: '/api/received/:id/parts/:index',
  access: 'worker',
  params: z.object({ id, index: z.coerce.number().int().min(0).max(1000) }),
  reply: rawBytes,
});
export const markReceived = endpoint({
  method: 'PUT',
  path: '/api/received/:id/unread',
  access: 'worker',
  params: z.object({ id }),
  body: z.object({ unread: z.boolean() }),
});
/** Saving and printing are asked for, so that the sender can see them; refused when the handling forbids them. */
export const recordReceivedUse = endpoint({
  method: 'POST',
  path: '/api/received/:id/use',
  access: 'worker',
  params: z.object({ id }),
  body: z.object({ what: z.enum(USES) }),
});

export const getIncoming = endpoint({
  method: 'GET',
  path: '/api/incoming/:id',
  access: 'worker',
  params: z.object({ id }),
  reply: incomingMailSchema,
});
/** Read or unread; with a summary, what the list shows from now on; with words, what it is found by. */
export const putIncoming = endpoint({
  method: 'PUT',
  path: '/api/incoming/:id',
  access: 'worker',
  params: z.object({ id }),
  body: z.object({
    unread: z.boolean(),
    sealedSummary: bytes(29, 4000).optional(),
    sealedWords: bytes(29, MAX_SEALED_WORDS).optional(),
  }),
});
/** Out of sight; for an hour it can be restored. */
export const deleteIncoming = endpoint({
  method: 'DELETE',
  path: '/api/incoming/:id',
  access: 'worker',
  params: z.object({ id }),
});
export const restoreIncoming = endpoint({
  method: 'POST',
  path: '/api/incoming/:id/restore',
  access: 'worker',
  params: z.object({ id }),
});
