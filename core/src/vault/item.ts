/**
 * Vault items: JSON sealed under the vault's key. Kind, id and revision are bound in, so that the server can pass off
 * neither one item as another nor what was there before as what is there now.
 */
import { type Bytes, fromUtf8, utf8 } from '../bytes';
import { seal, SealError, unseal } from '../sealing';

export type VaultItemKind = 'draft' | 'sent' | 'person' | 'settings' | 'account-key' | 'key' | 'anchor' | 'password';
/**
 * What else is sealed under a vault's key and lies elsewhere: the `words` a sent message is found by, with the message;
 * on a device a piece of the search `index`, and of the `stock` of what was opened.
 */
export type SealedKind = VaultItemKind | BookKind | 'words' | 'index' | 'stock';

/** Items of these kinds are counted in their kind's manifest and carry their revision. */
export const GUARDED_KINDS = [
  'draft',
  'person',
  'settings',
  'key',
  'anchor',
  'password',
] as const satisfies VaultItemKind[];
export type GuardedKind = (typeof GUARDED_KINDS)[number];

/** Of the office book, which is a vault that several people write in. */
export const BOOK_KINDS = ['book-person', 'book-firm'] as const;
export type BookKind = (typeof BOOK_KINDS)[number];

/** Kinds that have a manifest, whosever vault it is. */
export type CountedKind = GuardedKind | BookKind;
export const isGuarded = (kind: VaultItemKind | BookKind): kind is CountedKind =>
  ([...GUARDED_KINDS, ...BOOK_KINDS] as readonly string[]).includes(kind);

/**
 * Undefined for kinds whose revision is not the browser's to choose, and for what was sealed before revisions were
 * bound in.
 */
type BoundRevision = number | undefined;

const context = (kind: SealedKind, id: string, revision: BoundRevision): string =>
  revision === undefined
    ? `under-lock/vault/item/v1/${kind}/${id}`
    : `under-lock/vault/item/v2/${kind}/${id}/${revision}`;

export const sealItem = (
  key: CryptoKey,
  kind: SealedKind,
  id: string,
  value: unknown,
  revision?: number,
): Promise<Bytes> => seal(key, utf8(JSON.stringify(value)), context(kind, id, revision));

/** Throws SealError. The value is what this account sealed earlier, so its shape is the caller's to know. */
export async function openItem(
  key: CryptoKey,
  kind: SealedKind,
  id: string,
  sealed: Uint8Array,
  revision?: number,
): Promise<unknown> {
  const plain = await unseal(key, sealed, context(kind, id, revision));
  try {
    return JSON.parse(fromUtf8(plain)) as unknown;
  } catch {
    throw new SealError('malformed');
  }
}
