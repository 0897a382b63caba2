/**
 * What the door for mail programs keeps for a worker, whose vault it can't write into: sealed to their account. The
 * first octet says so, and is none that what a vault sealed begins with.
 */
import { openFrom, type PublicKey, sealTo } from '../account/key-pair';
import { type Bytes, concat, fromUtf8, utf8 } from '../bytes';
import { SealError } from '../sealing';
import { openItem } from '../vault/item';

const FOR_OWNER = 2;

/** `sent` and `words` of a message that left by it, `waits` for why a mail did not leave. */
export type OwnerKind = 'sent' | 'words' | 'waits';

const context = (kind: OwnerKind, id: string): string => `under-lock/submission/${kind}/v1/${id}`;

export const isForOwner = (sealed: Uint8Array): boolean => sealed[0] === FOR_OWNER;

export const sealForOwner = async (owner: PublicKey, kind: OwnerKind, id: string, value: unknown): Promise<Bytes> =>
  concat(Uint8Array.of(FOR_OWNER), await sealTo(owner, utf8(JSON.stringify(value)), context(kind, id)));

/** Whoever knows the account's public key can have made it: its shape is to be looked at. @throws SealError */
export async function openForOwner(
  privateKey: Bytes,
  kind: OwnerKind,
  id: string,
  sealed: Uint8Array,
): Promise<unknown> {
  if (!isForOwner(sealed)) throw new SealError('malformed');
  const plain = await openFrom(privateKey, sealed.subarray(1), context(kind, id));
  try {
    return JSON.parse(fromUtf8(plain)) as unknown;
  } catch {
    throw new SealError('malformed');
  }
}

/**
 * What is kept of a sent message, whoever sealed it: the vault of its sender, or the door in its sender's name.
 * @throws SealError
 */
export const openKept = async (
  own: { key: CryptoKey; privateKey: () => Promise<Bytes> },
  kind: 'sent' | 'words',
  id: string,
  sealed: Uint8Array,
): Promise<unknown> =>
  isForOwner(sealed) ? openForOwner(await own.privateKey(), kind, id, sealed) : openItem(own.key, kind, id, sealed);
