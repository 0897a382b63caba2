/** The office book at the door: opened with what a member's browser sealed to it, fetched anew when it has changed. */
import { bookDoor, getDoorBook } from '@under-lock/contract/office-book';
import { type Firm, firmSchema } from '@under-lock/core/office-book/firm';
import { bookKey, DOOR_IN_BOOK, openAsMember } from '@under-lock/core/office-book/key';
import { type BookPerson, bookPersonSchema } from '@under-lock/core/office-book/person';
import { type Kept, shaped } from '@under-lock/core/vault/kept';
import { type BookKind, BOOK_KINDS } from '@under-lock/core/vault/item';
import { briefMemory, type Memory } from '@under-lock/core/vault/memory';
import { createShelf, type Shelf } from '@under-lock/core/vault/shelf';
import { type z } from 'zod';
import { type DoorKeys } from '@under-lock/core/submission/keys';
import { type Owner } from './house';

export interface BookHere {
  people: readonly Kept<BookPerson>[];
  firms: readonly Kept<Firm>[];
}
const EMPTY: BookHere = { people: [], firms: [] };

export class OfficeBook {
  /** What it has met since it was started, by epoch: nothing from before is taken for what is there. */
  private readonly memories = new Map<number, Memory>();
  /**
   * Of the newest key only, so that what older ones opened is not kept: what has not changed need not come again. Asked
   * in the name of whoever it acts for.
   */
  private current: { epoch: number; shelf: Shelf; asking: Pick<Owner, 'client'> } | undefined;
  private known: { of: string; book: Promise<BookHere> } | undefined;

  constructor(private readonly keys: DoorKeys) {}

  /** Nobody where the door or whoever it acts for is not in the book. @throws ApiProblem, VaultOldError */
  async asKnownTo({ client }: Owner): Promise<BookHere> {
    const { book } = await client(getDoorBook);
    if (book === undefined) return EMPTY;
    const { epoch, sealedKey, revisions } = book;
    const of = `${epoch} ${BOOK_KINDS.map((kind) => revisions[kind] ?? 0).join(' ')}`;
    if (this.known?.of !== of) {
      const fetched = this.fetch(client, epoch, sealedKey);
      this.known = { of, book: fetched };
      fetched.catch(() => (this.known = undefined));
    }
    return this.known.book;
  }

  private async shelfAt(client: Owner['client'], epoch: number, sealedKey: Uint8Array): Promise<Shelf> {
    if (this.current?.epoch === epoch) {
      this.current.asking.client = client;
      return this.current.shelf;
    }
    const key = await bookKey(await openAsMember(this.keys.privateKey, sealedKey, epoch, DOOR_IN_BOOK));
    const memory = this.memories.get(epoch) ?? briefMemory();
    this.memories.set(epoch, memory);
    const asking = { client };
    const shelf = createShelf({
      kinds: BOOK_KINDS,
      memory,
      key: async () => key,
      door: bookDoor(
        ((...asked: Parameters<Owner['client']>) => asking.client(...asked)) as Owner['client'],
        () => epoch,
        async () => undefined,
      ),
    });
    this.current = { epoch, shelf, asking };
    return shelf;
  }

  private async fetch(client: Owner['client'], epoch: number, sealedKey: Uint8Array): Promise<BookHere> {
    const shelf = await this.shelfAt(client, epoch, sealedKey);
    const listed = async <S extends z.ZodType>(kind: BookKind, schema: S): Promise<Kept<z.output<S>>[]> =>
      (await shelf.list(kind)).flatMap((item) => shaped(schema, item) ?? []);
    return { people: await listed('book-person', bookPersonSchema), firms: await listed('book-firm', firmSchema) };
  }
}
