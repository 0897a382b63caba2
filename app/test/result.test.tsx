/** What came of a press comes into sight by itself: once, and again only when something else is said. */
import { render, screen } from '@testing-library/react';
import { Result, Text } from '@under-lock/ui';

const shown = jest.fn();
beforeEach(() => {
  shown.mockClear();
  Element.prototype.scrollIntoView = shown;
});
const Page = ({ said }: { said: Parameters<typeof Result>[0]['said'] }) => (
  <>
    <Text>The list</Text>
    <Result said={said} />
  </>
);

test('nothing is said until something was done; then it is brought into sight, as little as it takes', () => {
  const { rerender } = render(<Page said={undefined} />);
  expect(screen.queryByRole('status')).toBeNull();
  expect(shown).not.toHaveBeenCalled();
  rerender(<Page said={{ tone: 'sea', text: 'Kept.' }} />);
  expect(screen.getByRole('status').textContent).toContain('Kept.');
  expect(shown).toHaveBeenCalledTimes(1);
  expect(shown).toHaveBeenLastCalledWith({ block: 'nearest' });
  // Drawn again for something else: whoever reads on is left where they are.
  rerender(<Page said={{ tone: 'sea', text: 'Kept.' }} />);
  expect(shown).toHaveBeenCalledTimes(1);
});

test('a sentence alone is what went wrong; the same after another attempt is shown again', () => {
  const { rerender } = render(<Page said="No connection." />);
  expect(screen.getByRole('alert').textContent).toContain('No connection.');
  rerender(<Page said={undefined} />);
  expect(screen.queryByRole('alert')).toBeNull();
  rerender(<Page said="No connection." />);
  expect(shown).toHaveBeenCalledTimes(2);
});
