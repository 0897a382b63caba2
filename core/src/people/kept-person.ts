/** A person as they lie sealed in the vault. Bytes as base64url. */
import { IDENTITY_CHECKS } from '../handling/handling';
import { fileWaySchema } from '../ways/file-way';
import { choseSchema } from '../ways/chose';
import { OPENPGP_FORMS } from '../ways/mail-form';
import { LANGUAGES } from '../language';
import { z } from 'zod';

const comparedSchema = z.object({ at: z.string(), by: z.string() });

const personCertificateSchema = z.object({
  certificate: z.string(),
  chain: z.array(z.string()).optional(),
  addedAt: z.string(),
  from: z.enum(['file', 'directory', 'mail', 'choice']),
  /** Who compared the fingerprint with them, and when. */
  checked: comparedSchema.optional(),
  /** What their program reads, as their signed mail said. */
  capabilities: z.array(z.string()).optional(),
  /** When another one took its place. */
  replacedAt: z.string().optional(),
  /** When it runs out, so that a list can say so without reading it. */
  notAfter: z.string().optional(),
});
export type PersonCertificate = z.infer<typeof personCertificateSchema>;

export const KEY_ORIGINS = ['file', 'text', 'mail', 'autocrypt', 'wkd', 'directory', 'office', 'choice'] as const;
export type KeyOrigin = (typeof KEY_ORIGINS)[number];

const personKeySchema = z.object({
  /** Binary, with everything that was ever learnt of it. */
  key: z.string(),
  fingerprint: z.string(),
  /** Of its parts, 16 hex digits each: what a signature names. */
  keyIds: z.array(z.string()),
  addedAt: z.string(),
  from: z.enum(KEY_ORIGINS),
  checked: comparedSchema.optional(),
  replacedAt: z.string().optional(),
  notAfter: z.string().optional(),
  /** When it was last looked up anew. */
  refreshedAt: z.string().optional(),
});
export type PersonKey = z.infer<typeof personKeySchema>;

export const personSchema = z.object({
  name: z.string(),
  address: z.string(),
  phone: z.string().optional(),
  secondAddress: z.string().optional(),
  check: z.enum(IDENTITY_CHECKS).optional(),
  /** Of the notices to them; English when not known. */
  language: z.enum(LANGUAGES).optional(),
  /** The newest first; the old ones stay, to tell a change. */
  certificates: z.array(personCertificateSchema).optional(),
  /** OpenPGP keys, likewise. */
  keys: z.array(personKeySchema).optional(),
  /** How their mail program takes OpenPGP. */ mailForm: z.enum(OPENPGP_FORMS).optional(),
  /** How they get locked files, when that is not the office's usual way. */
  fileWay: fileWaySchema.optional(),
  /** How they chose to be written to. */
  chose: choseSchema.optional(),
  /** The lock the worker chose for them last, where there was a choice. */
  lock: z.string().optional(),
  /** When they were last asked for a signed message, and by which message of ours. */
  asked: z.object({ at: z.string(), messageId: z.string() }).optional(),
});
export type Person = z.infer<typeof personSchema>;
