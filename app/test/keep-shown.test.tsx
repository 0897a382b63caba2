/** What was kept is what the pages show by the time that it is said to be. */
import { act, render, screen } from '@testing-library/react';
import { z } from 'zod';
import { keepShown, useVault } from '../src/vault/useVault';

let mockRevision = 1;
jest.mock('../src/live/live', () => ({ told: () => (next: unknown) => next }));
jest.mock('../src/threads/main/door', () => ({
  door: () => ({
    vault: {
      keep: async () => (mockRevision += 1),
      list: async () => {
        await new Promise((resolve) => setTimeout(resolve, 20));
        return [{ id: 'p', revision: mockRevision, updatedAt: new Date(0), value: {} }];
      },
    },
  }),
}));

test('the next act begins from it', async () => {
  function Shown() {
    return (
      <p role="status">
        {useVault('person', z.object({}))
          .data?.map(({ revision }) => revision)
          .join()}
      </p>
    );
  }
  render(<Shown />);
  await screen.findByText('1');
  await act(() => keepShown('person', 'p', 1, {}));
  expect(screen.getByRole('status').textContent).toBe('2');
});
