/**
 * Looks people's keys up anew, once a day each, so that revocations and new ends arrive. Only news of the same key is
 * taken; another key is a question for the worker.
 */
import { findKeys } from '@under-lock/contract/openpgp';
import { fromBase64Url } from '@under-lock/core/bytes';
import { useEffect } from 'react';
import { api } from '../api';
import { type Kept } from '@under-lock/core/vault/kept';
import { keepItem } from '../vault/useVault';
import { keysDoor } from '../threads/keys/door';
import { currentKey, withLearnt } from './keys';
import { type Person } from '@under-lock/core/people/kept-person';
import { usePeople } from './person';

const DAY_MS = 86_400_000;
const AT_ONCE = 50;

/** Whose key has not been looked up for a day, the longest waiting first. */
export function dueForRefresh(people: readonly Kept<Person>[], now: Date): Kept<Person>[] {
  const lookedUp = ({ value }: Kept<Person>): number => {
    const kept = currentKey(value);
    return kept === undefined ? Number.POSITIVE_INFINITY : new Date(kept.refreshedAt ?? kept.addedAt).getTime();
  };
  return people
    .filter((one) => lookedUp(one) <= now.getTime() - DAY_MS)
    .sort((a, b) => lookedUp(a) - lookedUp(b))
    .slice(0, AT_ONCE);
}

export async function refreshKeys(due: readonly Kept<Person>[], now: Date): Promise<void> {
  if (due.length === 0) return;
  const { found } = await api(findKeys, {
    body: { wanted: due.map(({ value }) => ({ address: value.address, fingerprint: currentKey(value)!.fingerprint })) },
  });
  for (const [index, { id, revision, value }] of due.entries()) {
    const kept = currentKey(value)!;
    let key = fromBase64Url(kept.key);
    for (const one of found.filter((each) => each.index === index))
      key = (await keysDoor().openpgp.merged(key, one.key))?.bytes ?? key;
    // Looked up in any case: also that there is no news is known as of now.
    await keepItem('person', id, revision, {
      ...value,
      keys: withLearnt(value.keys, await keysDoor().openpgp.view(key), now),
    });
  }
}

let running = false;

/**
 * Runs while somebody is signed in, without anything on the screen; a failure is tried again at the next change or
 * reload.
 */
export function KeyRefresh(): null {
  const { data: people } = usePeople();
  useEffect(() => {
    const now = new Date();
    const due = people === undefined || running ? [] : dueForRefresh(people, now);
    if (due.length === 0) return;
    running = true;
    refreshKeys(due, now)
      .catch(() => undefined)
      .finally(() => {
        running = false;
      });
  }, [people]);
  return null;
}
