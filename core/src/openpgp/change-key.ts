/**
 * Changes to one's own key: its end, its addresses, its revocation; and vouching for another's. What was said before is
 * kept: signatures made then stay explained.
 */
import { enums, readKey, reformatKey, revokeKey } from 'openpgp';
import { addressKey } from '../people/address';
import { CONFIG, guarded, NEWEST, type PrivateKey, type PublicKey } from './library';
import { factsOf } from './key';
import { secondsBetween, withPlainHashes } from './make-key';

export type OwnRevocationReason = 'keyCompromise' | 'superseded' | 'cessationOfOperation' | 'unspecified';
const FLAGS: Record<OwnRevocationReason, enums.reasonForRevocation> = {
  unspecified: enums.reasonForRevocation.noReason,
  superseded: enums.reasonForRevocation.keySuperseded,
  keyCompromise: enums.reasonForRevocation.keyCompromised,
  cessationOfOperation: enums.reasonForRevocation.keyRetired,
};

/**
 * Said anew by its holder, over what was said before. An end is counted from each part's own creation: one made later
 * ends later, and the whole key's own end bounds it.
 */
async function saidAnew(
  key: PrivateKey,
  users: { name: string; email?: string }[],
  now: Date,
  expiresAt: Date | undefined,
): Promise<PrivateKey> {
  const born = key.getCreationTime();
  const config = key.keyPacket.version === 6 ? NEWEST : CONFIG;
  const { privateKey } = await guarded('unsupported', () =>
    reformatKey({
      privateKey: key,
      userIDs: users,
      date: now,
      format: 'object',
      config,
      ...(expiresAt === undefined ? {} : { keyExpirationTime: secondsBetween(born, expiresAt) }),
    }),
  );
  return key.update(await withPlainHashes(privateKey), now, CONFIG);
}

const standing = async (key: PrivateKey): Promise<{ name: string; email?: string }[]> =>
  (await factsOf(key.toPublic())).users
    .filter(({ retiredAt }) => retiredAt === undefined)
    .map(({ name, address }) => (address === '' ? { name } : { name, email: address }));

/** @param expiresAt Undefined: without an end. @throws OpenPgpError `unsupported` */
export async function withEnd(key: PrivateKey, expiresAt: Date | undefined, now: Date): Promise<PrivateKey> {
  return saidAnew(key, await standing(key), now, expiresAt);
}

export async function withAddress(key: PrivateKey, name: string, address: string, now: Date): Promise<PrivateKey> {
  const users = await standing(key);
  if (users.some(({ email }) => email !== undefined && addressKey(email) === addressKey(address))) return key;
  return saidAnew(key, [...users, { name, email: address }], now, (await factsOf(key.toPublic())).expiresAt);
}

/** Taken back: from now on the key says nothing of that address. @throws RangeError for its last address */
export async function withoutAddress(key: PrivateKey, address: string, now: Date): Promise<PrivateKey> {
  const users = await standing(key);
  if (users.every(({ email }) => email !== undefined && addressKey(email) === addressKey(address)))
    throw new RangeError('A key names at least one user');
  const changed = await readPrivate(key);
  for (const [index, user] of changed.users.entries()) {
    if (user.userID !== null && user.userID.email !== '' && addressKey(user.userID.email) === addressKey(address))
      changed.users[index] = await user.revoke(
        changed.keyPacket as never,
        { flag: enums.reasonForRevocation.userIDInvalid },
        now,
        CONFIG,
      );
  }
  // Another one has to speak for the key where this one did.
  return saidAnew(changed, await standing(changed), now, (await factsOf(key.toPublic())).expiresAt);
}

const readPrivate = async (key: PrivateKey): Promise<PrivateKey> =>
  (await readKey({ binaryKey: key.write(), config: CONFIG })) as PrivateKey;

export async function revoked(key: PrivateKey, reason: OwnRevocationReason, now: Date): Promise<PrivateKey> {
  const { privateKey } = await revokeKey({
    key,
    reasonForRevocation: { flag: FLAGS[reason], string: '' },
    date: now,
    format: 'object',
    config: CONFIG,
  });
  return privateKey;
}

/** @param certificate Armoured, as it was made at birth. @throws OpenPgpError `malformed` when it is not this key's */
export async function revokedBy(key: PublicKey, certificate: string, now: Date): Promise<PublicKey> {
  return guarded(
    'malformed',
    async () =>
      (
        await revokeKey({
          key: key as PrivateKey,
          revocationCertificate: certificate,
          date: now,
          format: 'object',
          config: CONFIG,
        })
      ).publicKey,
  );
}

/** Vouches for what a key says of its addresses: every user id that stands gets a certification (RFC 9580 §5.2.1.3). */
export async function certified(key: PublicKey, by: PrivateKey, now: Date): Promise<PublicKey> {
  return guarded('unsupported', () => key.signAllUsers([by], now, CONFIG));
}
