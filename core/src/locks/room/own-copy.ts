/**
 * A writer's own copy of a reply's content key, sealed under a key from the share they hold: readable for them as long
 * as their access is.
 */
import { type Bytes } from '../../bytes';
import { hkdf, seal, sealingKey, unseal } from '../../sealing';

const ownKey = async (readerShare: Bytes): Promise<CryptoKey> =>
  sealingKey(await hkdf(readerShare, 'under-lock/room/own-copy/v1', 32));
const context = (messageId: string): string => `under-lock/room/own-copy/v1/${messageId}`;

export const sealOwnCopy = async (contentKey: Bytes, readerShare: Bytes, messageId: string): Promise<Bytes> =>
  seal(await ownKey(readerShare), contentKey, context(messageId));
/** @throws SealError */
export const openOwnCopy = async (sealed: Uint8Array, readerShare: Bytes, messageId: string): Promise<Bytes> =>
  unseal(await ownKey(readerShare), sealed, context(messageId));
