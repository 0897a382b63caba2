/** Nothing moves under a finger: what asks for a signed message stands there with the page, before anything is fetched. */
import { render, screen } from '@testing-library/react';
import { AskSignedLater } from '../src/asking/AskSignedLater';

jest.mock('../src/asking/AskSigned', () => ({ AskSigned: () => null }));
jest.mock('../src/people/MeansOffered', () => ({ MeansOffered: () => null }));
jest.mock('../src/people/person', () => ({ usePeople: () => ({ data: [] }) }));

const pell = { name: 'Pell Anders', address: 'pell.anders@postbox.example' };

test('the button is there at once', () => {
  render(<AskSignedLater person={pell} people={[]} />);
  expect(screen.queryByRole('button', { name: 'Ask for a signed message: Pell Anders' })).not.toBeNull();
});

test('and so is that it was asked', () => {
  const asked = { at: '2026-11-24T10:00:00.000Z', messageId: 'm' };
  render(<AskSignedLater person={{ ...pell, asked }} people={[]} />);
  expect(screen.queryByText(/^Asked for a signed message on .*The answer comes into Received\.$/)).not.toBeNull();
  expect(screen.queryByRole('button', { name: 'Ask again for a signed message: Pell Anders' })).not.toBeNull();
});
