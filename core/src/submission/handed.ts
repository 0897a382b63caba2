/**
 * A mail that a mail program handed in: sealed the moment it is here, under a key of its own. That key is sealed twice,
 * to the account of whoever wrote it and, until the mail is dealt with, to the door that took it.
 */
import { z } from 'zod';
import { openFrom, type PublicKey, sealTo } from '../account/key-pair';
import { type Bytes, type Flow, fromBase64Url, fromUtf8, randomBytes, toBase64Url, utf8 } from '../bytes';
import { openContent, sealAsItGoes } from '../locks/room/content';
import { SealError } from '../sealing';

export const MOST_HANDED_RECIPIENTS = 1_000;
/** Of the sealed key with the recipients' addresses. */
export const MAX_HANDED_KEY_BYTES = 500_000;

const labelSchema = z.object({
  key: z.string(),
  /** To whom the mail program said it goes: a mail's head need not name them all. */
  to: z.array(z.string().max(320)).max(MOST_HANDED_RECIPIENTS),
});

export interface HandedLabel {
  key: Bytes;
  to: string[];
}

export type HandedTo = 'account' | 'door';
const context = (id: string, whom: HandedTo): string => `under-lock/submission/handed/v1/${whom}/${id}`;

export interface SealedMail {
  content: Flow;
  /** By whom it can be opened with. */
  labels: Record<HandedTo, Bytes>;
}

export async function sealHanded(
  raw: Bytes,
  to: readonly string[],
  { id, account, door }: { id: string; account: PublicKey; door: PublicKey },
): Promise<SealedMail> {
  const key = randomBytes(32);
  const label = utf8(JSON.stringify({ key: toBase64Url(key), to }));
  const [own, its] = await Promise.all([
    sealTo(account, label, context(id, 'account')),
    sealTo(door, label, context(id, 'door')),
  ]);
  const content = sealAsItGoes([raw], { key, salt: randomBytes(32) });
  return { content, labels: { account: own, door: its } };
}

/** @throws SealError */
export async function openHandedLabel(
  privateKey: Bytes,
  whom: HandedTo,
  id: string,
  sealed: Uint8Array,
): Promise<HandedLabel> {
  const plain = await openFrom(privateKey, sealed, context(id, whom));
  const parsed = labelSchema.safeParse(JSON.parse(fromUtf8(plain)));
  if (!parsed.success) throw new SealError('malformed');
  return { key: fromBase64Url(parsed.data.key), to: parsed.data.to };
}

/** The mail as it was handed in. @throws ContentError */
export const openHanded = (content: Bytes, { key }: HandedLabel): Promise<Bytes> => openContent(content, key);
