/** The office book before a test, as an administrator's browser begins it and a member's keeps it. */
import * as bookApi from '@under-lock/contract/office-book';
import { type Firm } from '@under-lock/core/office-book/firm';
import { bookKey, DOOR_IN_BOOK, makeOfficeKey, sealToMember } from '@under-lock/core/office-book/key';
import { type BookPerson } from '@under-lock/core/office-book/person';
import { BOOK_KINDS, type BookKind } from '@under-lock/core/vault/item';
import { briefMemory } from '@under-lock/core/vault/memory';
import { createShelf } from '@under-lock/core/vault/shelf';
import { randomUUID } from 'node:crypto';
import { giveKeyPair, type Worker } from '../../server/test/house';
import { type Correspondent } from './mail-programs';

export const person = (name: string, address: string, over: Partial<BookPerson>): BookPerson => ({
  name,
  address,
  changes: [],
  ...over,
});

export interface TestBook {
  put(kind: BookKind, one: BookPerson | Firm): Promise<void>;
  letDoorIn(): Promise<void>;
}

export async function beginBook(admin: Worker, member: Correspondent): Promise<TestBook> {
  const key = await giveKeyPair(admin);
  const { secret, suite, publicKey } = await makeOfficeKey();
  await admin.client(bookApi.beginOfficeBook, {
    body: { suite, publicKey, sealedKey: await sealToMember(key, secret, 1, admin.account.id) },
  });
  await admin.client(bookApi.letIn, {
    params: { id: member.account.id },
    body: { epoch: 1, sealedKey: await sealToMember(member.key, secret, 1, member.account.id) },
  });
  const door = bookApi.bookDoor(
    member.client,
    () => 1,
    async () => undefined,
  );
  return {
    async put(kind, one) {
      const shelf = createShelf({ kinds: BOOK_KINDS, memory: briefMemory(), key: async () => bookKey(secret), door });
      await shelf.keep(kind, randomUUID(), 0, one);
    },
    async letDoorIn() {
      const { door: known } = await member.client(bookApi.getOfficeBook);
      await member.client(bookApi.letDoorIn, {
        body: {
          epoch: 1,
          publicKey: known!.publicKey,
          sealedKey: await sealToMember(known!, secret, 1, DOOR_IN_BOOK),
        },
      });
    },
  };
}
