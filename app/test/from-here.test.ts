/** Where something that took a while leads, and that it takes nobody along who has gone elsewhere. */
import { router } from 'expo-router';
import { fromHere } from '../src/shell/from-here';

jest.mock('expo-router', () => ({ router: { replace: jest.fn(), push: jest.fn() } }));

beforeEach(() => {
  jest.clearAllMocks();
  window.history.replaceState(null, '', '/keys/new');
});

test('whoever waited is led on', () => {
  const goOn = fromHere();
  goOn('/keys/1');
  expect(router.replace).toHaveBeenCalledWith('/keys/1');
  fromHere()('/write/1', 'push');
  expect(router.push).toHaveBeenCalledWith('/write/1');
});

test('whoever has gone elsewhere stays there', () => {
  const goOn = fromHere();
  window.history.pushState(null, '', '/mail');
  goOn('/keys/1');
  goOn('/keys/1', 'push');
  expect([router.replace, router.push].map((way) => jest.mocked(way).mock.calls)).toEqual([[], []]);
});
