/**
 * What a reader writes from an access: replies, and passing on. Apart from the room's first page, which asks for none
 * of it.
 */
import { z } from 'zod';
import { channelSchema, GRANT_STATES } from './access';
import { MAX_BLOB_BYTES } from './blob';
import { address, bytes, endpoint, id, instant, line, rawBytes } from './endpoint';
import { publicKeySchema } from './keys';

const params = z.object({ id });

/**
 * Whoever a reply can go to: the sender always first; the others when the handling allows a reply to all. Their
 * recipients are fixed here, not by the reader.
 */
export const replyTargetSchema = z.object({
  /** The access the reply is made beside; undefined for the sender's own account. */
  grantId: id.optional(),
  name: z.string(),
  address: z.string(),
  /** An account of the office: the share is sealed to it, no notice is needed. */
  account: z.object({ id, key: publicKeySchema }).optional(),
  /** A registered reader: likewise, and they are told by a notice. */
  registered: z.object({ id, key: publicKeySchema }).optional(),
});
export type ReplyTarget = z.infer<typeof replyTargetSchema>;
export const listReplyTargets = endpoint({
  method: 'GET',
  path: '/room/api/grants/:id/reply-targets',
  access: 'reader',
  params,
  reply: z.object({
    sender: replyTargetSchema,
    /** Who else reads it and can be reached by a reply to all; empty when that is not allowed. */
    others: z.array(replyTargetSchema),
    /** Named, and not reachable by a reader's reply: they are known by a question only. */
    unreachable: z.array(z.object({ name: z.string(), address: z.string() })),
    maxBytes: z.number(),
  }),
});
export const startReplyBlob = endpoint({
  method: 'POST',
  path: '/room/api/grants/:id/blobs',
  access: 'reader',
  params,
  body: z.object({ id, size: z.number().int().min(1).max(MAX_BLOB_BYTES) }),
  reply: z.object({ received: z.array(z.number().int()) }),
});
export const putReplyPart = endpoint({
  method: 'PUT',
  path: '/room/api/grants/:id/blobs/:blobId/parts/:index',
  access: 'reader',
  params: z.object({ id, blobId: id, index: z.coerce.number().int().min(0).max(1000) }),
  body: rawBytes,
});
const replyGrantSchema = z.object({
  id,
  /** As in the targets: which access this is made beside. */
  besideGrantId: id.optional(),
  houseShare: bytes(32, 32),
  wrappedKey: bytes(61, 61),
  reader: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('link'), readerShare: bytes(32, 32) }),
    z.object({
      kind: z.literal('account'),
      accountId: id,
      sealedShare: bytes(60, 2000),
      sealedSummary: bytes(29, 2000),
    }),
    z.object({
      kind: z.literal('registered'),
      readerId: id,
      sealedShare: bytes(60, 2000),
      sealedSummary: bytes(29, 2000),
    }),
  ]),
});
export type ReplyGrant = z.infer<typeof replyGrantSchema>;
/** Sent once, whatever is repeated: `id` is the reply's number. */
export const sendReply = endpoint({
  method: 'POST',
  path: '/room/api/grants/:id/replies',
  access: 'reader',
  maxBytes: 7_000_000,
  params,
  body: z.object({
    id,
    contentBlobId: id,
    toAll: z.boolean(),
    grants: z.array(replyGrantSchema).min(1).max(1000),
    /** The reply's key for its own writer, sealed under a key from their share. */ ownKey: bytes(61, 61),
  }),
  reply: z.object({ sentAt: instant, already: z.boolean() }),
});
/**
 * Passing on: one more person, under this access and never longer than it. The reader's browser splits the key anew.
 */
export const forwardRoom = endpoint({
  method: 'POST',
  path: '/room/api/grants/:id/forwards',
  access: 'reader',
  params,
  body: z.object({
    id,
    address,
    name: line(200),
    houseShare: bytes(32, 32),
    wrappedKey: bytes(61, 61),
    readerShare: bytes(32, 32),
    channel: channelSchema,
  }),
});
/** Whom this access was passed on to. */
export const listForwards = endpoint({
  method: 'GET',
  path: '/room/api/grants/:id/forwards',
  access: 'reader',
  params,
  reply: z.object({
    forwards: z.array(z.object({ name: z.string(), address: z.string(), at: instant, state: z.enum(GRANT_STATES) })),
  }),
});
/** What was written from this access, to be read again while it is held. */
export const listReplies = endpoint({
  method: 'GET',
  path: '/room/api/grants/:id/replies',
  access: 'reader',
  params,
  reply: z.object({
    replies: z.array(
      z.object({ id, sentAt: instant, toAll: z.boolean(), size: z.number().int(), ownKey: bytes(61, 61) }),
    ),
  }),
});
export const getReplyPart = endpoint({
  method: 'GET',
  path: '/room/api/grants/:id/replies/:replyId/parts/:index',
  access: 'reader',
  params: z.object({ id, replyId: id, index: z.coerce.number().int().min(0).max(1000) }),
  reply: rawBytes,
});
