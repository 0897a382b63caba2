/**
 * Mail that comes to one of our addresses: sealed to its account the moment it is here. A key of its own opens the
 * mail (as content like the room's), the key is sealed to the account's
 * public key, and what a list may show lies under the same key.
 */
import { z } from 'zod';
import { openFrom, type PublicKey, sealTo } from '../account/key-pair';
import { type Bytes, concat, fromUtf8, randomBytes, utf8 } from '../bytes';
import { hkdf, seal, sealingKey, SealError, unseal } from '../sealing';
import { type Entity, EntityError, fieldNamed, readEntity } from '../message/entity';
import { messageIdsIn, MessageReadError, readHeadFields, readMessage } from '../message/read';
import { defined } from '../defined';
import { originSchema } from './origin';
import { type Words, wordsOf, wordsSchema } from '../search/words';
import { readParameters } from '../message/parameters';

/** What it says outside of how it is locked; whether that is true is seen when it is opened. */
const OUTER_LOCKS = ['none', 'signed', 'encrypted'] as const;
export type OuterLock = (typeof OUTER_LOCKS)[number];

const summarySchema = z.object({
  subject: z.string(),
  from: z.object({ name: z.string(), address: z.string() }),
  lock: z.enum(OUTER_LOCKS),
  /** Locked files among its files, and when each was first opened. */ filesOpened: z
    .array(z.object({ name: z.string().max(200), at: z.string().max(30) }))
    .max(10)
    .optional(),
  /** Judged where it came in; nothing for what came from before, or in another way. */
  origin: originSchema.optional(),
});
/** What a list shows before it is opened: as it stands outside, so nothing to be relied on. */
export type IncomingSummary = z.infer<typeof summarySchema>;

export interface IncomingHead extends IncomingSummary {
  /** Without angle brackets. */
  messageId: string | undefined;
  /** Message-IDs of what it answers, oldest first, without angle brackets. */
  answers: string[];
  /** A key or a certificate seems to come along. */
  brings: boolean;
}

const MAX_SUBJECT = 300;
const MAX_NAME = 200;

function lockOf({ contentType: { type, parameters } }: Entity): OuterLock {
  if (type === 'multipart/signed') return 'signed';
  if (type === 'multipart/encrypted') return 'encrypted';
  if (!/^application\/(x-)?pkcs7-mime$/.test(type)) return 'none';
  return parameters.get('smime-type') === 'signed-data' ? 'signed' : 'encrypted';
}

/** How much of a mail its head and what may come along are looked for in. */
export const LOOKED_AT = 1024 * 1024;
const MEANS_FILE = /\.(?:asc|gpg|cer|crt|p7b|p7c|vcf)$/i;
const MEANS_TYPE = /^application\/(?:pgp-keys|pkix-cert|x-x509[\w-]{0,40}|pkcs7-signature)$/;
const LONGEST_FIELD = 2000;

/** Whether the line says that a key or a certificate comes along. */
function saysMeans(line: string): boolean {
  if (line.startsWith('-----BEGIN PGP PUBLIC KEY BLOCK-----') || /^autocrypt:/i.test(line)) return true;
  if (!/^content-(?:type|disposition):|^[ \t]/i.test(line)) return false;
  const { value, parameters } = readParameters(line.slice(line.indexOf(':') + 1));
  return MEANS_TYPE.test(value) || ['name', 'filename'].some((name) => MEANS_FILE.test(parameters.get(name) ?? ''));
}

/** As it stands outside, and while it passes; whether it is so is seen when it is opened. */
function bringsMeans(raw: Uint8Array): boolean {
  const text = new TextDecoder('latin1').decode(raw.subarray(0, LOOKED_AT));
  for (let from = 0; from < text.length;) {
    const end = text.indexOf('\n', from);
    const next = end < 0 ? text.length : end + 1;
    if (saysMeans(text.slice(from, Math.min(next, from + LONGEST_FIELD)).trimEnd())) return true;
    from = next;
  }
  return false;
}

/**
 * Reads the head of a mail, of which the first {@link LOOKED_AT} octets are enough; what is no mail at all is known by
 * its envelope only.
 */
export function readHead(raw: Uint8Array, envelopeFrom: string): IncomingHead {
  try {
    const entity = readEntity(raw);
    const { subject, from, answers = [] } = readHeadFields(entity);
    return {
      subject: subject.slice(0, MAX_SUBJECT),
      lock: lockOf(entity),
      messageId: messageIdOf(entity),
      answers: [...answers],
      brings: bringsMeans(raw),
      from: {
        name: from.name.slice(0, MAX_NAME),
        address: from.address === '' ? envelopeFrom : from.address.slice(0, MAX_NAME + 120),
      },
    };
  } catch (error) {
    if (!(error instanceof EntityError)) throw error;
    return headless(envelopeFrom);
  }
}

