import { type Followed, type ShelfItem } from '@under-lock/core/vault/opened';
import { z } from 'zod';
import { followed, forgetFollowed } from '../src/followed';

const item = (id: string, value: unknown, revision = 1): ShelfItem => ({ id, revision, updatedAt: new Date(0), value });
const whole = (mark: string, ...items: ShelfItem[]): Followed => ({ mark, items, gone: [], isWhole: true });

/** A thread that gives these answers in turn, and what it was asked. */
function listOf(...answers: (Followed | Promise<Followed>)[]) {
  const asked: (string | undefined)[] = [];
  const list = followed(z.object({ name: z.string() }), async (mark) => {
    asked.push(mark);
    return answers.shift()!;
  });
  const names = async () => (await list()).map(({ value }) => value.name);
  return { names, asked };
}

test('what has changed is laid on what is there, by their ids; what has another shape is left out', async () => {
  const { names, asked } = listOf(
    whole('one', item('c', { name: 'Cove' }), item('a', { name: 'Alder' }), item('x', 7)),
    { mark: 'two', items: [item('b', { name: 'Birk' }), item('c', { name: 'Coast' }, 2)], gone: [], isWhole: false },
    { mark: 'three', items: [item('b', { name: 7 }, 2)], gone: ['a'], isWhole: false },
    { mark: 'three', items: [], gone: [], isWhole: false },
    whole('four', item('d', { name: 'Dune' })),
  );
  expect(await names()).toEqual(['Alder', 'Cove']);
  expect(await names()).toEqual(['Alder', 'Birk', 'Coast']);
  expect(await names()).toEqual(['Coast']);
  expect(await names()).toEqual(['Coast']);
  expect(await names()).toEqual(['Dune']);
  expect(asked).toEqual([undefined, 'one', 'two', 'three', 'three']);
});

test('once the vault is locked nothing of it is kept, also of what was on its way', async () => {
  let comes = (_: Followed): void => undefined;
  const onItsWay = new Promise<Followed>((done) => (comes = done));
  const { names, asked } = listOf(whole('one', item('a', { name: 'Alder' })), onItsWay, whole('two'));
  await names();
  const asking = names();
  forgetFollowed();
  comes({ mark: 'later', items: [], gone: [], isWhole: false });
  await asking;
  expect(await names()).toEqual([]);
  expect(asked).toEqual([undefined, 'one', undefined]);
});

test('what can’t be asked leaves what is there', async () => {
  const { names, asked } = listOf(
    whole('one', item('a', { name: 'Alder' })),
    Promise.reject(new Error('no connection')),
    { mark: 'one', items: [], gone: [], isWhole: false },
  );
  await names();
  await expect(names()).rejects.toThrow('no connection');
  expect(await names()).toEqual(['Alder']);
  expect(asked).toEqual([undefined, 'one', 'one']);
});
