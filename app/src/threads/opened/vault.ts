/**
 * The vault as the certificate thread reaches it: its key lies on the shelf this browser keeps while the vault is open.
 */
import { createClient } from '@under-lock/contract/client';
import { fromBase64Url } from '@under-lock/core/bytes';
import { type GuardedKind } from '@under-lock/core/vault/item';
import { type Shelf } from '@under-lock/core/vault/shelf';
import { type z } from 'zod';
import { type OwnAnchor, ownAnchorSchema } from './own-anchor';
import { type KeptKey, keptKeySchema } from '@under-lock/core/certificate/kept-key';
import { type OwnKey } from '../../keys/own-key';
import { VaultLockedError } from '../main/account';
import { shelfOf } from '../shelf';
import { keptVaultKey, type OpenVault } from '../vault-key';

export const client = createClient(self.location.origin);

export async function openVault(): Promise<OpenVault> {
  const vault = await keptVaultKey();
  if (vault === undefined) throw new VaultLockedError();
  return vault;
}

export const shelf = (): Promise<Shelf> => shelfOf(openVault);

export interface KeptItem {
  id: string;
  revision: number;
  value: KeptKey;
}

interface Opened<T> {
  id: string;
  revision: number;
  value: T;
}

/**
 * Everything of a kind that has this shape; what has another shape than today's is left out. @throws ApiProblem,
 * VaultOldError
 */
export async function keptOf<S extends z.ZodType>(kind: GuardedKind, schema: S): Promise<Opened<z.output<S>>[]> {
  const items = await (await shelf()).list(kind);
  return items.flatMap(({ id, revision, value }) => {
    const parsed = schema.safeParse(value);
    return parsed.success ? [{ id, revision, value: parsed.data }] : [];
  });
}

/** A private key of this shape. @throws KeyGoneError, VaultOldError */
export async function keptKeyOf<S extends z.ZodType>(id: string, schema: S): Promise<Opened<z.output<S>>> {
  const item = await (await shelf()).read('key', id);
  if (item === undefined) throw new KeyGoneError();
  return { id, revision: item.revision, value: schema.parse(item.value) };
}

export async function keepKeyAs<T>(id: string, revision: number, value: T): Promise<Opened<T>> {
  return { id, revision: await (await shelf()).keep('key', id, revision, value), value };
}

export const keptKeys = (): Promise<KeptItem[]> => keptOf('key', keptKeySchema);
export const keptKey = (id: string): Promise<KeptItem> => keptKeyOf(id, keptKeySchema);
export const keepKey = (id: string, revision: number, value: KeptKey): Promise<KeptItem> =>
  keepKeyAs(id, revision, value);

/** Authorities that only this worker trusts. */
export const keptAnchors = (): Promise<{ id: string; value: OwnAnchor }[]> => keptOf('anchor', ownAnchorSchema);
export const keepAnchor = async (id: string, value: OwnAnchor): Promise<void> =>
  void (await (await shelf()).keep('anchor', id, 0, value));
export const dropAnchor = async (id: string): Promise<void> => (await shelf()).drop('anchor', id);

export class KeyGoneError extends Error {
  constructor() {
    super('key-gone');
    this.name = 'KeyGoneError';
  }
}

export const publicHalf = ({ id, revision, value: { privateKey, certificate, chain, ...rest } }: KeptItem): OwnKey => {
  // The private half ends here.
  void privateKey;
  return {
    ...rest,
    id,
    revision,
    certificate: certificate === undefined ? undefined : fromBase64Url(certificate),
    chain: chain.map(fromBase64Url),
  };
};
