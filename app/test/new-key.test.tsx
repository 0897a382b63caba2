/** The way to a certificate, where it breaks off in the middle: what was made is kept, and only the rest is done again. */
import { act, fireEvent, render, screen } from '@testing-library/react';
import { NewKeyScreen } from '../src/keys/NewKeyScreen';

const mockMade: string[] = [];
const mockAsked: string[] = [];
const mockWent: string[] = [];
let mockFailing: 'make' | 'ask' | undefined;
jest.mock('../src/threads/keys/door', () => ({
  keysDoor: () => ({
    own: {
      make: (_id: string, _kind: string, purpose: string) => {
        if (mockFailing === 'make' && mockMade.length === 1) return Promise.reject(new Error('no memory'));
        mockMade.push(purpose);
        return Promise.resolve();
      },
      ask: (id: string) => {
        if (mockFailing === 'ask') return Promise.reject(new Error('no answer'));
        mockAsked.push(id);
        return Promise.resolve();
      },
    },
  }),
}));
jest.mock('../src/keys/useKeys', () => ({ keysChanged: () => Promise.resolve() }));
jest.mock('../src/problem-words', () => ({ problemWords: () => 'It did not work.' }));
jest.mock('../src/shell/from-here', () => ({ fromHere: () => (path: string) => void mockWent.push(path) }));
jest.mock('expo-router', () => ({ useLocalSearchParams: () => ({}) }));
jest.mock('../src/session/session', () => ({
  useOpenSession: () => ({ account: { name: 'Maren Oduya', address: 'maren.oduya@larkmoor.example', further: [] } }),
}));
jest.mock('../src/shell/Screen', () => ({ Screen: ({ children }: { children: unknown }) => children }));
jest.mock('../src/shell/ListAndPage', () => ({ BackToList: () => null }));

const press = (name: string) => act(async () => fireEvent.click(screen.getByRole('button', { name })));

beforeEach(() => {
  mockMade.length = mockAsked.length = mockWent.length = 0;
  jest.spyOn(globalThis.crypto, 'randomUUID').mockImplementation(() => `key-${mockMade.length}` as never);
});
// It is the process's own: other tests of the same one have it after this.
afterEach(() => jest.restoreAllMocks());

test('of two keys the second is made where only the first was', async () => {
  mockFailing = 'make';
  render(<NewKeyScreen />);
  await act(async () => fireEvent.click(screen.getByRole('radio', { name: /^Two certificates/ })));
  await press('Make both keys and ask');
  expect(screen.getByText(/It did not work\./)).toBeTruthy();
  mockFailing = undefined;
  await press('Make the other key and ask');
  expect(mockMade).toEqual(['sign', 'encrypt']);
  expect(mockAsked).toEqual(['key-0', 'key-1']);
  expect(mockWent).toEqual(['/keys']);
});

test('a key that is made is not made again for an authority that does not answer', async () => {
  mockFailing = 'ask';
  render(<NewKeyScreen />);
  await press('Make the key and ask');
  expect(screen.getByText(/only the asking is left/)).toBeTruthy();
  mockFailing = undefined;
  await press('Ask the authority again');
  expect(mockMade).toEqual(['both']);
  expect(mockWent).toEqual(['/keys/key-0']);
});
