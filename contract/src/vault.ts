import { z } from 'zod';
import { type GivenManifest, type VaultDoor } from '@under-lock/core/vault/door';
import { GUARDED_KINDS } from '@under-lock/core/vault/item';
import { MAX_STEP_BYTES, MOST_STEPS } from '@under-lock/core/vault/limits';
import { type Client } from './client';
import { bytes, endpoint, id, instant } from './endpoint';
import { ApiProblem, isProblem } from './problem';

/** A draft with its longest text; files lie in blobs of their own. */
export const MAX_ITEM_BYTES = 2_000_000;
export const vaultKind = z.enum(['draft', 'sent', 'person', 'settings', 'account-key', 'key', 'anchor', 'password']);
/** Kinds whose items are counted: each change brings the kind's next manifest along. */
export const guardedKind = z.enum(GUARDED_KINDS);
const sealed = bytes(29, MAX_ITEM_BYTES);
const revision = z.number().int().min(0);
/**
 * `revision` is that of the manifest it follows, 0 for the first; answers `manifest-behind` when another was written
 * meanwhile, or when a step follows too many others.
 */
export const nextManifestOf = (most: number) =>
  z
    .object({ revision, step: bytes(29, MAX_STEP_BYTES).optional(), whole: bytes(29, most).optional() })
    .refine(({ step, whole }) => step !== undefined || whole !== undefined, {
      error: 'This page is from an earlier version; load it again',
    });
/** `revision` 0 when there is none yet; without `whole` the steps follow the one the asker said to know. */
export const givenManifestOf = (most: number) =>
  z.object({
    revision,
    whole: z.object({ revision, sealed: bytes(29, most) }).optional(),
    steps: z
      .array(bytes(29, MAX_STEP_BYTES))
      .max(2 * MOST_STEPS)
      .optional(),
  });
const nextManifest = nextManifestOf(MAX_ITEM_BYTES);
const givenManifest = givenManifestOf(MAX_ITEM_BYTES);
const known = z.coerce.number().int().min(0).optional();
const MAX_BODY = 5_500_000;

export const vaultItemSchema = z.object({ id, revision: z.number().int(), updatedAt: instant, sealed });
export type VaultItem = z.infer<typeof vaultItemSchema>;

/** A page, and the manifest as it was at the same moment; its octets come with the first page only. */
export const listVault = endpoint({
  method: 'GET',
  path: '/api/vault/:kind',
  access: 'worker',
  params: z.object({ kind: vaultKind }),
  /**
   * The `next` of the page before, and the revision of the manifest the asker has; `since` leaves out what was written
   * under that one or an earlier one.
   */
  query: z.object({ after: id.optional(), known, since: known }),
  reply: z.object({ items: z.array(vaultItemSchema), next: id.optional(), manifest: givenManifest }),
});
/** No such item is an answer: a new draft asks before anything is in it. */
export const getVaultItem = endpoint({
  method: 'GET',
  path: '/api/vault/:kind/:id',
  access: 'worker',
  params: z.object({ kind: vaultKind, id }),
  query: z.object({ known }),
  reply: z.object({ item: vaultItemSchema.optional(), manifest: givenManifest }),
});
/**
 * `revision` is the one being replaced, 0 for a new item; answers `conflict` when another tab or device was first.
 * Guarded kinds need their manifest.
 */
export const putVaultItem = endpoint({
  method: 'PUT',
  path: '/api/vault/:kind/:id',
  access: 'worker',
  maxBytes: MAX_BODY,
  params: z.object({ kind: vaultKind, id }),
  body: z.object({ revision, sealed, manifest: nextManifest.optional() }),
  reply: z.object({ revision: z.number().int() }),
});
export const dropVaultItem = endpoint({
  method: 'POST',
  path: '/api/vault/:kind/:id/drop',
  access: 'worker',
  maxBytes: MAX_BODY,
  params: z.object({ kind: guardedKind, id }),
  body: z.object({ manifest: nextManifest }),
});
export const putVaultManifest = endpoint({
  method: 'PUT',
  path: '/api/manifests/:kind',
  access: 'worker',
  maxBytes: MAX_BODY,
  params: z.object({ kind: guardedKind }),
  body: nextManifest,
});

/** How often a list is begun anew because somebody wrote while its pages came. */
const TRIES = 8;

interface Page<Item> {
  items: Item[];
  next?: string | undefined;
  manifest: GivenManifest;
}

/**
 * All pages of a list, as they were at one moment.
 *
 * @param page Fetches one; without `after` the first. @throws ApiProblem `conflict` when somebody writes all the time
 */
export async function wholeList<Item>(
  page: (after: string | undefined) => Promise<Page<Item>>,
): Promise<{ items: Item[]; manifest: GivenManifest }> {
  for (let left = TRIES; ; left--) {
    const { items, next: second, manifest } = await page(undefined);
    let next = second;
    let isOneMoment = true;
    while (next !== undefined && isOneMoment) {
      const more = await page(next);
      isOneMoment = more.manifest.revision === manifest.revision;
      items.push(...more.items);
      next = more.next;
    }
    if (isOneMoment) return { items, manifest };
    if (left === 1)
      throw new ApiProblem({ type: 'about:blank', title: 'It is being changed', status: 409, code: 'conflict' });
  }
}

/** The server's side of a vault's shelf. */
export function vaultDoor(client: Client): VaultDoor {
  return {
    list: (kind, knownRevision, since) =>
      wholeList((after) =>
        client(listVault, {
          params: { kind: guardedKind.parse(kind) },
          query: { ...(after === undefined ? { known: knownRevision } : { after }), since },
        }),
      ),
    read: (kind, itemId, knownRevision) =>
      client(getVaultItem, { params: { kind: vaultKind.parse(kind), id: itemId }, query: { known: knownRevision } }),
    put: async (kind, itemId, change) =>
      void (await client(putVaultItem, { params: { kind: vaultKind.parse(kind), id: itemId }, body: change })),
    drop: async (kind, itemId, manifest) =>
      void (await client(dropVaultItem, { params: { kind: guardedKind.parse(kind), id: itemId }, body: { manifest } })),
    putManifest: async (kind, manifest) =>
      void (await client(putVaultManifest, { params: { kind: guardedKind.parse(kind) }, body: manifest })),
    isBehind: (error) => isProblem(error, 'manifest-behind'),
  };
}
