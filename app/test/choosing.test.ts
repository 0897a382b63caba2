import fc from 'fast-check';
import { isChosen } from '@under-lock/core/certificate/kept-key';
import { type Candidate, choicesOf, choose } from '../src/keys/choosing';

const both = { sign: true, encrypt: true };
const key = (id: string, addresses: string[], uses = both): Candidate => ({ id, view: { addresses, uses } });

test('only what another certificate could do as well is there to choose', () => {
  const wide = key('wide', ['maren@x.example', 'crew@x.example']);
  const signs = key('signs', ['Maren@x.example'], { sign: true, encrypt: false });
  expect(choicesOf(wide, [wide, signs])).toEqual([{ address: 'maren@x.example', use: 'sign', chosen: false }]);
  expect(choicesOf(wide, [wide])).toEqual([]);
  expect(choicesOf(wide, [key('other', ['pier@x.example'])])).toEqual([]);
});

test('one certificate may serve one address while another serves the other', () => {
  const wide = key('wide', ['maren@x.example', 'crew@x.example']);
  const crew = key('crew', ['crew@x.example']);
  const first = choose(wide, [crew], 'maren@x.example', 'sign');
  expect(first).toEqual([{ id: 'wide', chosen: { sign: ['maren@x.example'], encrypt: [] } }]);
  const second = choose(crew, [{ ...wide, chosen: first[0]!.chosen }], 'crew@x.example', 'sign');
  expect(second).toEqual([{ id: 'crew', chosen: { sign: ['crew@x.example'], encrypt: [] } }]);
});

test('whatever is chosen in whatever order, at most one serves an address and a use, and it is the one chosen last', () => {
  const addresses = ['a@x.example', 'b@x.example', 'c@x.example'];
  fc.assert(
    fc.property(
      fc.array(
        fc.tuple(fc.nat(3), fc.constantFrom(...addresses), fc.constantFrom('sign' as const, 'encrypt' as const)),
        { maxLength: 30 },
      ),
      (turns) => {
        const keys = new Map(['k0', 'k1', 'k2', 'k3'].map((id) => [id, key(id, addresses)]));
        const last = new Map<string, string>();
        for (const [index, address, use] of turns) {
          const own = keys.get(`k${index}`)!;
          for (const { id, chosen } of choose(own, [...keys.values()], address, use))
            keys.set(id, { ...keys.get(id)!, chosen });
          last.set(`${address} ${use}`, own.id);
        }
        for (const address of addresses)
          for (const use of ['sign', 'encrypt'] as const) {
            const winner = last.get(`${address} ${use}`);
            expect(
              [...keys.values()].filter(({ chosen }) => isChosen(chosen, address, use)).map(({ id }) => id),
            ).toEqual(winner === undefined ? [] : [winner]);
          }
      },
    ),
  );
});
