import { ApiProblem } from '@under-lock/contract/problem';
import { type Person } from '@under-lock/core/people/kept-person';
import { rememberPerson } from '../src/people/person';

interface Item {
  revision: number;
  value: Person;
}
const mockItems = new Map<string, Item>();
const mockConflict = (): Error => new ApiProblem({ title: 'It was changed', code: 'conflict' } as never);
let mockBetween: () => void = () => undefined;
jest.mock('../src/vault/useVault', () => ({
  keepItem: (_kind: string, id: string, revision: number, value: Person) => {
    mockBetween();
    if ((mockItems.get(id)?.revision ?? 0) !== revision) return Promise.reject(mockConflict());
    mockItems.set(id, { revision: revision + 1, value });
    return Promise.resolve(revision + 1);
  },
  readItem: (_kind: string, id: string) =>
    Promise.resolve(mockItems.has(id) ? { id, updatedAt: new Date(0), ...mockItems.get(id)! } : undefined),
}));

const joris: Person = { name: 'Joris', address: 'joris.wend@postbox.example' };
const listed = (value: Person, revision: number) => [{ id: 'p', revision, updatedAt: new Date(0), value }];

beforeEach(() => {
  mockItems.clear();
  mockBetween = () => undefined;
});

test('what another page has learnt of somebody in the meantime stays, and what is new is added', async () => {
  mockItems.set('p', { revision: 2, value: { ...joris, secondAddress: 'joris@home.example' } });
  await rememberPerson(listed(joris, 1), { name: '', address: joris.address, phone: '+447700900333' });
  expect(mockItems.get('p')).toEqual({
    revision: 3,
    value: { ...joris, secondAddress: 'joris@home.example', phone: '+447700900333' },
  });
});

test('who changes again and again in between is told, not overwritten', async () => {
  mockItems.set('p', { revision: 1, value: joris });
  mockBetween = () => mockItems.set('p', { revision: mockItems.get('p')!.revision + 1, value: joris });
  await expect(rememberPerson(listed(joris, 1), { ...joris, phone: '+447700900333' })).rejects.toMatchObject({
    code: 'conflict',
  });
});
