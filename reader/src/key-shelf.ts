/** Keeps a key across pages, in IndexedDB: one that can be used and never read, until it is forgotten. */
const STORE = 'keys';

export interface KeyShelf<T> { keep(kept: T): Promise<unknown>; kept(): Promise<T | undefined>; forget(): Promise<unknown> }

export function keyShelf<T>(database: string, name: string): KeyShelf<T> {
  const inStore = <R>(mode: IDBTransactionMode, act: (store: IDBObjectStore) => IDBRequest<R>): Promise<R> =>
    new Promise((resolve, reject) => {
      const opening = indexedDB.open(database, 1);
      opening.onupgradeneeded = () => opening.result.createObjectStore(STORE);
      opening.onerror = () => reject(opening.error);
      opening.onsuccess = () => {
        const request = act(opening.result.transaction(STORE, mode).objectStore(STORE));
        request.onsuccess = () => resolve(request.result);
        request.onerror = () => reject(request.error);
        request.transaction!.oncomplete = () => opening.result.close();
      };
    });
  return {
    keep: (kept) => inStore('readwrite', (store) => store.put(kept, name)),
    kept: () => inStore<T | undefined>('readonly', (store) => store.get(name)),
    forget: () => inStore('readwrite', (store) => store.delete(name)),
  };
}
