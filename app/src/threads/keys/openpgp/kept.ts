/** The vault as OpenPGP needs it: own secret keys, and the keys of the people written to. */
import { type Bytes, fromBase64Url, toBase64Url } from '@under-lock/core/bytes';
import { factsOf, type OpenPgpKey, readOpenPgpKey } from '@under-lock/core/openpgp/key';
import { type PrivateKey } from '@under-lock/core/openpgp/library';
import { type KeptOpenPgp, keptOpenPgpSchema } from '@under-lock/core/openpgp/kept-key';
import { secretOf } from '@under-lock/core/openpgp/usable';
import { type OwnOpenPgpKey } from '../../../keys/openpgp/own-key';
import { type PersonKey, personSchema } from '@under-lock/core/people/kept-person';
import { keepKeyAs, keptKeyOf, keptOf } from '../../opened/vault';
import { keyView } from './views';

export interface KeptSecret {
  id: string;
  revision: number;
  value: KeptOpenPgp;
}

export const keptSecrets = (): Promise<KeptSecret[]> => keptOf('key', keptOpenPgpSchema);

/** @throws KeyGoneError */
export const keptSecret = (id: string): Promise<KeptSecret> => keptKeyOf(id, keptOpenPgpSchema);
export const keepSecret = (id: string, revision: number, value: KeptOpenPgp): Promise<KeptSecret> =>
  keepKeyAs(id, revision, value);

export const packed = (key: PrivateKey): string => toBase64Url(key.write() as Bytes);

export async function publicSide({ id, revision, value }: KeptSecret): Promise<OwnOpenPgpKey> {
  const { secretKey, revocation, ...rest } = value;
  // The secret half ends here.
  void secretKey;
  return {
    ...rest,
    id,
    revision,
    hasRevocation: revocation !== undefined,
    view: keyView(await factsOf((await secretOf(value)).toPublic()), new Date()),
  };
}

/** People's keys in the vault, those that were replaced among them: what they signed then stays signed. */
const peoplesKeys = async (): Promise<PersonKey[]> =>
  (await keptOf('person', personSchema)).flatMap(({ value: { keys = [] } }) => keys);

export interface KnownKey {
  key: OpenPgpKey;
  /** Own, or compared with its holder. */ compared: boolean;
}

/** Everybody whose signature can be checked, looked for by key id: only what is asked for is read. */
export async function keyringOf(secrets: readonly PrivateKey[]): Promise<(keyId: string) => Promise<KnownKey[]>> {
  const people = await peoplesKeys();
  const own = await Promise.all(secrets.map(async (one) => factsOf(one.toPublic())));
  return async (keyId) => [
    ...own
      .filter(({ material }) => material.getKeyIDs().some((id) => id.toHex() === keyId))
      .map((key) => ({ key, compared: true })),
    ...(await Promise.all(
      people
        .filter(({ keyIds }) => keyIds.includes(keyId))
        .map(async ({ key, checked }) => ({
          key: await readOpenPgpKey(fromBase64Url(key)),
          compared: checked !== undefined,
        })),
    )),
  ];
}
