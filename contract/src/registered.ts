/**
 * Registered readers: outsiders with a password of their own, one list of all that is held for them, and a way to write
 * to who wrote to them.
 */
import { IDENTITY_CHECKS } from '@under-lock/core/handling/handling';
import { LANGUAGES } from '@under-lock/core/language';
import { z } from 'zod';
import { GRANT_STATES } from './access';
import { MAX_BLOB_BYTES } from './blob';
import { address, bytes, endpoint, id, instant, line, rawBytes } from './endpoint';
import { hashingSchema, publicKeySchema } from './keys';

const authKey = bytes(32, 32);
const password = z.object({ hashing: hashingSchema, authKey, wrappedSecret: bytes(40, 200) });
/**
 * Made in the reader's browser: the number, the password's halves, and the key pair whose private half is sealed under
 * the account's secret.
 */
const newAccount = z.object({ id, password, key: publicKeySchema.extend({ sealedPrivateKey: bytes(29, 4000) }) });
/** What the browser is called, in their list of devices. */
const device = line(100).optional();
const mailboxCode = z.string().regex(/^\d{6}$/);
const sent = z.object({ resendAt: instant });

export const registeredSessionSchema = z.object({
  reader: z.object({ id, address: z.string(), name: z.string() }),
  /** Of the notices to them. */
  language: z.enum(LANGUAGES),
  /** Since the password was reset by mail no identity check has been passed: it opens nothing on its own. */
  unproven: z.boolean(),
  hashing: hashingSchema,
  wrappedSecret: bytes(40, 200),
  sealedPrivateKey: bytes(29, 4000),
  key: publicKeySchema,
});
export type RegisteredSession = z.infer<typeof registeredSessionSchema>;

const grantParams = z.object({ id });
/** Proves the mailbox: six digits to the address of the access whose check was passed. */
export const sendMailboxCode = endpoint({
  method: 'POST',
  path: '/room/api/grants/:id/mailbox-code',
  access: 'reader',
  params: grantParams,
  reply: sent.extend({ address: z.string(), registered: z.boolean() }),
});
export const registerReader = endpoint({
  method: 'POST',
  path: '/room/api/grants/:id/account',
  access: 'reader',
  params: grantParams,
  body: newAccount.extend({ code: mailboxCode, device }),
  reply: registeredSessionSchema,
});
/**
 * Puts the access of a notice's link into the list: its share, sealed to the account. Needs the check of that access
 * passed, and the sign-in.
 */
export const keepGrant = endpoint({
  method: 'PUT',
  path: '/room/api/grants/:id/keep',
  access: 'registered',
  params: grantParams,
  body: z.object({ sealedShare: bytes(60, 2000), sealedSummary: bytes(29, 2000) }),
});

/** Answers alike whether or not anybody is registered under the address. */
export const startReaderSignIn = endpoint({
  method: 'POST',
  path: '/room/api/sign-in/start',
  access: 'anybody',
  body: z.object({ address }),
  reply: hashingSchema,
});
export const signInReader = endpoint({
  method: 'POST',
  path: '/room/api/sign-in',
  access: 'anybody',
  body: z.object({ address, authKey, device }),
  reply: registeredSessionSchema,
});
/** Nobody signed in is an answer, not an error. */
export const getReaderSession = endpoint({
  method: 'GET',
  path: '/room/api/account',
  access: 'anybody',
  reply: z.object({ officeName: z.string(), colour: z.string(), session: registeredSessionSchema.optional() }),
});
export const signOutReader = endpoint({ method: 'DELETE', path: '/room/api/account/session', access: 'registered' });
export const changeReaderPassword = endpoint({
  method: 'POST',
  path: '/room/api/account/password',
  access: 'registered',
  body: z.object({ currentAuthKey: authKey, password }),
});
export const forgetReader = endpoint({
  method: 'POST',
  path: '/room/api/account/forget',
  access: 'registered',
  body: z.object({ currentAuthKey: authKey }),
});
/** The language of the notices to them, whatever who writes to them has put down. */
export const setReaderLanguage = endpoint({
  method: 'PUT',
  path: '/room/api/account/language',
  access: 'registered',
  body: z.object({ language: z.enum(LANGUAGES) }),
});
/** Where they are signed in, this one first. */
export const listReaderDevices = endpoint({
  method: 'GET',
  path: '/room/api/account/devices',
  access: 'registered',
  reply: z.object({
    devices: z.array(z.object({ id, device: z.string(), createdAt: instant, lastSeenAt: instant, here: z.boolean() })),
  }),
});
export const endReaderDevice = endpoint({
  method: 'DELETE',
  path: '/room/api/account/devices/:id',
  access: 'registered',
  params: grantParams,
});

/** What is being written, sealed to the account. */
export const MOST_DRAFTS = 20;
export const MAX_DRAFT_BYTES = 440_000;
export const listReaderDrafts = endpoint({
  method: 'GET',
  path: '/room/api/drafts',
  access: 'registered',
  reply: z.object({ drafts: z.array(z.object({ id, updatedAt: instant, sealed: bytes(60, MAX_DRAFT_BYTES) })) }),
});
/** @see storage-full */
export const putReaderDraft = endpoint({
  method: 'PUT',
  path: '/room/api/drafts/:id',
  access: 'registered',
  maxBytes: 700_000,
  params: grantParams,
  body: z.object({ sealed: bytes(60, MAX_DRAFT_BYTES) }),
});
export const dropReaderDraft = endpoint({
  method: 'DELETE',
  path: '/room/api/drafts/:id',
  access: 'registered',
  params: grantParams,
});

