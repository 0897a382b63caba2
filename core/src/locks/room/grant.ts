/**
 * One recipient's grant: the content key wrapped under a key that needs two shares. The reader's share travels in the
 * notice's link (or sealed to their account); the house share and the wrapped key stay with the server. Neither half
 * says
 * anything about the content key: each share is 256 random bits and HKDF (RFC 5869) takes both.
 */
import { type Bytes, concat, fromBase64Url, toBase64Url } from '../../bytes';
import { hkdf, sealingKey, SealError, unseal } from '../../sealing';

export const SHARE = 32;

export interface GrantIdentity {
  grantId: string;
  messageId: string;
}

/** What the server keeps until the grant closes or is withdrawn; deleting either field ends the access for good. */
export interface HouseHalf {
  houseShare: Bytes;
  wrappedKey: Bytes;
}

export interface SplitKey {
  readerShare: Bytes;
  house: HouseHalf;
}

export async function keyFromShares(
  identity: GrantIdentity,
  readerShare: Uint8Array,
  houseShare: Uint8Array,
): Promise<CryptoKey> {
  if (readerShare.length !== SHARE || houseShare.length !== SHARE) throw new SealError('malformed');
  return sealingKey(await hkdf(concat(readerShare, houseShare), `under-lock/room/grant/v1/${identity.grantId}`, 32));
}

export const keyContext = (identity: GrantIdentity): string =>
  `under-lock/room/key/v1/${identity.messageId}/${identity.grantId}`;

/** Puts the halves together again. @throws SealError when they do not belong together. */
export async function joinKey(readerShare: Uint8Array, house: HouseHalf, identity: GrantIdentity): Promise<Bytes> {
  return unseal(await keyFromShares(identity, readerShare, house.houseShare), house.wrappedKey, keyContext(identity));
}

/**
 * The link a notice carries. The share stands behind `#`, which browsers do not send; a registered reader's lies in
 * their account instead. A carried page leads to a page of its own:
 * the only one that may be handed content by who opened it.
 */
export const noticeLink = (roomOrigin: string, grantId: string, readerShare?: Uint8Array, carried = false): string =>
  `${roomOrigin}/room/${grantId}${carried ? '/carried' : ''}${readerShare === undefined ? '' : `#${toBase64Url(readerShare)}`}`;

/** The reader's share from a link's fragment, or undefined when it is not one. */
export function shareFromFragment(fragment: string): Bytes | undefined {
  const text = fragment.replace(/^#/, '');
  if (!/^[\w-]{43}$/.test(text)) return undefined;
  try {
    return fromBase64Url(text);
  } catch {
    return undefined; // the last character's spare bits were not zero: not a share we made
  }
}

/**
 * Proof of holding a link, 16 bytes: shown before a passcode is sent, so that knowing a grant's number is not enough to
 * make a phone ring. Tells nothing about the share.
 */
export const shareProof = (readerShare: Bytes): Promise<Bytes> => hkdf(readerShare, 'under-lock/room/proof/v1', 16);
