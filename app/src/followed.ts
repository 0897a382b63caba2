/** Lists that a thread opens: what has changed since it was asked last is laid on what the page has. */
import { type Kept, shaped } from '@under-lock/core/vault/kept';
import { type Followed } from '@under-lock/core/vault/opened';
import { type z } from 'zod';

interface Here<T> {
  mark: string;
  items: Map<string, Kept<T>>;
}

const forgetting = new Set<() => void>();
/** With a vault that is locked, what was in it goes from here, too. */
export const forgetFollowed = (): void => forgetting.forEach((forget) => forget());

const byId = ({ id: one }: { id: string }, { id: other }: { id: string }): number => (one < other ? -1 : 1);

/**
 * What has another shape than today's is left out.
 *
 * @param follow What is new since a mark, all of it where there is none. @returns All there is, by their ids, anew at
 * each call.
 */
export function followed<S extends z.ZodType>(
  schema: S,
  follow: (mark: string | undefined) => Promise<Followed>,
): () => Promise<Kept<z.output<S>>[]> {
  let here: Here<z.output<S>> | undefined;
  forgetting.add(() => (here = undefined));
  return async () => {
    const before = here;
    const { mark, items, gone, isWhole } = await follow(before?.mark);
    const after: Here<z.output<S>> =
      before === undefined || isWhole ? { mark, items: new Map() } : Object.assign(before, { mark });
    for (const item of isWhole ? items.sort(byId) : items) {
      const kept = shaped(schema, item);
      if (kept === undefined) after.items.delete(item.id);
      else after.items.set(item.id, kept);
    }
    for (const id of gone) after.items.delete(id);
    // It may have been locked meanwhile.
    if (here === before) here = after;
    return [...after.items.values()].sort(byId);
  };
}