/** A forgotten password. Answers alike whether or not anybody is registered. */
export const startReset = endpoint({
  method: 'POST',
  path: '/room/api/reset/code',
  access: 'anybody',
  body: z.object({ address }),
  reply: sent,
});
export const finishReset = endpoint({
  method: 'POST',
  path: '/room/api/reset',
  access: 'anybody',
  body: newAccount.extend({ address, code: mailboxCode, device }),
  reply: registeredSessionSchema,
});

export const HELD_SORTS = ['newest', 'oldest', 'closing'] as const;
export type HeldSort = (typeof HELD_SORTS)[number];
export const heldItemSchema = z.object({
  grantId: id,
  senderId: id,
  from: z.object({ name: z.string(), address: z.string() }),
  arrivedAt: instant,
  closesAt: instant,
  state: z.enum(GRANT_STATES),
  endedAt: instant.optional(),
  size: z.number().int(),
  unread: z.boolean(),
  reference: z.string(),
  sealed: z.object({ share: bytes(60, 2000), summary: bytes(29, 2000) }).optional(),
  /** It was sealed to a password that is forgotten: only giving it again helps. With the time the sender was asked. */
  lost: z.object({ askedAt: instant.optional() }).optional(),
});
export type HeldItem = z.infer<typeof heldItemSchema>;
export const listHeld = endpoint({
  method: 'GET',
  path: '/room/api/held',
  access: 'registered',
  query: z.object({
    sort: z.enum(HELD_SORTS).optional(),
    sender: id.optional(),
    after: z.string().max(100).optional(),
  }),
  reply: z.object({
    items: z.array(heldItemSchema),
    next: z.string().optional(),
    /** Unread, counted up to {@link UNREAD_SHOWN}. */
    unread: z.number().int(),
    /** Everybody of the office who ever wrote, and can be written to when they have a key. */
    senders: z.array(z.object({ id, name: z.string(), address: z.string(), key: publicKeySchema.optional() })),
    maxBytes: z.number(),
  }),
});
export const UNREAD_SHOWN = 100;
/**
 * The sign-in as an identity check: starts a reader's session for this access when the password is enough for it, else
 * its own check is asked.
 */
export const enterHeld = endpoint({
  method: 'POST',
  path: '/room/api/grants/:id/enter',
  access: 'registered',
  params: grantParams,
  reply: z.object({ identified: z.boolean(), sealedShare: bytes(60, 2000) }),
});
export const markHeld = endpoint({
  method: 'PUT',
  path: '/room/api/held/:id/unread',
  access: 'registered',
  params: grantParams,
  body: z.object({ unread: z.boolean() }),
});
/** Off the list; the access stays as it is. */
export const removeHeld = endpoint({
  method: 'DELETE',
  path: '/room/api/held/:id',
  access: 'registered',
  params: grantParams,
});
export const askToGiveAgain = endpoint({
  method: 'POST',
  path: '/room/api/held/ask-again',
  access: 'registered',
  maxBytes: 64 * 1024,
  body: z.object({ ids: z.array(id).min(1).max(1000) }),
  reply: z.object({ asked: z.number().int() }),
});

export const startWrittenBlob = endpoint({
  method: 'POST',
  path: '/room/api/written/blobs',
  access: 'registered',
  body: z.object({ id, size: z.number().int().min(1).max(MAX_BLOB_BYTES), to: id }),
  reply: z.object({ received: z.array(z.number().int()) }),
});
export const putWrittenPart = endpoint({
  method: 'PUT',
  path: '/room/api/written/blobs/:id/parts/:index',
  access: 'registered',
  params: z.object({ id, index: z.coerce.number().int().min(0).max(1000) }),
  body: rawBytes,
});
/** A new message to somebody who wrote to this reader. Sent once, whatever is repeated. */
export const sendWritten = endpoint({
  method: 'POST',
  path: '/room/api/written',
  access: 'registered',
  body: z.object({
    id,
    contentBlobId: id,
    to: id,
    grant: z.object({
      id,
      houseShare: bytes(32, 32),
      wrappedKey: bytes(61, 61),
      sealedShare: bytes(60, 2000),
      sealedSummary: bytes(29, 2000),
    }),
    ownKey: bytes(60, 2000),
    ownSummary: bytes(29, 2000),
  }),
  reply: z.object({ sentAt: instant, already: z.boolean() }),
});
export const listWritten = endpoint({
  method: 'GET',
  path: '/room/api/written',
  access: 'registered',
  reply: z.object({
    items: z.array(
      z.object({
        id,
        sentAt: instant,
        to: z.object({ name: z.string(), address: z.string() }),
        size: z.number().int(),
        ownKey: bytes(60, 2000),
        ownSummary: bytes(29, 2000),
        opened: z.boolean(),
      }),
    ),
  }),
});
export const getWrittenPart = endpoint({
  method: 'GET',
  path: '/room/api/written/:id/parts/:index',
  access: 'registered',
  params: z.object({ id, index: z.coerce.number().int().min(0).max(1000) }),
  reply: rawBytes,
});

/** Which of these addresses belong to registered readers, for the plan. */
export const findRegistered = endpoint({
  method: 'POST',
  path: '/api/registered',
  access: 'worker',
  byDoor: true,
  maxBytes: 400_000,
  body: z.object({ addresses: z.array(address).max(1000) }),
  reply: z.object({
    readers: z.array(
      z.object({
        id,
        address: z.string(),
        key: publicKeySchema,
        since: instant,
        knownBy: z.enum(IDENTITY_CHECKS).optional(),
      }),
    ),
  }),
});
export type Registered = z.infer<(typeof findRegistered)['reply'] & z.ZodType>['readers'][number];
