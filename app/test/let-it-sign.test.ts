/** What the door is to sign with: a second try goes on with what the first one made. */
import { publishKey } from '@under-lock/contract/openpgp';
import { putSigner } from '@under-lock/contract/submission';
import { type Account } from '@under-lock/contract/account';
import { type Begun, letItSign } from '../src/programs/let-it-sign';

const mockApi = jest.fn();
const mockMake = jest.fn(async (id: string) => ({
  view: { fingerprint: `of ${id}`, bytes: new TextEncoder().encode(id) },
}));
jest.mock('../src/api', () => ({ api: (...given: unknown[]) => mockApi(...given) as unknown }));
jest.mock('../src/keys/openpgp/useOpenPgpKeys', () => ({ openPgpChanged: async () => undefined }));
jest.mock('../src/keys/useKeys', () => ({ keysChanged: async () => undefined }));
jest.mock('../src/threads/keys/door', () => ({
  keysDoor: () => ({
    openpgp: { make: mockMake },
    lent: { seal: async (_: string, id: string) => ({ sealed: new Uint8Array(1), fingerprint: `of ${id}` }) },
  }),
}));

const account = { id: 'account', name: 'Maren Oduya', address: 'maren.oduya@larkmoor.example' } as Account;
const door = { suite: 1, publicKey: new Uint8Array(32) };
const calls = (endpoint: unknown) => mockApi.mock.calls.filter(([called]) => called === endpoint);

test('a key is made once, however often it takes until the door has it; the next one is another', async () => {
  const begun: Begun = {};
  const fails = (endpoint: unknown) =>
    mockApi.mockImplementation(async (called: unknown) => {
      if (called === endpoint) throw new Error('No connection');
    });
  fails(publishKey);
  await expect(letItSign('openpgp', account, door, begun)).rejects.toThrow('No connection');
  fails(putSigner);
  await expect(letItSign('openpgp', account, door, begun)).rejects.toThrow('No connection');
  mockApi.mockResolvedValue(undefined);
  await letItSign('openpgp', account, door, begun);
  expect(mockMake).toHaveBeenCalledTimes(1);
  const [id] = mockMake.mock.calls[0]!;
  expect(calls(publishKey).map(([, { params }]) => (params as { fingerprint: string }).fingerprint)).toEqual(
    Array(3).fill(`of ${id}`),
  );
  // It was taken back, and is asked for again: what the door had in its hands is not given twice.
  await letItSign('openpgp', account, door, begun);
  expect(mockMake).toHaveBeenCalledTimes(2);
});
