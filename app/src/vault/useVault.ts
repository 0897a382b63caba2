/**
 * Sealed items as values: the worker thread fetches, opens, holds them against their manifest, and seals what is kept.
 */
import { type VaultItemKind as AnyKind } from '@under-lock/core/vault/item';
import { type Kept, shaped } from '@under-lock/core/vault/kept';
import useSWR, { mutate } from 'swr';
import { type z } from 'zod';
import { told } from '../live/live';
import { door } from '../threads/main/door';

type VaultItemKind = Exclude<AnyKind, 'account-key' | 'key'>;
type ListedKind = Exclude<VaultItemKind, 'sent'>;

const keyOf = (kind: VaultItemKind): string => `vault/${kind}`;

/** What senders keep of their own messages; what does not open or has another shape than today's is undefined. */
export async function openSent<S extends z.ZodType>(
  schema: S,
  items: { id: string; sealed: Uint8Array }[],
): Promise<(z.output<S> | undefined)[]> {
  const opened = await door().vault.openSent(items);
  return opened.map((value) => {
    const parsed = schema.safeParse(value);
    return parsed.success ? parsed.data : undefined;
  });
}

/** What changed last first. */
export async function listItems<S extends z.ZodType>(kind: ListedKind, schema: S): Promise<Kept<z.output<S>>[]> {
  const items = await door().vault.list(kind);
  return items
    .flatMap((item) => shaped(schema, item) ?? [])
    .sort((a, b) => b.updatedAt.getTime() - a.updatedAt.getTime());
}

/** The same while it is shown. */
export const useVault = <S extends z.ZodType>(kind: ListedKind, schema: S) =>
  useSWR<Kept<z.output<S>>[]>(keyOf(kind), () => listItems(kind, schema), { use: [told(`vault/${kind}`)] });

/** Undefined when there is none, or none of today's shape. */
export async function readItem<S extends z.ZodType>(
  kind: VaultItemKind,
  id: string,
  schema: S,
): Promise<Kept<z.output<S>> | undefined> {
  const item = await door().vault.read(kind, id);
  return item === undefined ? undefined : shaped(schema, item);
}

/** Stores a value; `revision` is the one it replaces, 0 for a new one. @throws ApiProblem `conflict` */
export async function keepItem(kind: VaultItemKind, id: string, revision: number, value: unknown): Promise<number> {
  const next = await door().vault.keep(kind, id, revision, value);
  void mutate(keyOf(kind));
  return next;
}

/** Resolves when the pages that show this kind have it as it is now. */
export const refreshed = (kind: VaultItemKind): Promise<unknown> => mutate(keyOf(kind));

/**
 * As keepItem, and resolves when the pages that show this kind have it as it is now: whatever is pressed next begins
 * from that. @throws ApiProblem `conflict`
 */
export async function keepShown(kind: ListedKind, id: string, revision: number, value: unknown): Promise<void> {
  await door().vault.keep(kind, id, revision, value);
  await refreshed(kind);
}

export async function dropItem(kind: ListedKind, id: string): Promise<void> {
  await door().vault.drop(kind, id);
  void mutate(keyOf(kind));
}
