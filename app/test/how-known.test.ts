/** How somebody is to be known from now on: what is offered, what is wrong with it, and when enough is known. */
import { type About, type Asked, howKnown, type Typed } from '../src/sent/how-known';
import { phoneOf } from '../src/phone/phone-value';

const pell: About = {
  name: 'Pell Anders',
  address: 'pell.anders@postbox.example',
  check: { kind: 'text', question: false },
};
const asked: Asked = { about: pell, least: { check: 'question', question: false }, keptQuestion: false };
const nothing: Typed = {
  kind: undefined,
  phone: undefined,
  second: undefined,
  question: { text: '', answer: '' },
  told: { password: 'kelp lantern sorting mole' } as never,
};
const person = (value: object) => ({ id: '1', revision: 1, value }) as never;
const alone = { people: [], ownPhone: '+447700900100' };
const around = {
  ...alone,
  people: [
    person({ name: 'Pell', address: pell.address, phone: '+447700900123', secondAddress: 'pell@shore.example' }),
    person({ name: 'Mira Talvik', address: 'mira.talvik@saltmarsh.example', phone: '+447700900376' }),
  ],
};

test('what is known of them is taken, and nothing is settled without it', () => {
  expect(howKnown(asked, nothing, around)).toMatchObject({
    kind: 'text',
    target: '+447700900123',
    owner: undefined,
    wanted: { check: 'text', target: '+447700900123' },
  });
  expect(howKnown(asked, nothing, alone).wanted).toBeUndefined();
  expect(howKnown(asked, { ...nothing, kind: 'email' }, around).wanted).toEqual({
    check: 'email',
    target: 'pell@shore.example',
  });
});

test('one’s own number, the first address once more, and what is known as somebody else’s', () => {
  const own = howKnown(asked, { ...nothing, phone: phoneOf('+447700900100') }, alone);
  expect([own.phoneError, own.wanted]).toEqual(['That is your own number.', undefined]);
  const same = howKnown(asked, { ...nothing, kind: 'email', second: 'Pell.Anders@postbox.example' }, alone);
  expect([same.secondError, same.wanted]).toEqual(['This must be another address than the first.', undefined]);
  expect(howKnown(asked, { ...nothing, phone: phoneOf('+447700900376') }, around)).toMatchObject({
    owner: { name: 'Mira Talvik' },
    wanted: { target: '+447700900376' },
  });
});

test('a question that is asked already stays while both are empty; one that is begun has to be whole', () => {
  const questioned: Asked = { ...asked, about: { ...pell, check: { kind: 'text', question: true } } };
  expect(howKnown(questioned, nothing, around)).toMatchObject({ asks: true, wanted: undefined });
  const kept = { ...questioned, keptQuestion: true };
  expect(howKnown(kept, nothing, around).wanted).toEqual({ check: 'text', target: '+447700900123' });
  const begun = howKnown(kept, { ...nothing, question: { text: 'Which pier?', answer: 'x' } }, around);
  expect([begun.answerError, begun.wanted]).toEqual(['Three letters or digits at least.', undefined]);
  expect(howKnown(kept, { ...nothing, question: { text: ' Which pier? ', answer: 'Cala' } }, around).wanted).toEqual({
    check: 'text',
    target: '+447700900123',
    question: { text: 'Which pier?', answer: 'Cala' },
  });
});

test('whose link is elsewhere can be asked nothing new, and no weaker check than the least is offered', () => {
  const elsewhere = { ...asked, keptQuestion: true, canAsk: false };
  const { offered, asks } = howKnown(
    { ...elsewhere, about: { ...pell, check: { kind: 'text', question: true } } },
    nothing,
    around,
  );
  expect(asks).toBe(false);
  expect(offered).not.toContain('question');
  expect(offered).not.toContain('told');
  const strict = howKnown({ ...asked, least: { check: 'voice', question: false } }, nothing, around);
  expect(strict.offered).not.toContain('email');
  expect(strict.offered).toContain(strict.kind);
});
