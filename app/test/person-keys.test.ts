/**
 * A person's OpenPGP keys over time: one in use, the ones before kept, news of the same key taken in, and who is due
 * for looking up.
 */
import { toBase64Url } from '@under-lock/core/bytes';
import { type OpenPgpView } from '../src/keys/openpgp/view';
import { type Person, type PersonKey } from '@under-lock/core/people/kept-person';
import { currentKey, withKey, withLearnt } from '../src/people/keys';
import { dueForRefresh, refreshKeys } from '../src/people/refresh-keys';
import { peopleRunningOut } from '../src/people/running-out';

const mockMerged = jest.fn();
const mockFound = jest.fn();
const mockKept: { id: string; revision: number; value: Person }[] = [];
jest.mock('../src/api', () => ({ api: (...given: unknown[]) => mockFound(...given) as unknown }));
jest.mock('../src/vault/useVault', () => ({
  keepItem: (_: string, id: string, revision: number, value: Person) =>
    Promise.resolve(void mockKept.push({ id, revision, value })),
  useVault: () => ({ data: undefined }),
}));
jest.mock('../src/threads/keys/door', () => ({
  keysDoor: () => ({
    openpgp: {
      merged: (...given: unknown[]) => mockMerged(...given) as unknown,
      view: (key: Uint8Array) => Promise.resolve(mockView('aaaa', { bytes: key as Uint8Array<ArrayBuffer> })),
    },
  }),
}));

const now = new Date('2026-11-25T09:00:00Z');
const days = (count: number): Date => new Date(now.getTime() + count * 86_400_000);
const mockView = (fingerprint: string, over: Partial<OpenPgpView> = {}): OpenPgpView => ({
  fingerprint,
  words: [],
  uri: '',
  keyIds: [fingerprint.slice(-4)],
  bytes: Uint8Array.of(1),
  name: 'Nils',
  addresses: ['nils@northquay.example'],
  retired: [],
  version: 4,
  createdAt: days(-9),
  expiresAt: days(300),
  revocation: undefined,
  parts: [],
  readsNewest: false,
  uses: { sign: true, encrypt: true },
  ...over,
});

test('the newest taken is in use, the ones before stay; taken again, one stays compared', () => {
  const first = withKey(undefined, mockView('aaaa'), 'wkd', days(-2)).map((one): PersonKey => ({
    ...one,
    checked: { at: days(-1).toISOString(), by: 'Maren' },
  }));
  const both = withKey(first, mockView('bbbb'), 'mail', now);
  expect(both.map(({ fingerprint, replacedAt, from }) => [fingerprint, replacedAt, from])).toEqual([
    ['bbbb', undefined, 'mail'],
    ['aaaa', now.toISOString(), 'wkd'],
  ]);
  expect(currentKey({ keys: both })?.fingerprint).toBe('bbbb');
  const back = withKey(both, mockView('aaaa'), 'file', now);
  expect(
    back.map(({ fingerprint, replacedAt, checked }) => [fingerprint, replacedAt !== undefined, checked?.by]),
  ).toEqual([
    ['aaaa', false, 'Maren'],
    ['bbbb', true, undefined],
  ]);
});

test('news of a key change what is known of it and nothing else; an end that fell away is gone', () => {
  const keys = withKey(withKey(undefined, mockView('aaaa'), 'wkd', days(-3)), mockView('bbbb'), 'wkd', days(-2));
  const learnt = withLearnt(keys, mockView('bbbb', { bytes: Uint8Array.of(1, 2), expiresAt: undefined }), now);
  expect(
    learnt.map(({ fingerprint, key, notAfter, refreshedAt }) => [fingerprint, key, notAfter, refreshedAt]),
  ).toEqual([
    ['bbbb', toBase64Url(Uint8Array.of(1, 2)), undefined, now.toISOString()],
    ['aaaa', toBase64Url(Uint8Array.of(1)), days(300).toISOString(), undefined],
  ]);
});

const person = (name: string, keys?: PersonKey[]): Person => ({
  name,
  address: `${name}@skerry.example`,
  ...(keys === undefined ? {} : { keys }),
});
const kept = (value: Person) => ({ id: value.name, revision: 1, updatedAt: now, value });

test('whose key was not looked up for a day is due, the longest waiting first; whoever has none is not', () => {
  const taken = (at: Date, refreshedAt?: Date): PersonKey[] =>
    withKey(undefined, mockView('aaaa'), 'wkd', at).map((one) => ({
      ...one,
      ...(refreshedAt === undefined ? {} : { refreshedAt: refreshedAt.toISOString() }),
    }));
  const people = [
    person('none'),
    person('fresh', taken(days(-0.5))),
    person('older', taken(days(-3))),
    person('looked', taken(days(-9), days(-0.2))),
    person('oldest', taken(days(-9), days(-5))),
  ].map(kept);
  expect(dueForRefresh(people, now).map(({ id }) => id)).toEqual(['oldest', 'older']);
  expect(
    dueForRefresh(
      Array.from({ length: 80 }, (_, index) => kept(person(`n${index}`, taken(days(-2))))),
      now,
    ),
  ).toHaveLength(50);
});

test('a key that runs out soon is named like a certificate', () => {
  expect(
    peopleRunningOut(
      [
        person('soon', withKey(undefined, mockView('aaaa', { expiresAt: days(9) }), 'wkd', days(-9))),
        person('late', withKey(undefined, mockView('aaaa'), 'wkd', days(-9))),
      ],
      now,
    ),
  ).toEqual([{ who: 'soon', what: 'key', at: days(9) }]);
});

test('what was found of the same key is merged in, another key is left alone, and looking it up is noted in any case', async () => {
  const keys = withKey(undefined, mockView('aaaa'), 'wkd', days(-3));
  mockFound.mockResolvedValue({
    found: [
      { index: 0, source: 'wkd', key: Uint8Array.of(7) },
      { index: 1, source: 'wkd', key: Uint8Array.of(8) },
      { index: 0, source: 'directory', key: Uint8Array.of(9) },
    ],
    failed: [],
  });
  mockMerged.mockImplementation((old: Uint8Array, fresh: Uint8Array) =>
    Promise.resolve(fresh[0] === 8 ? undefined : mockView('aaaa', { bytes: Uint8Array.of(...old, fresh[0]!) })),
  );
  await refreshKeys([kept(person('one', keys)), kept(person('two', keys))], now);
  expect(mockFound.mock.calls[0]![1]).toEqual({
    body: {
      wanted: [
        { address: 'one@skerry.example', fingerprint: 'aaaa' },
        { address: 'two@skerry.example', fingerprint: 'aaaa' },
      ],
    },
  });
  expect(mockKept.map(({ id, value }) => [id, currentKey(value)!.key, currentKey(value)!.refreshedAt])).toEqual([
    ['one', toBase64Url(Uint8Array.of(1, 7, 9)), now.toISOString()],
    ['two', toBase64Url(Uint8Array.of(1)), now.toISOString()],
  ]);
  mockFound.mockClear();
  await refreshKeys([], now);
  expect(mockFound).not.toHaveBeenCalled();
});
