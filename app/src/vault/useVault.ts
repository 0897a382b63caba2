/** Sealed items as values: fetched sealed, opened in the worker, sealed again before they leave. */
import { allVaultItems, deleteVaultItem, getVaultItem, putVaultItem } from '@under-lock/contract/vault';
import { type VaultItemKind as AnyKind } from '@under-lock/core/vault/item';
import useSWR, { mutate } from 'swr';
import { type z } from 'zod';
import { api } from '../api';
import { door } from '../worker/door';

type VaultItemKind = Exclude<AnyKind, 'account-key' | 'key'>;

export interface Kept<T> {
  id: string;
  revision: number;
  updatedAt: Date;
  value: T;
}

const keyOf = (kind: VaultItemKind): string => `vault/${kind}`;

/** Opens sealed values; what does not open or has another shape than today's is left out. */
export async function openAll<S extends z.ZodType>(kind: VaultItemKind, schema: S, items: { id: string; sealed: Uint8Array }[]): Promise<(z.output<S> | undefined)[]> {
  const opened = await door().vault.open(kind, items);
  return opened.map((value) => {
    const parsed = schema.safeParse(value);
    return parsed.success ? parsed.data : undefined;
  });
}

export function useVault<S extends z.ZodType>(kind: 'draft' | 'person' | 'settings' | 'password', schema: S) {
  return useSWR<Kept<z.output<S>>[]>(keyOf(kind), async () => {
    const items = await allVaultItems(api, kind);
    const values = await openAll(kind, schema, items);
    return items.flatMap(({ id, revision, updatedAt }, index) => (values[index] === undefined ? [] : [{ id, revision, updatedAt, value: values[index] }]));
  });
}

/** Undefined when there is none, or none of today's shape. */
export async function readItem<S extends z.ZodType>(kind: VaultItemKind, id: string, schema: S): Promise<Kept<z.output<S>> | undefined> {
  const { item } = await api(getVaultItem, { params: { kind, id } });
  if (item === undefined) return undefined;
  const [value] = await openAll(kind, schema, [item]);
  return value === undefined ? undefined : { id, revision: item.revision, updatedAt: item.updatedAt, value };
}

/** Stores a value; `revision` is the one it replaces, 0 for a new one. @throws ApiProblem `conflict` */
export async function keepItem(kind: VaultItemKind, id: string, revision: number, value: unknown): Promise<number> {
  const sealed = await door().vault.seal(kind, id, value);
  const kept = await api(putVaultItem, { params: { kind, id }, body: { revision, sealed } });
  void mutate(keyOf(kind));
  return kept.revision;
}

/** Resolves when the pages that show this kind have it as it is now. */
export const refreshed = (kind: VaultItemKind): Promise<unknown> => mutate(keyOf(kind));

export async function dropItem(kind: VaultItemKind, id: string): Promise<void> {
  await api(deleteVaultItem, { params: { kind, id } });
  void mutate(keyOf(kind));
}
