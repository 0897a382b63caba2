/** Which of somebody's own OpenPGP keys serves an address. */
import { fromBase64Url } from '../bytes';
import { addressKey } from '../people/address';
import { type KeptOpenPgp } from './kept-key';
import { factsOf, type KeyUse, type OpenPgpKey, partFor, readSecretKey, userAt } from './key';
import { type PrivateKey } from './library';

export const secretOf = ({ secretKey }: KeptOpenPgp): Promise<PrivateKey> => readSecretKey(fromBase64Url(secretKey));

export interface UsableOpenPgp {
  value: KeptOpenPgp;
  secret: PrivateKey;
  key: OpenPgpKey;
}

/** Those that can be used for an address at that time: the chosen one first, then the newest. */
export async function usableOpenPgpKeys(
  kept: readonly { value: KeptOpenPgp }[],
  address: string,
  use: KeyUse,
  at: Date,
): Promise<UsableOpenPgp[]> {
  const ours = kept.filter(({ value }) => value.retiredAt === undefined && value.purpose === 'mail');
  const found = await Promise.all(
    ours.map(async ({ value }): Promise<UsableOpenPgp[]> => {
      const secret = await secretOf(value);
      const key = await factsOf(secret.toPublic());
      const isUsable =
        key.revocation === undefined && partFor(key, use, at) !== undefined && userAt(key, address) !== undefined;
      return isUsable ? [{ value, secret, key }] : [];
    }),
  );
  const chosen = ({ value }: UsableOpenPgp): number => Number(value.chosenFor.includes(addressKey(address)));
  return found.flat().sort((a, b) => chosen(b) - chosen(a) || b.value.madeAt.localeCompare(a.value.madeAt));
}
