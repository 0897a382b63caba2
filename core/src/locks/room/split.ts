/** Splitting a content's key, which only sending does (outgoing/access.ts). */
import { type Bytes, randomBytes } from '../../bytes';
import { seal } from '../../sealing';
import { type GrantIdentity, keyContext, keyFromShares, SHARE, type SplitKey } from './grant';

/** Splits the 32-byte content key for one recipient, with two fresh shares. */
export async function splitKey(contentKey: Bytes, identity: GrantIdentity): Promise<SplitKey> {
  const readerShare = randomBytes(SHARE);
  const houseShare = randomBytes(SHARE);
  const wrappedKey = await seal(
    await keyFromShares(identity, readerShare, houseShare),
    contentKey,
    keyContext(identity),
  );
  return { readerShare, house: { houseShare, wrappedKey } };
}
