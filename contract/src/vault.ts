import { z } from 'zod';
import { type Client } from './client';
import { bytes, endpoint, id, instant } from './endpoint';

/** A draft with its longest text; files lie in blobs of their own. */
export const MAX_ITEM_BYTES = 2_000_000;
export const vaultKind = z.enum(['draft', 'sent', 'person', 'settings', 'account-key', 'key', 'anchor', 'password']);
const sealed = bytes(29, MAX_ITEM_BYTES);

export const vaultItemSchema = z.object({ id, revision: z.number().int(), updatedAt: instant, sealed });
export type VaultItem = z.infer<typeof vaultItemSchema>;

export const listVault = endpoint({
  method: 'GET', path: '/api/vault/:kind', access: 'worker', params: z.object({ kind: vaultKind }),
  /** The `next` of the page before. */
  query: z.object({ after: id.optional() }),
  reply: z.object({ items: z.array(vaultItemSchema), next: id.optional() }),
});
/** All items of a kind, page by page, what changed last first. */
export async function allVaultItems(client: Client, kind: z.infer<typeof vaultKind>): Promise<VaultItem[]> {
  const items: VaultItem[] = [];
  let after: string | undefined;
  do {
    const page = await client(listVault, { params: { kind }, query: after === undefined ? {} : { after } });
    items.push(...page.items);
    after = page.next;
  } while (after !== undefined);
  return items.sort((a, b) => b.updatedAt.getTime() - a.updatedAt.getTime());
}
/** No such item is an answer: a new draft asks before anything is in it. */
export const getVaultItem = endpoint({ method: 'GET', path: '/api/vault/:kind/:id', access: 'worker', params: z.object({ kind: vaultKind, id }), reply: z.object({ item: vaultItemSchema.optional() }) });
/** `revision` is the one being replaced, 0 for a new item; answers `conflict` when another tab or device was first. */
export const putVaultItem = endpoint({
  method: 'PUT', path: '/api/vault/:kind/:id', access: 'worker', maxBytes: 2_800_000, params: z.object({ kind: vaultKind, id }),
  body: z.object({ revision: z.number().int().min(0), sealed }), reply: z.object({ revision: z.number().int() }),
});
export const deleteVaultItem = endpoint({ method: 'DELETE', path: '/api/vault/:kind/:id', access: 'worker', params: z.object({ kind: vaultKind, id }) });
