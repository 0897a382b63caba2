/**
 * OpenPGP keys: looked up for browsers, published for the office's people, vouched for. Secret keys never come this
 * way.
 */
import { z } from 'zod';
import { address, bytes, endpoint, id, instant } from './endpoint';

export const MAX_KEY = 512 * 1024;
const keyBytes = bytes(20, MAX_KEY);
/** Of version 4 or 6, lower-case hex. */
const fingerprint = z.string().regex(/^(?:[0-9a-f]{40}|[0-9a-f]{64})$/, 'a fingerprint in lower-case hex');

export const KEY_SOURCES = ['office', 'wkd', 'directory'] as const;
export type KeySource = (typeof KEY_SOURCES)[number];

/**
 * Looks keys up where they are published: by address with the person's own domain first (Web Key Directory), then in
 * the key directory the office uses; by fingerprint in the directory.
 * The files come as they are, for the browser to read and judge. `failed` are places that didn't answer.
 */
export const findKeys = endpoint({
  method: 'POST',
  path: '/api/openpgp/find',
  access: 'worker',
  byDoor: true,
  maxBytes: 32 * 1024,
  body: z.object({
    wanted: z
      .array(z.object({ address: address.optional(), fingerprint: fingerprint.optional() }))
      .min(1)
      .max(50),
  }),
  reply: z.object({
    found: z.array(
      z.object({
        /** Which of those wanted. */ index: z.number().int(),
        source: z.enum(KEY_SOURCES),
        key: bytes(0, MAX_KEY),
      }),
    ),
    failed: z.array(z.string()),
  }),
});

const publishedSchema = z.object({ fingerprint, key: keyBytes, publishedAt: instant });
/** What this account has published, with what was added to it since: certifications. */
export const listPublished = endpoint({
  method: 'GET',
  path: '/api/openpgp/published',
  access: 'worker',
  reply: z.object({ keys: z.array(publishedSchema) }),
});
/**
 * Publishes a key, or what has changed about it. Every address on it must be the account's own. @see invalid-input when
 * one is not
 */
export const publishKey = endpoint({
  method: 'PUT',
  path: '/api/openpgp/published/:fingerprint',
  access: 'worker',
  maxBytes: 750_000,
  params: z.object({ fingerprint }),
  body: z.object({ key: keyBytes }),
});
/**
 * Takes it out of the office's directory. A revoked one stays, so that others hear of it. @see conflict when it is
 * revoked
 */
export const unpublishKey = endpoint({
  method: 'DELETE',
  path: '/api/openpgp/published/:fingerprint',
  access: 'worker',
  params: z.object({ fingerprint }),
});

/** Everything the office's people have published, for who vouches for it. */
export const listStaffKeys = endpoint({
  method: 'GET',
  path: '/api/openpgp/staff',
  access: 'administrator',
  reply: z.object({ keys: z.array(publishedSchema.extend({ name: z.string(), address: z.string() })) }),
});
/** Adds certifications to a published key, and nothing else: what it holds of its own stays its owner's. */
export const addCertifications = endpoint({
  method: 'POST',
  path: '/api/openpgp/staff/:fingerprint',
  access: 'administrator',
  maxBytes: 750_000,
  params: z.object({ fingerprint }),
  body: z.object({ key: keyBytes }),
});

const trustedSchema = z.object({ id, key: keyBytes, addedAt: instant, addedBy: z.string().optional() });
export type TrustedKey = z.infer<typeof trustedSchema>;
/** Keys whose word the office takes for whose a key is. */
export const getKeyTrust = endpoint({
  method: 'GET',
  path: '/api/openpgp/trust',
  access: 'worker',
  byDoor: true,
  reply: z.object({ keys: z.array(trustedSchema) }),
});
export const addTrustedKey = endpoint({
  method: 'POST',
  path: '/api/openpgp/trust',
  access: 'administrator',
  maxBytes: 750_000,
  body: z.object({ id, key: keyBytes }),
});
export const removeTrustedKey = endpoint({
  method: 'DELETE',
  path: '/api/openpgp/trust/:id',
  access: 'administrator',
  params: z.object({ id }),
});
