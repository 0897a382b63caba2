/** The demo's office book: begun by its administrator, with everybody in, and a few firms that all of them write to. */
import { type PublicKey } from '@under-lock/core/account/key-pair';
import { bookKey, makeOfficeKey, sealToMember } from '@under-lock/core/office-book/key';
import { type BookPerson, changedPerson } from '@under-lock/core/office-book/person';
import { briefMemory } from '@under-lock/core/vault/memory';
import { createShelf } from '@under-lock/core/vault/shelf';
import { randomUUID } from 'node:crypto';
import { type Context } from '../context';
import { type AccountRow } from '../data/models';
import { dropBookItem, getBookItem, listBookItems, putBookItem } from '../office-book/items';
import { beginBook, letMemberIn } from '../office-book/members';

interface Member {
  account: AccountRow;
  pair: PublicKey;
}

const KIND = 'book-person';
const EPOCH = 1;

/** One of these stands in a worker's own people, too, with another phone. */
const PEOPLE: readonly Omit<BookPerson, 'changes'>[] = [
  {
    name: 'Northquay claims',
    address: 'claims@northquay.example',
    firm: 'Northquay Insurance',
    phone: '+447700900349',
    note: 'Claims by reference number only. The desk changes each quarter; the phone stays.',
  },
  {
    name: 'Dr Aune, Harbour Clinic',
    address: 'records@harbourclinic.example',
    firm: 'Harbour Clinic',
    phone: '+447700900355',
  },
  {
    name: 'Bram Oster',
    address: 'bram.oster@saltmarsh.example',
    firm: 'Saltmarsh Yard',
    secondAddress: 'oster.yard@postbox.example',
    note: 'For bids and drawings; reads on his phone.',
  },
  { name: 'Lotte Haan', address: 'lotte.haan@saltmarsh.example', firm: 'Saltmarsh Yard', phone: '+447700900264' },
  {
    name: 'Pilot station',
    address: 'pilots@cala.example',
    firm: 'Port of Cala',
    password: {
      password: 'kelp lantern sorting mole',
      guesses: 14,
      since: '2026-10-02T08:00:00.000Z',
      toldAt: '2026-10-02T08:00:00.000Z',
    },
  },
  { name: 'Harbour office', address: 'office@cala.example', firm: 'Port of Cala' },
];

export async function seedBook(context: Context, [first, ...others]: readonly [Member, ...Member[]]): Promise<void> {
  const { suite, publicKey, secret } = await makeOfficeKey();
  const sealed = (to: Member): Promise<Uint8Array<ArrayBuffer>> => sealToMember(to.pair, secret, EPOCH, to.account.id);
  await beginBook(context, first.account, { suite, publicKey, sealedKey: await sealed(first) });
  for (const one of others)
    await letMemberIn(context, first.account, one.account.id, { epoch: EPOCH, sealedKey: await sealed(one) });
  const key = await bookKey(secret);
  for (const [index, person] of PEOPLE.entries()) {
    const { account } = [first, ...others][index % (others.length + 1)]!;
    const shelf = createShelf({
      kinds: [KIND],
      memory: briefMemory(),
      key: () => Promise.resolve(key),
      door: {
        list: () => listBookItems(context, account.id, KIND, {}),
        read: (_, id) => getBookItem(context, account.id, KIND, id),
        put: async (_, id, { manifest, ...change }) =>
          void (await putBookItem(
            context,
            account,
            { kind: KIND, id, epoch: EPOCH },
            { ...change, manifest: manifest! },
          )),
        drop: (_, id, manifest) => dropBookItem(context, account, { kind: KIND, id, epoch: EPOCH }, manifest),
        putManifest: () => Promise.reject(new Error('It begins with its first person')),
        isBehind: () => false,
      },
    });
    const by = { id: account.id, name: account.name };
    await shelf.keep(
      KIND,
      randomUUID(),
      0,
      changedPerson(undefined, person, { by, at: context.clock(), what: 'shared' }),
    );
  }
}
