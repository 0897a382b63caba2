/** Keeps the vault open across a reload: a key that can be used and never read, in IndexedDB, until sign-out or the idle lock. */
const DATABASE = 'under-lock';
const STORE = 'keys';

export interface OpenVault {
  accountId: string;
  key: CryptoKey;
}

function inStore<T>(mode: IDBTransactionMode, act: (store: IDBObjectStore) => IDBRequest<T>): Promise<T> {
  return new Promise((resolve, reject) => {
    const opening = indexedDB.open(DATABASE, 1);
    opening.onupgradeneeded = () => opening.result.createObjectStore(STORE);
    opening.onerror = () => reject(opening.error);
    opening.onsuccess = () => {
      const request = act(opening.result.transaction(STORE, mode).objectStore(STORE));
      request.onsuccess = () => resolve(request.result);
      request.onerror = () => reject(request.error);
      request.transaction!.oncomplete = () => opening.result.close();
    };
  });
}

export const keepVaultKey = (vault: OpenVault): Promise<unknown> => inStore('readwrite', (store) => store.put(vault, 'vault'));
export const keptVaultKey = (): Promise<OpenVault | undefined> => inStore<OpenVault | undefined>('readonly', (store) => store.get('vault'));
export const forgetVaultKey = (): Promise<unknown> => inStore('readwrite', (store) => store.delete('vault'));
