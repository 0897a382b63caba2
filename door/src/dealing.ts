/**
 * A thread of the door: one mail at a time is read, looked through, planned and sealed in it. What a mail costs, it
 * costs nobody who hands in another one.
 */
import { ApiProblem, isProblem } from '@under-lock/contract/problem';
import { fetchBlob } from '@under-lock/contract/transfer';
import { type Bytes } from '@under-lock/core/bytes';
import { doorKeys } from '@under-lock/core/submission/keys';
import { openHanded, openHandedLabel } from '@under-lock/core/submission/handed';
import { OfficeBook } from './book';
import { deal, type Dealt } from './deal';
import { clientsOf, type Context, isForNow, ownerOf } from './house';
import { meansFrom } from './materials';

/** A mail that lies at the server. */
export interface Lying {
  id: string;
  deviceId: string;
  blobId: string;
  /** Sealed to the door. */
  label: Uint8Array;
}

export interface Task {
  server: string;
  secret: Bytes;
  mail: Lying;
  /** Where it is still at hand; fetched from the server otherwise. */
  raw?: Bytes | undefined;
}

/** What stays from one mail to the next: the office book is opened once. */
let context: Promise<Context> | undefined;

async function contextOf(server: string, secret: Bytes): Promise<Context> {
  const keys = await doorKeys(secret);
  const now = (): Date => new Date();
  return { keys, now, book: new OfficeBook(keys), means: meansFrom(server, now), ...clientsOf(server, keys) };
}

/** @throws Error for what would go wrong again */
export default async function dealt({ server, secret, mail, raw }: Task): Promise<Dealt> {
  context ??= contextOf(server, secret);
  const here = await context;
  const { id, deviceId, blobId, label } = mail;
  try {
    const owner = await ownerOf(here, deviceId);
    const opened = await openHandedLabel(here.keys.privateKey, 'door', id, label);
    const bytes = raw ?? (await openHanded(await fetchBlob(owner.client, blobId), opened));
    return await deal(here, owner, { id, to: opened.to, raw: bytes });
  } catch (error) {
    // Its writer finds it among their drafts.
    if (isProblem(error, 'not-signed-in')) return { became: 'left' };
    if (!(error instanceof ApiProblem && isForNow(error))) throw error;
    return { became: 'later', because: error.message };
  }
}
