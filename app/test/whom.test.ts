/** With whom: what is offered while it is typed. */
import { offeredFor } from '../src/find/whom';

const people = [
  { name: 'Mira Sand', address: 'Mira@yard.example' },
  { name: 'Orrin Vale', address: 'orrin@yard.example' },
  { name: '', address: 'claims@northquay.example' },
];
const whos = (typed: string): string[] => offeredFor(typed, people).map(({ who }) => who);

test('people by name or address, and the firms they are of', () => {
  expect(offeredFor('mira', people)).toEqual([{ label: 'Mira Sand', who: 'mira@yard.example' }]);
  expect(whos('yard')).toEqual(['mira@yard.example', 'orrin@yard.example', '@yard.example']);
  expect(offeredFor('@north', people)).toEqual([
    { label: 'claims@northquay.example', who: 'claims@northquay.example' },
    { label: 'Everybody at northquay.example', who: '@northquay.example' },
  ]);
});

test('whom nobody knows yet, where it was typed whole; each once, and no more than six', () => {
  expect(whos('new@harbour.example')).toEqual(['new@harbour.example']);
  expect(whos('harbour.example')).toEqual(['@harbour.example']);
  expect(whos('mira@yard.example')).toEqual(['mira@yard.example']);
  expect(whos('harbour')).toEqual([]);
  expect(whos('  ')).toEqual([]);
  const many = Array.from({ length: 40 }, (_, n) => ({ name: 'Sand', address: `sand${n}@firm${n}.example` }));
  expect(offeredFor('sand', many).length).toBeLessThanOrEqual(6);
});
