import { createEvent, fireEvent, render, screen } from '@testing-library/react';
import { type Correspondent } from '@under-lock/core/people/address';
import { RecipientField } from '../src/write/letter/RecipientField';

const KNOWN: Correspondent[] = [
  { name: 'Pell Anders', address: 'pell.anders@postbox.example' },
  { name: 'Pella Quist', address: 'quist@northquay.example' },
];

function field() {
  const added: Correspondent[] = [];
  render(
    <RecipientField
      label="To"
      role="to"
      recipients={[]}
      marks={{}}
      suggestions={KNOWN}
      onAdd={(_, people) => added.push(...people)}
      onRemove={() => undefined}
    />,
  );
  const input = screen.getByRole('combobox', { name: 'To' });
  fireEvent.focus(input);
  const write = (value: string) => fireEvent.change(input, { target: { value } });
  /** Whether the browser's own meaning of the key is kept. */
  const press = (key: string): boolean => {
    const event = createEvent.keyDown(input, { key });
    fireEvent(input, event);
    return !event.defaultPrevented;
  };
  return { added, input, write, press };
}
const addresses = (people: readonly Correspondent[]) => people.map(({ address }) => address);

test('Enter takes the first suggestion, and the arrow keys another', () => {
  const { added, write, press } = field();
  write('pell');
  expect(screen.getAllByRole('option').map((one) => one.getAttribute('aria-selected'))).toEqual(['true', 'false']);
  expect(press('Enter')).toBe(false);
  write('pell');
  press('ArrowDown');
  press('Enter');
  expect(addresses(added)).toEqual(['pell.anders@postbox.example', 'quist@northquay.example']);
});

test('Tab takes the suggestion and goes on, whatever was typed', () => {
  const { added, write, press } = field();
  write('quist');
  expect(press('Tab')).toBe(true);
  expect(addresses(added)).toEqual(['quist@northquay.example']);
  write('nobody at all');
  expect(press('Tab')).toBe(true);
  expect(screen.getByText(/^■ “nobody at all”/)).toBeTruthy();
});

test('a whole address that somebody typed is taken as it stands, though it is also the beginning of another', () => {
  const { added, write, press } = field();
  write('quist@northquay.ex');
  press('Enter');
  expect(addresses(added)).toEqual(['quist@northquay.ex']);
});

test('Escape closes the list and keeps the words; a second one is for what surrounds the field', () => {
  const { added, input, write, press } = field();
  write('pell');
  expect(press('Escape')).toBe(false);
  expect(screen.queryAllByRole('option')).toEqual([]);
  expect(input).toHaveProperty('value', 'pell');
  expect(press('Escape')).toBe(true);
  expect(added).toEqual([]);
});
