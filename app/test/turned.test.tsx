/** A screen that is turned, or a window made wider or narrower, loses nothing that was typed on the page. */
import { act, fireEvent, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { ListAndPage } from '../src/shell/ListAndPage';

function MockForm() {
  const [typed, setTyped] = useState('');
  return <input aria-label="Name" value={typed} onChange={(event) => setTyped(event.target.value)} />;
}
jest.mock('expo-router', () => ({ Slot: MockForm, Link: () => null }));

function turnTo(width: number): void {
  const root = document.documentElement;
  Object.defineProperties(root, {
    clientWidth: { configurable: true, value: width },
    clientHeight: { configurable: true, value: 800 },
  });
  window.innerWidth = width;
  act(() => void window.dispatchEvent(new Event('resize')));
}

test('the page beside its list is the page that stood alone', () => {
  turnTo(768);
  render(<ListAndPage list={<p>The list</p>} />);
  expect(screen.queryByText('The list')).toBeNull();
  fireEvent.change(screen.getByLabelText('Name'), { target: { value: 'Lotte Haan' } });
  turnTo(1024);
  expect(screen.getByText('The list')).toBeTruthy();
  expect(screen.getByLabelText<HTMLInputElement>('Name').value).toBe('Lotte Haan');
  turnTo(768);
  expect(screen.queryByText('The list')).toBeNull();
  expect(screen.getByLabelText<HTMLInputElement>('Name').value).toBe('Lotte Haan');
});
