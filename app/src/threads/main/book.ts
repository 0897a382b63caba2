/** The office book in the worker thread: who is in, the office's secret, and what is sealed under it. */
import { createClient } from '@under-lock/contract/client';
import {
  beginOfficeBook,
  bookDoor,
  getOfficeBook,
  letDoorIn,
  letIn,
  renewInParts,
} from '@under-lock/contract/office-book';
import { isProblem } from '@under-lock/contract/problem';
import { type PublicKey } from '@under-lock/core/account/key-pair';
import { type Bytes } from '@under-lock/core/bytes';
import { type Choice } from '@under-lock/core/choosing/choice';
import { openChoice } from '@under-lock/core/choosing/sealed';
import { bookKey, DOOR_IN_BOOK, makeOfficeKey, openAsMember, sealToMember } from '@under-lock/core/office-book/key';
import { resealed } from '@under-lock/core/office-book/renewal';
import { BOOK_KINDS, type BookKind } from '@under-lock/core/vault/item';
import { type Followed, type ShelfItem } from '@under-lock/core/vault/opened';
import { createShelf, type Shelf, type ValueChange } from '@under-lock/core/vault/shelf';
import { memoryOf } from '../shelf';
import { stockOf } from '../stock';
import { type OpenVault } from '../vault-key';
import { openedVault } from './account';
import { privateKey } from './received';

const client = createClient(self.location.origin);
const TRIES = 3;

interface Held {
  epoch: number;
  secret: Bytes;
  key: CryptoKey;
}

/** As long as the vault it was opened with is open. */
interface Desk {
  held: Promise<Held> | undefined;
  shelf: Shelf;
}
const desks = new WeakMap<OpenVault, Desk>();

/** Whoever is not in has none. */
export class NotInBookError extends Error {
  constructor() {
    super('not-in-book');
    this.name = 'NotInBookError';
  }
}

async function fetchHeld(): Promise<Held> {
  const { accountId } = openedVault();
  const { key, sealedKey } = await client(getOfficeBook, {});
  if (key === undefined || sealedKey === undefined) throw new NotInBookError();
  const secret = await openAsMember(await privateKey(), sealedKey, key.epoch, accountId);
  return { epoch: key.epoch, secret, key: await bookKey(secret) };
}

function desk(): Desk {
  const vault = openedVault();
  const known = desks.get(vault);
  if (known !== undefined) return known;
  let epoch = 0;
  const made: Desk = {
    held: undefined,
    shelf: createShelf({
      kinds: BOOK_KINDS,
      memory: memoryOf(`${vault.accountId}/book`),
      stock: stockOf(vault.accountId, 'book'),
      key: async () => (await held(made)).key,
      door: bookDoor(
        client,
        () => epoch,
        async (now) => {
          epoch = now;
          if (made.held !== undefined && (await made.held).epoch !== now) made.held = undefined;
        },
      ),
    }),
  };
  desks.set(vault, made);
  return made;
}

function held(of: Desk): Promise<Held> {
  if (of.held === undefined) {
    const asked = fetchHeld();
    of.held = asked;
    asked.catch(() => (of.held = undefined));
  }
  return of.held;
}

/** Of the key the server has now: another one than is held is fetched. */
async function current(): Promise<Held> {
  const at = desk();
  at.held = undefined;
  return held(at);
}

export const book = {
  /** The office's first key, held by whoever makes it. @throws ApiProblem `conflict` */
  async begin(self: PublicKey): Promise<void> {
    const { accountId } = openedVault();
    const { suite, publicKey, secret } = await makeOfficeKey();
    const sealedKey = await sealToMember(self, secret, 1, accountId);
    await client(beginOfficeBook, { body: { suite, publicKey, sealedKey } });
  },
  /** @throws ApiProblem, NotInBookError, SealError */
  async letIn(id: string, key: PublicKey): Promise<void> {
    for (let left = TRIES; ; left--) {
      const { secret, epoch } = await current();
      try {
        await client(letIn, { params: { id }, body: { epoch, sealedKey: await sealToMember(key, secret, epoch, id) } });
        return;
      } catch (error) {
        if (!isProblem(error, 'key-renewed') || left === 1) throw error;
      }
    }
  },
  /** The door for mail programs with this key. @throws ApiProblem, NotInBookError, SealError */
  async letDoorIn({ suite, publicKey }: PublicKey & { publicKey: Bytes }): Promise<void> {
    const { secret, epoch } = await current();
    const sealedKey = await sealToMember({ suite, publicKey }, secret, epoch, DOOR_IN_BOOK);
    await client(letDoorIn, { body: { epoch, sealedKey, publicKey } });
  },
  /**
   * A new key for those who stay, and everything sealed anew under it. Somebody else may have been first.
   *
   * @throws ApiProblem, NotInBookError, VaultOldError
   */
  async renew(members: { id: string; key: PublicKey }[]): Promise<void> {
    const { epoch } = await current();
    const { shelf } = desk();
    const shelved = [];
    for (const kind of BOOK_KINDS)
      shelved.push({ kind, items: await shelf.list(kind), revision: await shelf.revisionOf(kind) });
    const next = await resealed(shelved, { epoch: epoch + 1, members });
    await renewInParts(client, epoch, next);
    desk().held = undefined;
  },
  /** What a reader chose. @throws ApiProblem, NotInBookError, SealError also when the key has been renewed since */
  async openChoice(id: string, epoch: number, sealed: Uint8Array): Promise<Choice> {
    return openChoice((await held(desk())).secret, epoch, id, sealed);
  },
  /** @throws ApiProblem, NotInBookError, VaultOldError */
  /** See {@link Shelf.follow}. */
  follow: (kind: BookKind, mark?: string): Promise<Followed> => desk().shelf.follow(kind, mark),
  read: (kind: BookKind, id: string): Promise<ShelfItem | undefined> => desk().shelf.read(kind, id),
  keep: (kind: BookKind, id: string, revision: number, value: unknown): Promise<number> =>
    desk().shelf.keep(kind, id, revision, value),
  keepAll: (kind: BookKind, changes: readonly ValueChange[]): Promise<void> => desk().shelf.keepAll(kind, changes),
  drop: (kind: BookKind, id: string): Promise<void> => desk().shelf.drop(kind, id),
  /** See {@link Shelf.accept}. Nothing where one is not in. */
  accept: (): Promise<void> =>
    desk()
      .shelf.accept()
      .catch((error: unknown) => (error instanceof NotInBookError ? undefined : Promise.reject(error))),
};
