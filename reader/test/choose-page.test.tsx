/** Choosing how one is written to: what was picked stays picked, whatever the page around it learns meanwhile. */
import { act, fireEvent, render, screen } from '@testing-library/react';
import { type Choosing, type ChoosingDoor } from '../src/choose/door';
import { ChoosePage } from '../src/choose/ChoosePage';
import { chooseWords } from '../src/choose/words';

const choosing = {
  name: 'Ask Nyberg',
  address: 'ask@postbox.example',
  leastGuesses: 10,
  office: {},
  chosen: { way: 'certificate', at: new Date('2026-11-25T10:00:00Z') },
} as unknown as Choosing;
const door = { look: async () => ({ ...choosing }) } as unknown as ChoosingDoor;

const page = (onProblem: (error: unknown) => void) => (
  <ChoosePage
    door={door}
    officeName="Larkmoor Ferries"
    closesAt={new Date('2026-12-14T17:00:00Z')}
    now={new Date('2026-11-26T10:00:00Z')}
    onBack={() => undefined}
    onProblem={onProblem}
  />
);
const way = (name: string) => screen.getByRole('radio', { name: new RegExp(`^${name}`) });

test('a way that was picked stays picked when the page around it is drawn anew', async () => {
  const { rerender } = render(page(() => undefined));
  await act(async () => undefined);
  expect(way(chooseWords.names.own).getAttribute('aria-checked')).toBe('true');
  fireEvent.click(way(chooseWords.names.room));
  await act(async () => rerender(page(() => undefined)));
  expect(way(chooseWords.names.room).getAttribute('aria-checked')).toBe('true');
});
