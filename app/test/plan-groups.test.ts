/** The plan's lines as they are shown. */
import { type PlanLine } from '@under-lock/core/outgoing/delivery-plan';
import fc from 'fast-check';
import { grouped } from '../src/write/plan/groups';

const line = (address: string, chosen: Partial<PlanLine['chosen']> = {}): PlanLine => ({
  recipient: { name: '', address, role: 'to' },
  chosen: {
    lock: 'room',
    available: true,
    check: { kind: 'text', hint: `··· ${address}`, question: false },
    missing: [],
    warnings: [],
    reasons: [],
    cannotHonour: [],
    ...chosen,
  } as PlanLine['chosen'],
  alternatives: [],
});
const said = (lines: readonly PlanLine[]): string[] =>
  grouped(lines).map((group) => `${group.folded ? 'more ' : ''}${group.lines.map((one) => one.recipient.address)}`);

test('three that go the same way stand each by itself; of four the first does, and one line says the others', () => {
  expect(said(['a', 'b', 'c'].map((one) => line(one)))).toEqual(['a', 'b', 'c']);
  expect(said(['a', 'b', 'c', 'd'].map((one) => line(one)))).toEqual(['a', 'more b,c,d']);
});

test('another lock, another check and a warning are other ways; another number is none', () => {
  const key = { lock: 'openpgp' } as const;
  const warned = { warnings: [{ code: 'key-unchecked' as const }] };
  expect(
    said([
      line('a'),
      line('k', key),
      line('b'),
      line('q', { check: { kind: 'question', hint: '', question: true } }),
      line('w', warned),
      line('c'),
      line('d'),
    ]),
  ).toEqual(['a', 'k', 'more b,c,d', 'q', 'w']);
  // A warning that is the same for many is said once, too.
  expect(said(['a', 'b', 'c', 'd'].map((one) => line(one, warned)))).toEqual(['a', 'more b,c,d']);
});

test('nobody is lost or said twice, whoever goes how', () => {
  const anybody = fc.record({
    lock: fc.constantFrom('room' as const, 'openpgp' as const, 'file' as const),
    question: fc.boolean(),
    warned: fc.boolean(),
  });
  fc.assert(
    fc.property(fc.array(anybody, { maxLength: 40 }), (people) => {
      const lines = people.map(({ lock, question, warned }, index) =>
        line(String(index), {
          lock,
          check: { kind: 'text', hint: '', question },
          warnings: warned ? [{ code: 'key-unchecked' }] : [],
        }),
      );
      const shown = grouped(lines).flatMap((group) => group.lines);
      expect(shown.map((one) => Number(one.recipient.address)).sort((one, other) => one - other)).toEqual(
        lines.map((_, index) => index),
      );
      for (const group of grouped(lines)) expect(group.lines.length === 1 || group.folded).toBe(true);
    }),
  );
});
