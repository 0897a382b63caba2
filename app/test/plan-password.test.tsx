/** What is to be read out is the password of now, also where nothing else of a line has changed. */
import { fireEvent, render, screen } from '@testing-library/react';
import { type PlanLine } from '@under-lock/core/outgoing/delivery-plan';
import { type PlanActions } from '../src/write/plan/plan-actions';
import { Recipients } from '../src/write/plan/Recipients';

const line = {
  recipient: {
    name: 'Yard',
    address: 'yard@saltmarsh.example',
    role: 'to',
    file: { way: { scope: 'everything', passwords: 'person', telling: 'phone', remember: true, container: 'zip' } },
  },
  chosen: { lock: 'file', available: true, missing: [], warnings: [], reasons: [], cannotHonour: [] },
  alternatives: [],
} as unknown as PlanLine;

test('another password is read out as soon as it is taken', () => {
  let password = 'first-password-of-the-yard';
  const actions = { passwordOf: () => password, askSigned: () => null } as unknown as PlanActions;
  const shown = () => (
    <Recipients
      lines={[line]}
      fromBook={new Map()}
      leastCheck="text"
      actions={actions}
      isHeld={() => false}
      holding={() => ({})}
    />
  );
  const { rerender } = render(shown());
  fireEvent.click(screen.getByRole('button', { name: /^Yard: locked file/ }));
  fireEvent.click(screen.getByRole('button', { name: /^Read it out/ }));
  const read = (): string => screen.getByRole('list', { name: /to read out/ }).textContent;
  const before = read();
  password = 'second-password-of-the-yard';
  rerender(shown());
  expect(read()).not.toBe(before);
});
