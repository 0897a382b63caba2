/** Sees to it that others can seal to this account: the first browser that opens its vault makes the key pair. */
import { putAccountKey, type Session } from '@under-lock/contract/account';
import { isProblem } from '@under-lock/contract/problem';
import { useEffect } from 'react';
import { api } from '../api';
import { door } from '../threads/main/door';
import { refreshSession } from './session';

async function makeKey(): Promise<void> {
  const made = await door().received.makeAccountKey();
  try {
    await api(putAccountKey, { body: made });
  } catch (error) {
    // Another device of the same person was first: that one's key counts.
    if (!isProblem(error, 'conflict')) throw error;
  }
  await refreshSession();
}

export function useAccountKey(session: Session | undefined): void {
  const needed = session !== undefined && !session.hasKey;
  useEffect(() => {
    // Failing for want of a connection costs nothing: the next visit tries again.
    if (needed) void makeKey().catch(() => undefined);
  }, [needed]);
}
