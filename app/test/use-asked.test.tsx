/** One question after another, quicker than the page is drawn: each changes what was asked last, none takes another back. */
import { act, fireEvent, render, renderHook, screen } from '@testing-library/react';
import { router, useGlobalSearchParams } from 'expo-router';
import { Filters } from '../src/find/Filters';
import { FindField } from '../src/find/FindField';
import { useAsked } from '../src/find/useAsked';

jest.mock('expo-router', () => ({ router: { setParams: jest.fn() }, useGlobalSearchParams: jest.fn() }));
jest.mock('../src/people/person', () => ({ usePeople: () => ({ data: [] }) }));

const address = (params: Record<string, string>) => jest.mocked(useGlobalSearchParams).mockReturnValue(params);
const lastAsked = () => jest.mocked(router.setParams).mock.calls.at(-1)?.[0];

beforeEach(() => {
  jest.clearAllMocks();
  jest.useFakeTimers();
});
afterEach(() => jest.useRealTimers());

test('two filters taken away before the page is drawn anew are both away', () => {
  address({ q: 'teal', state: 'unopened', time: 'week' });
  render(<Filters all={false} />);
  fireEvent.click(screen.getByRole('button', { name: /^Not opened/ }));
  fireEvent.click(screen.getByRole('button', { name: /^Last 7 days/ }));
  expect(lastAsked()).toEqual({ q: 'teal' });
});

test('what is typed takes no filter back that is pressed while the typing rests', () => {
  address({ q: 'teal', state: 'unopened' });
  render(
    <>
      <FindField />
      <Filters all={false} />
    </>,
  );
  fireEvent.click(screen.getByRole('button', { name: 'Clear the search' }));
  fireEvent.click(screen.getByRole('button', { name: /^Not opened/ }));
  act(() => void jest.advanceTimersByTime(200));
  expect(lastAsked()).toEqual({});
});

test('an address that was changed by something else is what the next question begins with', () => {
  address({ q: 'teal', state: 'unopened' });
  const { result, rerender } = renderHook(() => useAsked());
  act(() => result.current.ask((asked) => ({ ...asked, query: 'crew' })));
  address({ q: 'hull', lock: 'room' });
  rerender();
  act(() => result.current.ask((asked) => ({ ...asked, closing: true })));
  expect(lastAsked()).toEqual({ q: 'hull', lock: 'room', closing: 'week' });
});