/** A mail whose head says nothing we can read. */
export const headless = (envelopeFrom: string): IncomingHead => ({
  subject: '',
  from: { name: '', address: envelopeFrom },
  lock: 'none',
  messageId: undefined,
  answers: [],
  brings: false,
});

/** With its end where it was cut off after {@link LOOKED_AT} octets, so that what stands before can be read. */
function ended(raw: Bytes, { contentType: { parameters } }: Entity): Bytes {
  const boundary = parameters.get('boundary');
  return raw.length < LOOKED_AT || boundary === undefined ? raw : concat(raw, utf8(`\r\n--${boundary}--\r\n`));
}

/** What a mail that comes readable is found by, from its first {@link LOOKED_AT} octets; undefined for all others. */
export async function readableWords(raw: Bytes): Promise<Words | undefined> {
  try {
    const entity = readEntity(raw);
    const lock = lockOf(entity);
    if (lock === 'encrypted' || (lock === 'signed' && entity.contentType.type !== 'multipart/signed')) return undefined;
    return wordsOf(await readMessage(ended(raw, entity)));
  } catch (error) {
    if (error instanceof EntityError || error instanceof MessageReadError) return undefined;
    throw error;
  }
}

/** The Message-ID of a mail, without angle brackets. */
export const messageIdOf = (entity: Entity): string | undefined =>
  messageIdsIn(fieldNamed(entity, 'message-id') ?? '')[0];

const keyContext = (id: string): string => `under-lock/incoming/key/v1/${id}`;
const summaryContext = (id: string): string => `under-lock/incoming/summary/v1/${id}`;
const summaryKey = async (key: Bytes): Promise<CryptoKey> =>
  sealingKey(await hkdf(key, 'under-lock/incoming/summary/v1', 32));

const wordsContext = (id: string): string => `under-lock/incoming/words/v1/${id}`;
const wordsKey = async (key: Bytes): Promise<CryptoKey> =>
  sealingKey(await hkdf(key, 'under-lock/incoming/words/v1', 32));

export const sealIncomingWords = async (words: Words, key: Bytes, id: string): Promise<Bytes> =>
  seal(await wordsKey(key), utf8(JSON.stringify(words)), wordsContext(id));
/** @throws SealError */
export async function openIncomingWords(sealed: Uint8Array, key: Bytes, id: string): Promise<Words> {
  const parsed = wordsSchema.safeParse(
    JSON.parse(fromUtf8(await unseal(await wordsKey(key), sealed, wordsContext(id)))),
  );
  if (!parsed.success) throw new SealError('malformed');
  return parsed.data;
}

export interface IncomingKey {
  key: Bytes;
  sealedKey: Bytes;
}

export async function makeIncomingKey(account: PublicKey, id: string): Promise<IncomingKey> {
  const key = randomBytes(32);
  return { key, sealedKey: await makeIncomingKeyFor(account, key, id) };
}
/** For one more account, under whose own number it is kept. */
export const makeIncomingKeyFor = (account: PublicKey, key: Bytes, id: string): Promise<Bytes> =>
  sealTo(account, key, keyContext(id));
/** @throws SealError */
export const openIncomingKey = (privateKey: Bytes, sealedKey: Uint8Array, id: string): Promise<Bytes> =>
  openFrom(privateKey, sealedKey, keyContext(id));

export const sealIncomingSummary = async (
  { subject, from, lock, filesOpened = [], origin }: IncomingSummary,
  key: Bytes,
  id: string,
): Promise<Bytes> =>
  seal(
    await summaryKey(key),
    utf8(
      JSON.stringify({
        subject: subject.slice(0, MAX_SUBJECT),
        from,
        lock,
        ...(filesOpened.length === 0 ? {} : { filesOpened: filesOpened.slice(0, 10) }),
        ...defined({ origin }),
      }),
    ),
    summaryContext(id),
  );
/** @throws SealError */
export async function openIncomingSummary(sealed: Uint8Array, key: Bytes, id: string): Promise<IncomingSummary> {
  const parsed = summarySchema.safeParse(
    JSON.parse(fromUtf8(await unseal(await summaryKey(key), sealed, summaryContext(id)))),
  );
  if (!parsed.success) throw new SealError('malformed');
  return parsed.data;
}
