/** A list of thousands shows as many lines as somebody looks through. */
import { type BookPerson } from '@under-lock/core/office-book/person';
import { type Kept } from '@under-lock/core/vault/kept';
import { fireEvent, render, screen } from '@testing-library/react';
import { byFirms, foundInBook } from '../src/office-book/found-in-book';
import { useInParts } from '../src/shell/useInParts';

function Numbers({ count, of = '' }: { count: number; of?: string }) {
  const { part, foot } = useInParts(
    Array.from({ length: count }, (_, index) => index),
    of,
  );
  return (
    <>
      <p>{`${part!.length} here`}</p>
      {foot}
    </>
  );
}

test('fifty lines and a button for the next, until all are there', () => {
  const { rerender } = render(<Numbers count={130} />);
  expect(screen.getByText('50 here')).toBeTruthy();
  expect(screen.getByText('50 of 130 are shown.')).toBeTruthy();
  fireEvent.click(screen.getByRole('button', { name: 'Show 50 more' }));
  expect(screen.getByText('100 here')).toBeTruthy();
  fireEvent.click(screen.getByRole('button', { name: 'Show 30 more' }));
  expect(screen.getByText('130 here')).toBeTruthy();
  expect(screen.queryByRole('button')).toBeNull();
  // What is looked for now begins at its own beginning.
  rerender(<Numbers count={140} of="falk" />);
  expect(screen.getByText('50 here')).toBeTruthy();
  rerender(<Numbers count={50} of="falk 12" />);
  expect(screen.queryByRole('button')).toBeNull();
});

test('people of a book, firm by firm, keep their order within each', () => {
  const person = (name: string, firm: string): Kept<BookPerson> => ({
    id: name,
    revision: 1,
    updatedAt: new Date(0),
    value: { name, firm, address: `${name}@postbox.example`, changes: [] },
  });
  const people = [person('Bo', 'Yard'), person('Ada', 'Älvsjö'), person('Cyril', 'Yard'), person('Ada B', 'Quay')];
  expect(byFirms(foundInBook(people, '')).map(({ id }) => id)).toEqual(['Ada', 'Ada B', 'Bo', 'Cyril']);
  expect(foundInBook(people, 'yard o').map(({ id }) => id)).toEqual(['Bo', 'Cyril']);
});
