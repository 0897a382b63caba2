/** Who else is to read: somebody known is a press or Enter away; whoever reads it already is not offered. */
import { fireEvent, render, renderHook, screen } from '@testing-library/react';
import { useState } from 'react';
import { useNameOf } from '../src/sent/useNameOf';
import { WhoForm } from '../src/sent/WhoForm';

jest.mock('../src/people/person', () => ({
  usePeople: () => ({
    data: [
      { value: { name: 'Mira Sand', address: 'mira@yard.example' } },
      { value: { name: 'Orrin Vale', address: 'orrin@yard.example' } },
    ],
  }),
}));
jest.mock('../src/office-book/useBook', () => ({
  useBookPeople: () => ({
    data: [
      { value: { name: 'M. Sand', address: 'Mira@yard.example' } },
      { value: { name: 'Yard office', address: 'desk@yard.example' } },
    ],
  }),
}));
jest.mock('../src/session/useOffice', () => ({
  useColleagues: () => ({
    data: [{ id: 'c', name: 'Tobias Quill', address: 'tobias@larkmoor.example', further: ['quill@larkmoor.example'] }],
  }),
}));

const chosen = jest.fn();
function Form() {
  const [value, setValue] = useState({ name: '', address: '' });
  chosen(value);
  return <WhoForm value={value} onChange={setValue} besides={new Set(['orrin@yard.example'])} />;
}
const type = (label: string, text: string): boolean =>
  fireEvent.change(screen.getByRole('textbox', { name: label }), { target: { value: text } });
const offered = (): (string | null)[] => screen.queryAllByRole('button').map((one) => one.getAttribute('aria-label'));

test('by a part of a name or an address, each once, and not whoever reads it already', () => {
  render(<Form />);
  expect(offered()).toEqual([]);
  type('Name', 'yard');
  expect(offered()).toEqual(['Mira Sand, mira@yard.example', 'Yard office, desk@yard.example']);
  fireEvent.click(screen.getByRole('button', { name: /^Yard office/ }));
  expect(chosen).toHaveBeenLastCalledWith({ name: 'Yard office', address: 'desk@yard.example' });
  expect(offered()).toEqual([]);
});

test('Enter takes the first; what is no address is said once nobody is offered for it', () => {
  render(<Form />);
  type('Address', 'tob');
  expect(screen.queryByText(/address/i, { selector: '[role=alert], [aria-live]' })).toBeNull();
  fireEvent.keyDown(screen.getByRole('textbox', { name: 'Address' }), { key: 'Enter' });
  expect(chosen).toHaveBeenLastCalledWith({ name: 'Tobias Quill', address: 'tobias@larkmoor.example' });
  type('Address', 'nobody at all');
  expect(offered()).toEqual([]);
  expect(screen.getByRole('textbox', { name: 'Address' }).getAttribute('aria-invalid')).toBe('true');
});

test('who is meant by what happened: a reader, who has a copy, a colleague by any address, else the address', () => {
  const nameOf = renderHook(() =>
    useNameOf({
      grants: [{ id: 'g', name: 'Pell Anders', address: 'pell@postbox.example' }],
      copies: [{ name: 'Nils Rook', address: 'nils@northquay.example' }],
    } as never),
  ).result.current;
  expect(nameOf({ grantId: 'g' })).toBe('Pell Anders');
  expect(nameOf({ address: 'nils@northquay.example' })).toBe('Nils Rook');
  expect(nameOf({ address: 'quill@larkmoor.example' })).toBe('Tobias Quill');
  expect(nameOf({ address: 'gone@larkmoor.example' })).toBe('gone@larkmoor.example');
  expect(nameOf({})).toBe('a reader');
});
