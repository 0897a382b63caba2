/** Vault items: JSON sealed under the vault's key. Kind and id are bound in, so that the server can't pass one item off as another. */
import { type Bytes, fromUtf8, utf8 } from '../bytes';
import { seal, SealError, unseal } from '../sealing';

export type VaultItemKind = 'draft' | 'sent' | 'person' | 'settings' | 'account-key' | 'key' | 'anchor' | 'password';

const context = (kind: VaultItemKind, id: string): string => `under-lock/vault/item/v1/${kind}/${id}`;

export const sealItem = (key: CryptoKey, kind: VaultItemKind, id: string, value: unknown): Promise<Bytes> =>
  seal(key, utf8(JSON.stringify(value)), context(kind, id));

/** Throws SealError. The value is what this account sealed earlier, so its shape is the caller's to know. */
export async function openItem(key: CryptoKey, kind: VaultItemKind, id: string, sealed: Uint8Array): Promise<unknown> {
  const plain = await unseal(key, sealed, context(kind, id));
  try {
    return JSON.parse(fromUtf8(plain)) as unknown;
  } catch {
    throw new SealError('malformed');
  }
}
