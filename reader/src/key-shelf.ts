/** Keeps a key across pages, in IndexedDB: one that can be used and never read, until it is forgotten. */
const STORE = 'keys';

export interface KeyShelf<T> {
  keep(kept: T): Promise<unknown>;
  kept(): Promise<T | undefined>;
  /** Puts in its place what `next` makes of it, with nobody in between; undefined leaves it as it is. */
  change(next: (kept: T | undefined) => T | undefined): Promise<void>;
  forget(): Promise<unknown>;
}

/** One request in a transaction of its own; resolves with its answer once the transaction is complete. */
export const inStore = <R>(
  database: string,
  storeName: string,
  mode: IDBTransactionMode,
  act: (store: IDBObjectStore) => IDBRequest<R>,
): Promise<R> =>
  new Promise((resolve, reject) => {
    const opening = indexedDB.open(database, 1);
    opening.onupgradeneeded = () => opening.result.createObjectStore(storeName);
    opening.onerror = () => reject(opening.error);
    opening.onsuccess = () => {
      const opened = opening.result;
      const transaction = opened.transaction(storeName, mode);
      const request = act(transaction.objectStore(storeName));
      transaction.oncomplete = () => {
        opened.close();
        resolve(request.result);
      };
      // Whatever failed in it.
      transaction.onabort = () => {
        opened.close();
        reject(transaction.error);
      };
    };
  });

export function keyShelf<T>(database: string, name: string): KeyShelf<T> {
  const inKeys = <R>(mode: IDBTransactionMode, act: (store: IDBObjectStore) => IDBRequest<R>): Promise<R> =>
    inStore(database, STORE, mode, act);
  return {
    async change(next) {
      await inKeys('readwrite', (store) => {
        const request = store.get(name) as IDBRequest<T | undefined>;
        request.onsuccess = () => {
          const value = next(request.result);
          if (value !== undefined) store.put(value, name);
        };
        return request;
      });
    },
    keep: (kept) => inKeys('readwrite', (store) => store.put(kept, name)),
    kept: () => inKeys<T | undefined>('readonly', (store) => store.get(name)),
    forget: () => inKeys('readwrite', (store) => store.delete(name)),
  };
}
