/**
 * An office book at its fullest: brought in, opened by a browser that has nothing of it, by a new page on a device that
 * has kept it, then a change of somebody else's; and found in as somebody types. Server and browser share one process.
 */
import { randomUUID } from 'node:crypto';
import * as api from '@under-lock/contract/office-book';
import { bookKey, makeOfficeKey, sealToMember } from '@under-lock/core/office-book/key';
import { type BookPerson, bookPersonSchema } from '@under-lock/core/office-book/person';
import { type VaultDoor } from '@under-lock/core/vault/door';
import { shaped } from '@under-lock/core/vault/kept';
import { briefMemory } from '@under-lock/core/vault/memory';
import { createShelf, type Shelf } from '@under-lock/core/vault/shelf';
import { type KeptHead, type Stock } from '@under-lock/core/vault/stock';
import { foundInBook } from '../app/src/office-book/found-in-book';
import { giveKeyPair, openHouse } from '../server/test/house';
import { median } from './measured';
import { type Row } from './row';

const PEOPLE = api.MOST_IN_BOOK - 100;
const KIND = 'book-person';
const LAST_NAMES = ['Lind', 'Sand', 'Berg', 'Falk', 'Holm', 'Dahl', 'Vik', 'Moen', 'Ness', 'Lund'];

const person = (index: number, note?: string): BookPerson => ({
  name: `Person ${LAST_NAMES[index % LAST_NAMES.length]} ${index}`,
  address: `person.${index}@firm${index % 700}.example`,
  firm: `Firm ${index % 700}`,
  phone: `+4477009${String(index).padStart(5, '0')}`,
  changes: [],
  ...(note === undefined ? {} : { note }),
});

async function seconds(act: () => Promise<unknown>): Promise<number> {
  const from = performance.now();
  await act();
  return (performance.now() - from) / 1000;
}

/** What a device keeps, without its disk. */
function stockInMemory(): Stock {
  let head: KeptHead | undefined;
  const pieces = new Map<number, Uint8Array>();
  return {
    read: async () => head && { head, pieces: new Map(pieces) },
    async write(_, next, changed, over) {
      if (over !== undefined && head?.mark !== over) return head;
      if (over === undefined) pieces.clear();
      for (const [at, sealed] of changed) pieces.set(at, sealed);
      head = next;
      return undefined;
    },
    async forget() {
      head = undefined;
      pieces.clear();
    },
  };
}

/** A book of so many, and what its pages ask for. */
async function bookOf(count: number) {
  const house = await openHouse();
  const ines = await house.worker('ines.varga', 'administrator');
  const made = await makeOfficeKey();
  const sealedKey = await sealToMember(await giveKeyPair(ines), made.secret, 1, ines.account.id);
  await ines.client(api.beginOfficeBook, { body: { suite: made.suite, publicKey: made.publicKey, sealedKey } });
  const key = await bookKey(made.secret);
  const door = api.bookDoor(
    ines.client,
    () => 1,
    async () => undefined,
  );
  const counted = { octets: 0 };
  const counting: VaultDoor = {
    ...door,
    async list(...asked) {
      const answer = await door.list(...asked);
      const { whole, steps = [] } = answer.manifest;
      for (const { length } of [...answer.items.map(({ sealed }) => sealed), ...steps]) counted.octets += length;
      counted.octets += whole?.sealed.length ?? 0;
      return answer;
    },
  };
  const page = (stock?: Stock): Shelf =>
    createShelf({
      kinds: [KIND],
      memory: briefMemory(),
      key: async () => key,
      door: counting,
      ...(stock === undefined ? {} : { stock }),
    });
  const ids = Array.from({ length: count }, () => randomUUID() as string);
  return { house, page, ids, counted };
}

const CHANGES = 9;

async function measured(count: number) {
  const { house, page, ids, counted } = await bookOf(count);
  const stock = stockInMemory();
  const [writer, reader] = [page(), page(stock)];
  const bringing = await seconds(() =>
    writer.keepAll(
      KIND,
      ids.map((id, index) => ({ id, revision: 0, value: person(index) })),
    ),
  );
  const whole = await seconds(() => reader.list(KIND));
  while ((await stock.read(KIND)) === undefined) await new Promise((done) => setTimeout(done, 10));
  const device = await seconds(() => page(stock).list(KIND));
  counted.octets = 0;
  let { mark } = await reader.follow(KIND);
  const changes: number[] = [];
  for (let revision = 1; revision <= CHANGES; revision++) {
    await writer.keep(KIND, ids[7]!, revision, person(7, 'asks for the blue form'));
    changes.push(await seconds(async () => ({ mark } = await reader.follow(KIND, mark))));
  }
  const octets = counted.octets / CHANGES;
  const people = (await reader.list(KIND)).flatMap((item) => shaped(bookPersonSchema, item) ?? []);
  await house.stop();
  return { bringing, whole, device, change: median(changes), octets, people };
}

export async function officeBook(): Promise<Row[]> {
  const small = await measured(PEOPLE / 10);
  const { people, ...large } = await measured(PEOPLE);
  foundInBook(people, '');
  const keys = Array.from('falk 1234').map((_, at, all) => {
    const from = performance.now();
    foundInBook(people, all.slice(0, at + 1).join(''));
    return performance.now() - from;
  });
  const of = `Office book with ${PEOPLE.toLocaleString('en-GB')} people`;
  return [
    { what: `${of}, brought in, seconds`, value: large.bringing.toFixed(1), aim: 'known' },
    { what: `${of}, fetched and opened whole, seconds`, value: large.whole.toFixed(1), aim: '≤ 3' },
    { what: `${of}, opened from what the device has kept, seconds`, value: large.device.toFixed(2), aim: '≤ 3' },
    { what: `${of}, a change followed, ms`, value: (large.change * 1000).toFixed(1), aim: 'known' },
    {
      what: `${of}, a change ÷ with a tenth of them: time`,
      value: (large.change / small.change).toFixed(2),
      aim: '≈ 1',
    },
    {
      what: `${of}, a change ÷ with a tenth of them: octets`,
      value: (large.octets / small.octets).toFixed(2),
      aim: '≈ 1',
    },
    { what: `${of}, found as typed, ms a key (without drawing)`, value: median(keys).toFixed(1), aim: '≤ 100' },
  ];
}
