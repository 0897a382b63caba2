/**
 * Certificates: asking the office's authority, what the office trusts, evidence about revocation, the directory.
 * Private keys never come this way.
 */
import { z } from 'zod';
import { address, bytes, endpoint, id, instant, line } from './endpoint';

const MAX_CERTIFICATE = 256 * 1024;
const certificateBytes = bytes(50, MAX_CERTIFICATE);
const fingerprint = z.string().regex(/^[0-9a-f]{64}$/, 'a SHA-256 fingerprint in lower-case hex');
const url = z.string().max(2000);

/** Why a certificate is revoked, as the worker may choose it (RFC 5280 §5.3.1). */
export const REVOKE_REASONS = [
  'keyCompromise',
  'superseded',
  'affiliationChanged',
  'cessationOfOperation',
  'unspecified',
] as const;
export type RevokeReason = (typeof REVOKE_REASONS)[number];

/**
 * Hands a PKCS#10 request on to the office's authority. The addresses in it must be the account's own. @see
 * invalid-input when they are not or it is no request; unreachable when the authority doesn't answer
 */
export const requestCertificate = endpoint({
  method: 'POST',
  path: '/api/certificates',
  access: 'worker',
  maxBytes: 32 * 1024,
  body: z.object({ request: bytes(50, 16_384), purpose: z.enum(['sign', 'encrypt', 'both']) }),
  reply: z.object({ certificate: certificateBytes, chain: z.array(certificateBytes) }),
});
/** Asks the authority to revoke a certificate it issued to this account. @see conflict when it is revoked already */
export const revokeCertificate = endpoint({
  method: 'POST',
  path: '/api/certificates/revoke',
  access: 'worker',
  body: z.object({ fingerprint, reason: z.enum(REVOKE_REASONS) }),
});

const issuedSchema = z.object({
  fingerprint,
  certificate: certificateBytes,
  address: z.string(),
  notAfter: instant,
  revokedAt: instant.optional(),
});
/** What the office's authority has issued to this account. */
export const listIssued = endpoint({
  method: 'GET',
  path: '/api/certificates',
  access: 'worker',
  reply: z.object({ certificates: z.array(issuedSchema) }),
});

const anchorSchema = z.object({ id, certificate: certificateBytes, addedAt: instant, addedBy: z.string().optional() });
export type Anchor = z.infer<typeof anchorSchema>;
/** The authorities the office trusts, and certificates of authorities met on the way to them. */
export const getTrust = endpoint({
  method: 'GET',
  path: '/api/trust',
  access: 'worker',
  byDoor: true,
  reply: z.object({ anchors: z.array(anchorSchema) }),
});
export const addAnchor = endpoint({
  method: 'POST',
  path: '/api/trust',
  access: 'administrator',
  maxBytes: 400_000,
  body: z.object({ id, certificate: certificateBytes }),
});
export const removeAnchor = endpoint({
  method: 'DELETE',
  path: '/api/trust/:id',
  access: 'administrator',
  params: z.object({ id }),
});

/**
 * Fetches evidence for a browser: revocation lists, OCSP answers, certificates of issuers, each kept until its next
 * update. The server judges none of it; what can't be had is named.
 */
export const getEvidence = endpoint({
  method: 'POST',
  path: '/api/evidence',
  access: 'worker',
  byDoor: true,
  maxBytes: 600_000,
  body: z.object({
    lists: z.array(url).max(50),
    issuers: z.array(url).max(20),
    questions: z.array(z.object({ url, request: bytes(20, 4096) })).max(50),
  }),
  reply: z.object({
    lists: z.array(bytes(0, 24 * 1024 * 1024)),
    issuers: z.array(bytes(0, MAX_CERTIFICATE)),
    answers: z.array(bytes(0, MAX_CERTIFICATE)),
    failed: z.array(z.string()),
  }),
});

const entrySchema = z.object({
  name: z.string(),
  organization: z.string(),
  address: z.string(),
  certificates: z.array(certificateBytes),
});
/** Looks somebody up in the directory the office uses, by address or by name. */
export const searchDirectory = endpoint({
  method: 'GET',
  path: '/api/directory',
  access: 'worker',
  byDoor: true,
  query: z.object({ address: address.optional(), name: line(100).optional() }),
  reply: z.object({ entries: z.array(entrySchema) }),
});
