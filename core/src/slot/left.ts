/**
 * What somebody leaves in a mail slot: an ordinary mail, sealed in their browser to the colleagues behind the slot as
 * mail that comes in is; beside it what only the colleagues may know of the answer, and, sealed by the server, what it
 * knows of the sender (docs/decisions/27).
 */
import { z } from 'zod';
import { openFrom, type PublicKey, sealTo } from '../account/key-pair';
import { type Bytes, fromUtf8, randomBytes, utf8 } from '../bytes';
import { makeIncomingKeyFor, sealIncomingSummary } from '../incoming/incoming';
import { sealContent } from '../locks/room/content';
import { buildMessage } from '../message/build';
import { type MessageFile } from '../message/content';
import { type Correspondent } from '../people/address';
import { hkdf, seal, sealingKey, SealError, unseal } from '../sealing';
import { SLOT_PHONE } from './limits';

export interface ToLeave {
  from: Correspondent;
  /** The slot's name, as the page showed it. */
  to: Correspondent;
  subject: string;
  text: string;
  files: MessageFile[];
  date: Date;
}

/** What the answer may ask for, and where a passcode could go. */
export const forTheAnswerSchema = z.object({
  code: z.string().min(3).max(100),
  phone: z.string().max(SLOT_PHONE).optional(),
  language: z.string().max(10).optional(),
});
export type ForTheAnswer = z.infer<typeof forTheAnswerSchema>;

/** A colleague behind the slot: their account's key, and the number under which they will have the mail. */
export interface Behind extends PublicKey {
  id: string;
}

export interface LeftFor {
  id: string;
  sealedKey: Bytes;
  sealedSummary: Bytes;
  sealedAnswer: Bytes;
}

const answerContext = (id: string): string => `under-lock/slot/answer/v1/${id}`;
const answerKey = async (key: Bytes): Promise<CryptoKey> =>
  sealingKey(await hkdf(key, 'under-lock/slot/answer/v1', 32));

/** A mail sealed under a key of its own. */
export interface SealedLeft extends Pick<ToLeave, 'from' | 'subject'> {
  key: Bytes;
  content: Bytes;
}

/** @throws HeaderInjectionError */
export async function sealLeft(mail: ToLeave): Promise<SealedLeft> {
  const { to, ...rest } = mail;
  const raw = buildMessage({
    ...rest,
    to: [to],
    cc: [],
    html: '',
    reference: '',
    messageId: `${globalThis.crypto.randomUUID()}@slot.invalid`,
  });
  const key = randomBytes(32);
  return {
    from: mail.from,
    subject: mail.subject,
    key,
    content: await sealContent(raw, { key, salt: randomBytes(32) }),
  };
}

/** Its key, what a list shows and what the answer may ask for, sealed to each colleague behind the slot. @throws SealError */
export const sealFor = (
  { key, subject, from }: Omit<SealedLeft, 'content'>,
  answer: ForTheAnswer,
  behind: readonly Behind[],
): Promise<LeftFor[]> =>
  Promise.all(
    behind.map(async ({ id, ...account }) => ({
      id,
      sealedKey: await makeIncomingKeyFor(account, key, id),
      sealedSummary: await sealIncomingSummary({ subject, from, lock: 'none' }, key, id),
      sealedAnswer: await seal(await answerKey(key), utf8(JSON.stringify(answer)), answerContext(id)),
    })),
  );

/** @throws SealError */
export async function openForTheAnswer(sealed: Uint8Array, key: Bytes, id: string): Promise<ForTheAnswer> {
  return read(forTheAnswerSchema, await unseal(await answerKey(key), sealed, answerContext(id)));
}

/** What the server knows of who left it. */
export const slotProofSchema = z.object({
  /** What the slot is called. */
  slot: z.string(),
  /** Of the receipt. */
  number: z.string(),
  /** As it was given; `proved` when six digits that were sent there came back. */
  address: z.string(),
  proved: z.boolean(),
});
export type SlotProof = z.infer<typeof slotProofSchema>;

const proofContext = (id: string): string => `under-lock/slot/proof/v1/${id}`;
export const sealSlotProof = (proof: SlotProof, account: PublicKey, id: string): Promise<Bytes> =>
  sealTo(account, utf8(JSON.stringify(proof)), proofContext(id));
/** @throws SealError */
export const openSlotProof = async (privateKey: Bytes, sealed: Uint8Array, id: string): Promise<SlotProof> =>
  read(slotProofSchema, await openFrom(privateKey, sealed, proofContext(id)));

function read<T extends z.ZodType>(schema: T, plain: Uint8Array): z.output<T> {
  try {
    return schema.parse(JSON.parse(fromUtf8(plain)));
  } catch {
    throw new SealError('malformed');
  }
}
