/**
 * Mail programs (docs/decisions/31): a worker's device passwords, what the door for mail programs asks and lays down, and
 * what waits for its writer.
 */
import { MAX_HANDED_KEY_BYTES } from '@under-lock/core/submission/handed';
import { MAX_SIGNER_BYTES, SIGNER_KINDS } from '@under-lock/core/submission/signer';
import { MOST_SENTENCE } from '@under-lock/core/submission/why';
import { z } from 'zod';
import { accountSchema } from './account';
import { address, bytes, endpoint, id, instant, line } from './endpoint';
import { publicKeySchema } from './keys';

/** A name, and what it is used for: nobody has more programs. */
export const MOST_DEVICES = 20;
/** Of mail that waits for its writer, and of what the door has not dealt with. */
export const MOST_HANDED = 500;

const deviceSchema = z.object({ id, name: z.string(), madeAt: instant, lastUsedAt: instant.optional() });
export type Device = z.infer<typeof deviceSchema>;

/** A mail that the door took from one of their programs. */
const seenSchema = z.object({
  /** Of the message, where it has become one. */
  id,
  at: instant,
  by: z.string(),
  size: z.number().int(),
  state: z.enum(['taken', 'waits', 'done']),
});
export type SeenAtDoor = z.infer<typeof seenSchema>;
export const MOST_SEEN = 5;

const signerKind = z.enum(SIGNER_KINDS);
const signerSchema = z.object({
  kind: signerKind,
  fingerprint: z.string(),
  since: instant,
  /** Sealed to the key that the door has now; otherwise it can't use it. */
  isCurrent: z.boolean(),
});
export type SignerHere = z.infer<typeof signerSchema>;
/** What the worker has let the door sign with, and the key that such things are sealed to. */
export const listSigners = endpoint({
  method: 'GET',
  path: '/api/mail-programs/signers',
  access: 'worker',
  reply: z.object({ door: publicKeySchema.optional(), signers: z.array(signerSchema) }),
});
/** `publicKey`: the door's, to which it is sealed. @see conflict when the door has another one by now */
export const putSigner = endpoint({
  method: 'PUT',
  path: '/api/mail-programs/signers/:kind',
  access: 'worker',
  maxBytes: 2 * MAX_SIGNER_BYTES,
  params: z.object({ kind: signerKind }),
  body: z.object({
    publicKey: publicKeySchema.shape.publicKey,
    sealed: bytes(60, MAX_SIGNER_BYTES),
    fingerprint: line(64),
  }),
});
export const dropSigner = endpoint({
  method: 'DELETE',
  path: '/api/mail-programs/signers/:kind',
  access: 'worker',
  params: z.object({ kind: signerKind }),
});
export const listSignersForDoor = endpoint({
  method: 'GET',
  path: '/api/submission/signers',
  access: 'worker',
  byDoor: true,
  reply: z.object({ signers: z.array(z.object({ kind: signerKind, sealed: bytes(60, MAX_SIGNER_BYTES) })) }),
});

/** When the door tells a worker by mail what their mail programs sent; what waits for them, it tells in any case. */
export const TOLD_LEFT = ['always', 'changed', 'daily', 'never'] as const;
export type ToldLeft = (typeof TOLD_LEFT)[number];

const portSchema = z.number().int();
export const listDevices = endpoint({
  method: 'GET',
  path: '/api/mail-programs',
  access: 'worker',
  reply: z.object({
    devices: z.array(deviceSchema),
    /** What is typed into a mail program; absent where the office has no such door, or it has not been seen yet. */
    door: z.object({ host: z.string(), startTls: portSchema, tls: portSchema }).optional(),
    /** The latest mails, newest first. */
    seen: z.array(seenSchema).max(MOST_SEEN),
    /** When somebody last typed a wrong password in their name. */
    refusedAt: instant.optional(),
    toldLeft: z.enum(TOLD_LEFT),
  }),
});
/** The password is shown once. @see conflict with too many */
export const addDevice = endpoint({
  method: 'POST',
  path: '/api/mail-programs',
  access: 'worker',
  body: z.object({ name: line(60).min(1) }),
  reply: z.object({ id, password: z.string() }),
});
export const endDevice = endpoint({
  method: 'DELETE',
  path: '/api/mail-programs/:id',
  access: 'worker',
  params: z.object({ id }),
});

