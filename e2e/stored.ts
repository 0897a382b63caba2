/** What the browser keeps on the device in a store of pieces: under which names, and their octets. */
import { type Page } from '@playwright/test';

export const storedIn = (page: Page, database: string): Promise<{ names: string[]; octets: string }> =>
  page.evaluate(
    (name) =>
      new Promise<{ names: string[]; octets: string }>((resolve, reject) => {
        const opening = indexedDB.open(name, 1);
        opening.onerror = () => reject(opening.error);
        opening.onsuccess = () => {
          const transaction = opening.result.transaction('pieces');
          const [keys, all] = [
            transaction.objectStore('pieces').getAllKeys(),
            transaction.objectStore('pieces').getAll() as IDBRequest<(Uint8Array | { sealed: Uint8Array })[]>,
          ];
          transaction.oncomplete = () => {
            opening.result.close();
            const pieces = all.result.map((one) => (one instanceof Uint8Array ? one : one.sealed));
            resolve({
              names: keys.result.map(String),
              octets: pieces.map((bytes) => new TextDecoder('latin1').decode(bytes)).join('\n'),
            });
          };
        };
      }),
    database,
  );
