/** A line of the plan that the hand is in stays where it is. */
import { act, fireEvent, render, screen } from '@testing-library/react';
import { useHeld } from '../src/write/plan/useHeld';

function Lines() {
  const { isHeld, holding } = useHeld();
  return (
    <>
      <output>{['one', 'two'].filter(isHeld).join(' and ') || 'nothing'}</output>
      {['one', 'two'].map((key) => (
        <div key={key} {...(holding(key) as object)}>
          <input aria-label={key} />
          <button>{`keep ${key}`}</button>
        </div>
      ))}
      <button>elsewhere</button>
    </>
  );
}
const held = (): string => screen.getByRole('status').textContent;
const goTo = (name: string): void =>
  act(() => screen.getByRole(/^(one|two)$/.test(name) ? 'textbox' : 'button', { name }).focus());

beforeEach(() => jest.useFakeTimers());
afterEach(() => jest.useRealTimers());

test('by keyboard it is held while the focus is in it, and let go of when the focus goes elsewhere', () => {
  render(<Lines />);
  expect(held()).toBe('nothing');
  goTo('one');
  expect(held()).toBe('one');
  goTo('keep one');
  expect(held()).toBe('one');
  goTo('two');
  expect(held()).toBe('two');
  goTo('elsewhere');
  expect(held()).toBe('nothing');
});

test('under a finger nothing moves: it is let go of when the finger has been lifted', () => {
  render(<Lines />);
  goTo('one');
  const other = screen.getByRole('button', { name: 'elsewhere' });
  fireEvent.pointerDown(other);
  goTo('elsewhere');
  expect(held()).toBe('one');
  fireEvent.pointerUp(other);
  // The press itself comes before anything moves.
  expect(held()).toBe('one');
  act(() => jest.runAllTimers());
  expect(held()).toBe('nothing');
});

test('a finger that goes straight into another line holds both until it has been lifted', () => {
  render(<Lines />);
  goTo('one');
  const other = screen.getByRole('textbox', { name: 'two' });
  fireEvent.pointerDown(other);
  goTo('two');
  expect(held()).toBe('one and two');
  fireEvent.pointerUp(other);
  act(() => jest.runAllTimers());
  expect(held()).toBe('two');
});
