/** What a second person decides by: sealed by the sender's browser for everybody who may let the message go. */
import { z } from 'zod';
import { openFrom, type PublicKey, sealTo } from '../account/key-pair';
import { type Bytes, fromBase64Url, fromUtf8, utf8 } from '../bytes';
import { handlingTermsSchema, WAYS_KNOWN } from '../handling/handling';
import { closingSchema } from '../handling/closing-choice';
import { LOCKS } from '../locks/index';
import { type KeptKey } from '../outgoing/draft';
import { RECIPIENT_ROLES } from '../people/role';
import { PARTS } from '../scan/files/piece';
import { CONFIDENCES, KINDS } from '../scan/finding';
import { hkdf, seal, sealingKey, SealError, unseal } from '../sealing';

/** Nobody reads through more. */
export const MOST_SEEN = 200;
/** In characters, of the note to whoever releases and of the sentence a message is sent back with. */
export const MAX_WORDS = 1_000;

/** In characters, of names; and how many names there are at most. */
export const LONGEST_NAME = 400;
export const MOST_UNREAD = 200;
/** Files within one another. */
export const MOST_DEEP = 20;
const name = z.string().max(LONGEST_NAME);

const place = z.object({
  files: z.array(name).max(MOST_DEEP),
  page: z.number().optional(),
  sheet: z.string().max(200).optional(),
  part: z.enum(PARTS).optional(),
  cell: z.string().max(40).optional(),
  line: z.number().optional(),
});

const seenSchema = z.object({
  id: z.string().max(100),
  kind: z.enum(KINDS),
  of: z.string().max(64),
  confidence: z.enum(CONFIDENCES),
  count: z.number(),
  where: z.discriminatedUnion('in', [
    z.object({ in: z.literal('subject') }),
    z.object({ in: z.literal('text') }),
    z.object({ in: z.literal('name'), file: name }),
    place.extend({ in: z.literal('file') }),
  ]),
  around: z.object({ before: z.string().max(400), value: z.string().max(400), after: z.string().max(400) }),
});

export const paperSchema = z.object({
  recipients: z
    .array(
      z.object({
        name: z.string(),
        address: z.string(),
        role: z.enum(RECIPIENT_ROLES),
        lock: z.enum(LOCKS),
        check: z.object({ kind: z.enum(WAYS_KNOWN), hint: z.string().optional() }).optional(),
      }),
    )
    .max(2_000),
  terms: handlingTermsSchema,
  presetId: z.string().max(64).optional(),
  /** What its closing date comes from, where it is counted from when it leaves. */
  closing: closingSchema.optional(),
  /** ISO 8601: when it would close if it left now, and when it is to leave where that was chosen. */
  closesAt: z.string(),
  leavesAt: z.string().optional(),
  reference: z.string().max(200),
  /** What was seen in it and its writer has not called something else. */
  seen: z.array(seenSchema).max(MOST_SEEN),
  /** There is more. */
  more: z.boolean(),
  /** Files that could not be looked into, or not all of them. */
  unread: z.array(name).max(MOST_UNREAD),
  confirmed: z.array(z.string().max(300)).max(100),
  reason: z.string().max(300).optional(),
  /** To whoever releases it. */
  note: z.string().max(MAX_WORDS).optional(),
});
export type Paper = z.infer<typeof paperSchema>;

export interface SealedForRelease {
  paper: Bytes;
  keys: { accountId: string; sealedKey: Bytes }[];
}

const keyContext = (messageId: string): string => `under-lock/release/key/v1/${messageId}`;
const paperContext = (messageId: string): string => `under-lock/release/paper/v1/${messageId}`;
const sentenceContext = (messageId: string): string => `under-lock/release/sentence/v1/${messageId}`;
const paperKey = async (key: Bytes): Promise<CryptoKey> =>
  sealingKey(await hkdf(key, 'under-lock/release/paper/v1', 32));

/** The content's key for each who may release, and under it the paper. */
export async function sealForRelease(
  messageId: string,
  { key: kept }: KeptKey,
  paper: Paper,
  releasers: readonly { id: string; key: PublicKey }[],
): Promise<SealedForRelease> {
  const key = fromBase64Url(kept);
  return {
    paper: await seal(await paperKey(key), utf8(JSON.stringify(paper)), paperContext(messageId)),
    keys: await Promise.all(
      releasers.map(async (one) => ({
        accountId: one.id,
        sealedKey: await sealTo(one.key, key, keyContext(messageId)),
      })),
    ),
  };
}

/** The content's key. @throws SealError */
export const openReleaseKey = (privateKey: Bytes, sealedKey: Uint8Array, messageId: string): Promise<Bytes> =>
  openFrom(privateKey, sealedKey, keyContext(messageId));

/** @throws SealError */
export async function openPaper(sealed: Uint8Array, key: Bytes, messageId: string): Promise<Paper> {
  const plain = await unseal(await paperKey(key), sealed, paperContext(messageId));
  const parsed = paperSchema.safeParse(JSON.parse(fromUtf8(plain)));
  if (!parsed.success) throw new SealError('malformed');
  return parsed.data;
}

/** Why it is sent back, for its sender alone. */
export const sealSentence = (sender: PublicKey, sentence: string, messageId: string): Promise<Bytes> =>
  sealTo(sender, utf8(sentence.slice(0, MAX_WORDS)), sentenceContext(messageId));

/** @throws SealError */
export const openSentence = async (privateKey: Bytes, sealed: Uint8Array, messageId: string): Promise<string> =>
  fromUtf8(await openFrom(privateKey, sealed, sentenceContext(messageId)));
