/** The office's server, as the door sees it: asked in its own name, and in that of a worker's device. */
import { type Account } from '@under-lock/contract/account';
import { type Client, createClient } from '@under-lock/contract/client';
import { type ApiProblem } from '@under-lock/contract/problem';
import { getOwner } from '@under-lock/contract/submission';
import { type PublicKey } from '@under-lock/core/account/key-pair';
import { type OfficeBook } from './book';
import { type SealingMeans } from '@under-lock/core/locks/lock';
import { type DoorKeys } from '@under-lock/core/submission/keys';

/** However long the line is dead: a mail must not wait for an answer that never comes. */
const ANSWER_MS = 120_000;

/** Somebody's mail program that has signed in. */
export interface Owner {
  deviceId: string;
  account: Account;
  key: PublicKey;
  /** In their name. */
  client: Client;
}

export interface Log {
  info(event: string, data?: Record<string, unknown>): void;
  error(event: string, error: unknown, data?: Record<string, unknown>): void;
}

/** The server as this door reaches it. */
interface Reach {
  keys: DoorKeys;
  /** In the door's own name. */
  client: Client;
  inNameOf(deviceId: string): Client;
}

/** What takes mail in. */
export interface Door extends Reach {
  log: Log;
}

/** What deals with it. */
export interface Context extends Reach {
  book: OfficeBook;
  means: SealingMeans;
  now(): Date;
}

/** A line that was kept open is found dead by whoever uses it next: at the first try, and there may be several of them. */
const MOST_TRIES = 4;

/** Everything the door asks may be asked again: its steps are numbered, and happen once. */
const fetcher =
  (headers: Record<string, string>): typeof fetch =>
  async (target, init = {}) => {
    const request = {
      ...init,
      headers: { ...(init.headers as Record<string, string> | undefined), ...headers },
      signal: init.signal ?? AbortSignal.timeout(ANSWER_MS),
    };
    for (let tries = 1; ; tries++) {
      try {
        return await fetch(target, request);
      } catch (error) {
        if (tries === MOST_TRIES || request.signal.aborted) throw error;
      }
    }
  };

export function clientsOf(server: string, { token }: DoorKeys): Pick<Reach, 'client' | 'inNameOf'> {
  const own = { Authorization: `Bearer ${token}` };
  return {
    client: createClient(server, fetcher(own)),
    inNameOf: (deviceId) => createClient(server, fetcher({ ...own, 'Under-Lock-Device': deviceId })),
  };
}

/** The server does not answer, or says that it can't for now; 0 is no answer. */
export const isForNow = ({ details: { status } }: ApiProblem): boolean =>
  status < 400 || status === 429 || status >= 500;

/** @throws ApiProblem `not-signed-in` when the device has ended */
export async function ownerOf({ inNameOf }: Reach, deviceId: string): Promise<Owner> {
  const client = inNameOf(deviceId);
  return { deviceId, client, ...(await client(getOwner)) };
}
