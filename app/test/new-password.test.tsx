/** What is wrong with a new password stands at the field where it is put right. */
import { render, screen } from '@testing-library/react';
import { NewPassword, passwordProblem } from '../src/session/NewPassword';

const isWrong = (label: string): boolean => screen.getByLabelText(label).getAttribute('aria-invalid') === 'true';

test.each([
  ['too short', { first: 'short', second: '' }, [true, false]],
  ['with the address in it', { first: 'maren.oduya at sea', second: 'maren.oduya at sea' }, [true, false]],
  ['not the same', { first: 'anchor chain and bell', second: 'anchor chain and ball' }, [false, true]],
  ['right', { first: 'anchor chain and bell', second: 'anchor chain and bell' }, [false, false]],
])('%s', (_, pair, wrong) => {
  const error = passwordProblem(pair, 'maren.oduya@larkmoor.example');
  render(<NewPassword pair={pair} onChange={() => undefined} error={error} />);
  expect([isWrong('New password'), isWrong('The same once more')]).toEqual(wrong);
});
