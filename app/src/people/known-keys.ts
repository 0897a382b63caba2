/**
 * The account keys of colleagues as they were when they were first written to, kept sealed in the worker's vault: a
 * server that gave out another key than a colleague's own would be noticed
 * before anything is sealed to it. Kept as SHA-256, by the account's id.
 */
import { keyFingerprint } from '@under-lock/core/account/key-fingerprint';
import { type KnownKeys, type WithKey } from '@under-lock/core/account/known-keys';
import { isProblem } from '@under-lock/contract/problem';
import useSWR, { mutate } from 'swr';
import { z } from 'zod';
import { keepItem, readItem } from '../vault/useVault';

/** One item of its kind, in every vault under this number. */
const ID = 'c105e000-0000-4000-8000-000000000002';
const KEY = 'colleague-keys';
const schema = z.object({ keys: z.record(z.string(), z.string()) });

const none: KnownKeys = {};

/** Undefined while they are being looked up. */
export function useKnownKeys(): KnownKeys | undefined {
  const { data } = useSWR(KEY, async () => (await readItem('settings', ID, schema))?.value.keys ?? none);
  return data;
}

const TRIES = 3;

/**
 * Adds keys of those written to for the first time; `instead` takes another one for who has changed theirs. @throws
 * ApiProblem
 */
export async function keepKnownKeys(colleagues: readonly WithKey[], instead = false): Promise<void> {
  for (let left = TRIES; ; left--) {
    const kept = await readItem('settings', ID, schema);
    const before = kept?.value.keys ?? {};
    const now = Object.fromEntries(
      colleagues.flatMap(({ id, key }) =>
        key === undefined || (before[id] !== undefined && !instead) ? [] : [[id, keyFingerprint(key.publicKey)]],
      ),
    );
    if (Object.keys(now).length === 0) return;
    try {
      await keepItem('settings', ID, kept?.revision ?? 0, { keys: { ...before, ...now } });
      await mutate(KEY);
      return;
    } catch (error) {
      if (!isProblem(error, 'conflict') || left === 1) throw error;
    }
  }
}
