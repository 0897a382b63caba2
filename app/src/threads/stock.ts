/** Where what was opened of a vault lies on this device: pieces of each kind, sealed, and the head that belongs to them. */
import { type KeptHead, type Stock } from '@under-lock/core/vault/stock';
import { inStore } from '@under-lock/reader/key-shelf';

const inPieces = <R>(mode: IDBTransactionMode, act: (store: IDBObjectStore) => IDBRequest<R>): Promise<R> =>
  inStore('under-lock-stock', 'pieces', mode, act);

/** A head has none of its own. */
interface Lying {
  piece?: number;
  mark?: string;
  revision?: number;
  sealed: Uint8Array;
}

const isHead = (one: Lying): one is KeptHead => one.mark !== undefined;
/** The character after the slash ends the range of all that begins with it. */
const under = (place: string): IDBKeyRange => IDBKeyRange.bound(`${place}/`, `${place}0`, false, true);

/** Of one account's: what others left on the device is theirs alone, and goes. */
export function stockOf(accountId: string, vault: string): Stock {
  const placeOf = (kind: string): string => `${accountId}/${vault}/${kind}`;
  const othersGone = async (): Promise<void> => {
    const names = await inPieces('readonly', (store) => store.getAllKeys());
    for (const name of names.map(String))
      if (!name.startsWith(`${accountId}/`)) await inPieces('readwrite', (store) => store.delete(name));
  };
  return {
    async read(kind) {
      await othersGone();
      const all = await inPieces<Lying[]>('readonly', (store) => store.getAll(under(placeOf(kind))));
      const head = all.find(isHead);
      const pieces = all.flatMap(({ piece, sealed }) => (piece === undefined ? [] : [[piece, sealed] as const]));
      return head && { head, pieces: new Map(pieces) };
    },
    async write(kind, head, pieces, over) {
      const place = placeOf(kind);
      let there: KeptHead | undefined;
      await inPieces('readwrite', (store) => {
        const asking = store.get(`${place}/head`) as IDBRequest<KeptHead | undefined>;
        asking.onsuccess = () => {
          there = asking.result;
          if (over !== undefined && there?.mark !== over) return;
          there = undefined;
          if (over === undefined) store.delete(under(place));
          for (const [piece, sealed] of pieces) store.put({ piece, sealed } satisfies Lying, `${place}/${piece}`);
          store.put(head, `${place}/head`);
        };
        return asking;
      });
      return there;
    },
    forget: async (kind) => inPieces('readwrite', (store) => store.delete(under(placeOf(kind)))),
  };
}
