/** What is typed into the plan stays as it is typed, however late the plan comes behind. */
import { fireEvent, render, screen } from '@testing-library/react';
import { type PlanLine } from '@under-lock/core/outgoing/delivery-plan';
import { CheckFields } from '../src/write/plan/Settle';
import { type PlanActions } from '../src/write/plan/plan-actions';

const line = (answer?: string): PlanLine =>
  ({
    recipient: {
      name: 'Pell',
      address: 'pell@postbox.example',
      role: 'to',
      ...(answer === undefined ? {} : { answer }),
    },
    chosen: {
      lock: 'room',
      available: true,
      missing: [],
      warnings: [],
      reasons: [],
      cannotHonour: [],
      check: { kind: 'question', hint: '', question: true },
    },
    alternatives: [],
  }) as unknown as PlanLine;

test('letters typed before the plan has come behind are not taken away; what is settled elsewhere is shown', () => {
  const said: unknown[] = [];
  const actions = { setQuestion: (_: string, change: object) => said.push(change) } as unknown as PlanActions;
  const { rerender } = render(<CheckFields line={line()} actions={actions} onWriting={() => undefined} />);
  const field = screen.getByLabelText<HTMLInputElement>('Answer of Pell');
  fireEvent.focus(field);
  for (const typed of ['T', 'Te', 'Tea']) fireEvent.change(field, { target: { value: typed } });
  expect(field.value).toBe('Tea');
  rerender(<CheckFields line={line('T')} actions={actions} onWriting={() => undefined} />);
  expect(field.value).toBe('Tea');
  expect(said).toEqual([{ answer: 'T' }, { answer: 'Te' }, { answer: 'Tea' }]);
  fireEvent.blur(field);
  rerender(<CheckFields line={line('Teal')} actions={actions} onWriting={() => undefined} />);
  expect(field.value).toBe('Teal');
});