const label = bytes(60, MAX_HANDED_KEY_BYTES);
const handedSchema = z.object({
  id,
  at: instant,
  /** The name of the device it came by. */
  by: z.string(),
  size: z.number().int(),
  blobId: id,
  /** Its key and its recipients, sealed to the account. */
  label,
  /** Why it waits, sealed to the account; absent while the door is still at it. */
  why: bytes(60, 20_000).optional(),
});
export type Handed = z.infer<typeof handedSchema>;

/** What waits for the worker who handed it in. */
export const listHanded = endpoint({
  method: 'GET',
  path: '/api/handed-in',
  access: 'worker',
  versioned: true,
  reply: z.object({ mails: z.array(handedSchema) }),
});
/** A draft was made of it, or nobody wants it. */
export const dropHanded = endpoint({
  method: 'DELETE',
  path: '/api/handed-in/:id',
  access: 'worker',
  params: z.object({ id }),
});

/** The door says who it is and where it stands; what it needs to know before anybody calls, it is told. */
export const openDoor = endpoint({
  method: 'PUT',
  path: '/api/submission/door',
  access: 'door',
  body: publicKeySchema.extend({ host: line(255), startTls: portSchema, tls: portSchema }),
  reply: z.object({ maxBytes: z.number().int(), maxRecipients: z.number().int() }),
});
/** Alike whether there is no such account or the password is another. @see wrong-password, too-many-tries */
export const signInDevice = endpoint({
  method: 'POST',
  path: '/api/submission/sign-in',
  access: 'door',
  body: z.object({ address, password: z.string().max(100), place: line(100) }),
  reply: z.object({ deviceId: id }),
});
/** Whose device it is, as it is now. @see not-signed-in when it has ended */
export const getOwner = endpoint({
  method: 'GET',
  path: '/api/submission/owner',
  access: 'worker',
  byDoor: true,
  reply: z.object({ account: accountSchema, key: publicKeySchema }),
});
/** Taken, and not dealt with: what the door goes on with when it comes back. */
export const listUnfinished = endpoint({
  method: 'GET',
  path: '/api/submission/mails',
  access: 'door',
  reply: z.object({ mails: z.array(z.object({ id, deviceId: id, blobId: id, label })) }),
});
/**
 * Lays a mail down that lies sealed under `blobId`. `id` is the number of the message that becomes of it; another one
 * where the same octets are here already. @see storage-full, upload-incomplete
 */
export const handIn = endpoint({
  method: 'POST',
  path: '/api/submission/mails/:id',
  access: 'worker',
  byDoor: true,
  maxBytes: 3 * MAX_HANDED_KEY_BYTES,
  params: z.object({ id }),
  body: z.object({ blobId: id, sha256: bytes(32, 32), size: z.number().int().min(1), account: label, door: label }),
  reply: z.object({ already: z.boolean() }),
});
/**
 * It has left. Its writer is told of it as they chose, and in any case where they have to tell somebody a password.
 * `summary`: once some of those were told, in place of the one it was handed over with. @see not-found
 */
export const reportLeft = endpoint({
  method: 'POST',
  path: '/api/submission/mails/:id/left',
  access: 'worker',
  byDoor: true,
  maxBytes: 3_000_000,
  params: z.object({ id }),
  body: z.object({
    toTell: z.array(address).max(1_000),
    /** Nothing was changed about it. */
    asWritten: z.boolean(),
    summary: bytes(60, 2_000_000).optional(),
  }),
});
export const setToldLeft = endpoint({
  method: 'PUT',
  path: '/api/account/told-left',
  access: 'worker',
  body: z.object({ when: z.enum(TOLD_LEFT) }),
});
/** It stays with its writer, who is told why: sealed for their browser, and in one sentence by mail. */
export const letWait = endpoint({
  method: 'POST',
  path: '/api/submission/mails/:id/wait',
  access: 'worker',
  byDoor: true,
  maxBytes: 64 * 1024,
  params: z.object({ id }),
  body: z.object({ why: bytes(60, 20_000), sentence: line(MOST_SENTENCE) }),
});
