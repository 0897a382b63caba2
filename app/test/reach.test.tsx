/** Whoever writes need not wait for a book of thousands, and nothing goes before it is there. */
import { type BookPerson } from '@under-lock/core/office-book/person';
import { type Kept } from '@under-lock/core/vault/kept';
import { act, render, screen } from '@testing-library/react';
import { useReach } from '../src/office-book/useReach';

let mockBook: { data?: Kept<BookPerson>[]; error?: unknown } = {};
jest.mock('../src/office-book/useBook', () => ({
  isIn: (stand: { sealedKey?: unknown } | undefined) => stand?.sealedKey !== undefined,
  useBookStand: () => ({ data: { sealedKey: 1 } }),
  useBookPeople: () => mockBook,
  useFirms: () => ({ data: [] }),
}));

const lene = { name: 'Lene Falk', address: 'lene@postbox.example', phone: '+4915550100', changes: [] };
const NONE: never[] = [];
function Plan() {
  const reach = useReach(NONE, NONE);
  return <p>{reach === undefined ? 'waits' : `${reach.people.length} known${reach.isLooking ? ', looking' : ''}`}</p>;
}
const shows = (text: string) => expect(screen.getByText(text)).toBeTruthy();

beforeEach(() => {
  jest.useFakeTimers();
  mockBook = {};
});
afterEach(() => jest.useRealTimers());
const later = (ms: number) => act(() => void jest.advanceTimersByTime(ms));
const arrived = () => (mockBook = { data: [{ id: 'l', revision: 1, updatedAt: new Date(0), value: lene }] });

test('a book that is there at once is waited for', () => {
  const { rerender } = render(<Plan />);
  shows('waits');
  later(500);
  arrived();
  rerender(<Plan />);
  shows('1 known');
});

test('one that takes its time is not, and what is shown says that it is still looked into', () => {
  const { rerender } = render(<Plan />);
  later(900);
  shows('0 known, looking');
  arrived();
  rerender(<Plan />);
  shows('1 known');
});

test('one that can’t be had is done without', () => {
  mockBook = { error: new Error('No way there') };
  render(<Plan />);
  shows('0 known');
});
