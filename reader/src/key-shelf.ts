/** Keeps a key across pages, in IndexedDB: one that can be used and never read, until it is forgotten. */
const STORE = 'keys';

export interface KeyShelf<T> {
  keep(kept: T): Promise<unknown>;
  kept(): Promise<T | undefined>;
  /** Puts in its place what `next` makes of it, with nobody in between; undefined leaves it as it is. */
  change(next: (kept: T | undefined) => T | undefined): Promise<void>;
  forget(): Promise<unknown>;
}

export function keyShelf<T>(database: string, name: string): KeyShelf<T> {
  const inStore = <R>(mode: IDBTransactionMode, act: (store: IDBObjectStore) => IDBRequest<R>): Promise<R> =>
    new Promise((resolve, reject) => {
      const opening = indexedDB.open(database, 1);
      opening.onupgradeneeded = () => opening.result.createObjectStore(STORE);
      opening.onerror = () => reject(opening.error);
      opening.onsuccess = () => {
        const opened = opening.result;
        const transaction = opened.transaction(STORE, mode);
        const request = act(transaction.objectStore(STORE));
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
  return {
    async change(next) {
      await inStore('readwrite', (store) => {
        const request = store.get(name) as IDBRequest<T | undefined>;
        request.onsuccess = () => {
          const value = next(request.result);
          if (value !== undefined) store.put(value, name);
        };
        return request;
      });
    },
    keep: (kept) => inStore('readwrite', (store) => store.put(kept, name)),
    kept: () => inStore<T | undefined>('readonly', (store) => store.get(name)),
    forget: () => inStore('readwrite', (store) => store.delete(name)),
  };
}
