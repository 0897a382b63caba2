/**
 * An office book at its fullest: brought in, opened by a browser that has nothing of it, then by one that has all but a
 * change of somebody else's; and found in as somebody types.
 */
import { randomUUID } from 'node:crypto';
import * as api from '@under-lock/contract/office-book';
import { bookKey, makeOfficeKey, sealToMember } from '@under-lock/core/office-book/key';
import { type BookPerson, bookPersonSchema } from '@under-lock/core/office-book/person';
import { shaped } from '@under-lock/core/vault/kept';
import { briefMemory, createShelf, type Shelf, type VaultDoor } from '@under-lock/core/vault/shelf';
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

export async function officeBook(): Promise<Row[]> {
  const house = await openHouse();
  const ines = await house.worker('ines.varga', 'administrator');
  const made = await makeOfficeKey();
  const sealedKey = await sealToMember(await giveKeyPair(ines), made.secret, 1, ines.account.id);
  await ines.client(api.beginOfficeBook, { body: { suite: made.suite, publicKey: made.publicKey, sealedKey } });
  const key = await bookKey(made.secret);
  let octets = 0;
  const door = api.bookDoor(
    ines.client,
    () => 1,
    async () => undefined,
  );
  const counting: VaultDoor = {
    ...door,
    async list(...asked) {
      const answer = await door.list(...asked);
      octets += answer.items.reduce((sum, { sealed }) => sum + sealed.length, answer.manifest.sealed?.length ?? 0);
      return answer;
    },
  };
  const browser = (): Shelf =>
    createShelf({ kinds: [KIND], memory: briefMemory(), key: async () => key, door: counting });
  const [one, other] = [browser(), browser()];
  const ids = Array.from({ length: PEOPLE }, () => randomUUID() as string);
  const bringing = await seconds(() =>
    one.keepAll(
      KIND,
      ids.map((id, index) => ({ id, revision: 0, value: person(index) })),
    ),
  );
  octets = 0;
  const whole = await seconds(() => other.list(KIND));
  const ofWhole = octets;
  await one.keep(KIND, ids[7]!, 1, person(7, 'asks for the blue form'));
  octets = 0;
  const changed = await seconds(() => other.list(KIND));
  const ofChange = octets;
  const people = (await other.list(KIND)).flatMap((item) => shaped(bookPersonSchema, item) ?? []);
  foundInBook(people, '');
  const keys = Array.from('falk 1234').map((_, at, all) => {
    const from = performance.now();
    foundInBook(people, all.slice(0, at + 1).join(''));
    return performance.now() - from;
  });
  await house.stop();
  const of = `Office book with ${PEOPLE.toLocaleString('en-GB')} people`;
  return [
    { what: `${of}, brought in, seconds`, value: bringing.toFixed(1), aim: 'known' },
    { what: `${of}, fetched and opened whole, seconds`, value: whole.toFixed(1), aim: '≤ 3' },
    { what: `${of}, one change: time ÷ the whole`, value: (changed / whole).toFixed(3), aim: '≤ 0.1' },
    { what: `${of}, one change: octets ÷ the whole`, value: (ofChange / ofWhole).toFixed(3), aim: 'known' },
    { what: `${of}, found as typed, ms a key (without drawing)`, value: median(keys).toFixed(1), aim: '≤ 100' },
  ];
}
