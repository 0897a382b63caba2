import { fireEvent, render, screen } from '@testing-library/react';
import { type PlanLine } from '@under-lock/core/outgoing/delivery-plan';
import { type PlanActions } from '../src/write/plan/plan-actions';
import { SameQuestion } from '../src/write/plan/SameQuestion';

const line = (address: string): PlanLine => ({
  recipient: { name: '', address, role: 'to' },
  alternatives: [],
  chosen: {
    lock: 'room',
    available: true,
    check: { kind: 'voice', hint: '', question: true },
    missing: [{ code: 'question-missing' }],
    warnings: [],
    reasons: [],
    cannotHonour: [],
  },
});

test('one question goes to everybody who is asked one, and to nobody before both are written', () => {
  const set: unknown[] = [];
  const actions = {
    setQuestion: (address: string, change: unknown) => set.push([address, change]),
  } as unknown as PlanActions;
  render(<SameQuestion lines={[line('a@postbox.example'), line('b@postbox.example')]} actions={actions} />);
  fireEvent.click(screen.getByText('One question for all 2'));
  fireEvent.change(screen.getByLabelText('Question for all 2'), { target: { value: '  Number on your boat card? ' } });
  fireEvent.click(screen.getByText('Ask all of them this'));
  expect(set).toEqual([]);
  fireEvent.change(screen.getByLabelText('Answer of all'), { target: { value: 'T-1178' } });
  fireEvent.click(screen.getByText('Ask all of them this'));
  expect(set).toEqual([
    ['a@postbox.example', { question: 'Number on your boat card?', answer: 'T-1178' }],
    ['b@postbox.example', { question: 'Number on your boat card?', answer: 'T-1178' }],
  ]);
});
