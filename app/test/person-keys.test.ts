/** A person's OpenPGP keys over time: one in use, the ones before kept, news of the same key taken in, and who is due for looking up. */
import { toBase64Url } from '@under-lock/core/bytes';
import { type OpenPgpView } from '../src/keys/openpgp/view';
import { type Person, type PersonKey } from '../src/people/kept-person';
import { currentKey, withKey, withLearnt } from '../src/people/keys';
import { dueForRefresh } from '../src/people/refresh-keys';
import { peopleRunningOut } from '../src/people/running-out';

jest.mock('../src/worker/keys/door', () => ({ keysDoor: () => ({}) }));

const now = new Date('2026-11-25T09:00:00Z');
const days = (count: number): Date => new Date(now.getTime() + count * 86_400_000);
const view = (fingerprint: string, over: Partial<OpenPgpView> = {}): OpenPgpView => ({
  fingerprint, words: [], uri: '', keyIds: [fingerprint.slice(-4)], bytes: Uint8Array.of(1), name: 'Nils', addresses: ['nils@northquay.example'], retired: [], version: 4, createdAt: days(-9), expiresAt: days(300), revocation: undefined, parts: [], readsNewest: false, uses: { sign: true, encrypt: true }, ...over,
});

test('the newest taken is in use, the ones before stay; taken again, one stays compared', () => {
  const first = withKey(undefined, view('aaaa'), 'wkd', days(-2)).map((one): PersonKey => ({ ...one, checked: { at: days(-1).toISOString(), by: 'Maren' } }));
  const both = withKey(first, view('bbbb'), 'mail', now);
  expect(both.map(({ fingerprint, replacedAt, from }) => [fingerprint, replacedAt, from])).toEqual([['bbbb', undefined, 'mail'], ['aaaa', now.toISOString(), 'wkd']]);
  expect(currentKey({ keys: both })?.fingerprint).toBe('bbbb');
  const back = withKey(both, view('aaaa'), 'file', now);
  expect(back.map(({ fingerprint, replacedAt, checked }) => [fingerprint, replacedAt !== undefined, checked?.by])).toEqual([['aaaa', false, 'Maren'], ['bbbb', true, undefined]]);
});

test('news of a key change what is known of it and nothing else; an end that fell away is gone', () => {
  const keys = withKey(withKey(undefined, view('aaaa'), 'wkd', days(-3)), view('bbbb'), 'wkd', days(-2));
  const learnt = withLearnt(keys, view('bbbb', { bytes: Uint8Array.of(1, 2), expiresAt: undefined }), now);
  expect(learnt.map(({ fingerprint, key, notAfter, refreshedAt }) => [fingerprint, key, notAfter, refreshedAt])).toEqual([['bbbb', toBase64Url(Uint8Array.of(1, 2)), undefined, now.toISOString()], ['aaaa', toBase64Url(Uint8Array.of(1)), days(300).toISOString(), undefined]]);
});

const person = (name: string, keys?: PersonKey[]): Person => ({ name, address: `${name}@skerry.example`, ...(keys === undefined ? {} : { keys }) });
const kept = (value: Person) => ({ id: value.name, revision: 1, updatedAt: now, value });

test('whose key was not looked up for a day is due, the longest waiting first; whoever has none is not', () => {
  const taken = (at: Date, refreshedAt?: Date): PersonKey[] => withKey(undefined, view('aaaa'), 'wkd', at).map((one) => ({ ...one, ...(refreshedAt === undefined ? {} : { refreshedAt: refreshedAt.toISOString() }) }));
  const people = [person('none'), person('fresh', taken(days(-0.5))), person('older', taken(days(-3))), person('looked', taken(days(-9), days(-0.2))), person('oldest', taken(days(-9), days(-5)))].map(kept);
  expect(dueForRefresh(people, now).map(({ id }) => id)).toEqual(['oldest', 'older']);
  expect(dueForRefresh(Array.from({ length: 80 }, (_, index) => kept(person(`n${index}`, taken(days(-2))))), now)).toHaveLength(50);
});

test('a key that runs out soon is named like a certificate', () => {
  expect(peopleRunningOut([person('soon', withKey(undefined, view('aaaa', { expiresAt: days(9) }), 'wkd', days(-9))), person('late', withKey(undefined, view('aaaa'), 'wkd', days(-9)))], now)).toEqual([{ who: 'soon', what: 'key', at: days(9) }]);
});
