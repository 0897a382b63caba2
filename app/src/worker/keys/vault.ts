/** The vault as the certificate thread reaches it: its key lies on the shelf this browser keeps while the vault is open. */
import { createClient } from '@under-lock/contract/client';
import { allVaultItems, deleteVaultItem, getVaultItem, putVaultItem } from '@under-lock/contract/vault';
import { fromBase64Url } from '@under-lock/core/bytes';
import { openItem, sealItem, type VaultItemKind } from '@under-lock/core/vault/item';
import { type z } from 'zod';
import { type OwnAnchor, ownAnchorSchema } from '../../keys/own-anchor';
import { type KeptKey, keptKeySchema, type OwnKey } from '../../keys/own-key';
import { VaultLockedError } from '../account';
import { keptVaultKey, type OpenVault } from '../vault-key';

export const client = createClient(self.location.origin);

export async function openVault(): Promise<OpenVault> {
  const vault = await keptVaultKey();
  if (vault === undefined) throw new VaultLockedError();
  return vault;
}

export interface KeptItem { id: string; revision: number; value: KeptKey }

interface Opened<T> { id: string; revision: number; value: T }

/** Everything of a kind that has this shape. What does not open, or has another shape than today's, is left out. */
export async function keptOf<S extends z.ZodType>(kind: VaultItemKind, schema: S): Promise<Opened<z.output<S>>[]> {
  const { key } = await openVault();
  const items = await allVaultItems(client, kind);
  const opened = await Promise.all(items.map(async ({ id, revision, sealed }) => ({ id, revision, parsed: schema.safeParse(await openItem(key, kind, id, sealed).catch(() => undefined)) })));
  return opened.flatMap(({ id, revision, parsed }) => (parsed.success ? [{ id, revision, value: parsed.data }] : []));
}

export const keptKeys = (): Promise<KeptItem[]> => keptOf('key', keptKeySchema);

/** @throws when it is not there, or does not open */
export async function keptKey(id: string): Promise<KeptItem> {
  const { key } = await openVault();
  const { item } = await client(getVaultItem, { params: { kind: 'key', id } });
  if (item === undefined) throw new KeyGoneError();
  return { id, revision: item.revision, value: keptKeySchema.parse(await openItem(key, 'key', id, item.sealed)) };
}

/** Authorities that only this worker trusts. */
export const keptAnchors = (): Promise<{ id: string; value: OwnAnchor }[]> => keptOf('anchor', ownAnchorSchema);

export async function keepAnchor(id: string, value: OwnAnchor): Promise<void> {
  const { key } = await openVault();
  await client(putVaultItem, { params: { kind: 'anchor', id }, body: { revision: 0, sealed: await sealItem(key, 'anchor', id, value) } });
}

export const dropAnchor = async (id: string): Promise<void> => void (await client(deleteVaultItem, { params: { kind: 'anchor', id } }));

export class KeyGoneError extends Error {
  constructor() {
    super('key-gone');
    this.name = 'KeyGoneError';
  }
}

export async function keepKey(id: string, revision: number, value: KeptKey): Promise<KeptItem> {
  const { key } = await openVault();
  const kept = await client(putVaultItem, { params: { kind: 'key', id }, body: { revision, sealed: await sealItem(key, 'key', id, value) } });
  return { id, revision: kept.revision, value };
}

export const publicHalf = ({ id, revision, value: { privateKey, certificate, chain, ...rest } }: KeptItem): OwnKey => {
  // The private half ends here.
  void privateKey;
  return { ...rest, id, revision, certificate: certificate === undefined ? undefined : fromBase64Url(certificate), chain: chain.map(fromBase64Url) };
};
