/**
 * What came in is read in a thread of its own, under a deadline: a file made so that reading it never ends costs its
 * reader that thread and nothing else. Keys, drafts and all other work
 * stay in the other threads; the next file gets a fresh one.
 */
import { releaseProxy, wrap, type Remote } from 'comlink';
import { startThread } from '../start';
import { keysDoor } from './door';
import { TookTooLongError } from './took-too-long';
import { type KeysDoor } from './thread';

type Doors = { [Room in keyof KeysDoor]: Remote<KeysDoor[Room]> };

interface Thread {
  doors: Doors;
  calls: number;
  /** Rejects once it is ended while calls wait for it. */
  ended: Promise<never>;
  end: () => void;
}

let current: Thread | undefined;

function started(): Thread {
  const worker = startThread('keys', () => {
    if (current === thread) current = undefined;
    end(new Error('The page could not load what reads it'));
  });
  const wrapped = wrap<KeysDoor>(worker);
  let reject: (reason: Error) => void;
  const ended = new Promise<never>((_, refuse) => (reject = refuse));
  ended.catch(() => undefined);
  let over = false;
  const end = (reason: Error = new TookTooLongError()): void => {
    if (over) return;
    over = true;
    worker.terminate();
    reject(reason);
    wrapped[releaseProxy]();
  };
  const thread: Thread = { doors: wrapped as unknown as Doors, calls: 0, ended, end };
  return thread;
}

/** Seconds that reading may take: a slow phone opens a megabyte of the slowest format in less than two. */
const secondsFor = (octets: number): number => 60 + 2 * Math.ceil(octets / 1_000_000);

/** No new call goes to this thread; it ends with its last one. */
function retire(thread: Thread): void {
  if (current === thread) current = undefined;
  if (thread.calls === 0) thread.end();
}

/**
 * Runs `work` on the reading thread. `octets` is the size of what is read, `moreSeconds` what it may take beyond that.
 * @throws TookTooLongError when the deadline has passed, or another call's deadline took the thread away
 */
export async function reading<R extends Promise<unknown>>(
  octets: number,
  work: (doors: Doors) => R,
  moreSeconds = 0,
): Promise<Awaited<R>> {
  const thread = (current ??= started());
  thread.calls += 1;
  const timer = setTimeout(
    () => {
      if (current === thread) current = undefined;
      thread.end();
    },
    (secondsFor(octets) + moreSeconds) * 1000,
  );
  try {
    return await Promise.race([work(thread.doors), thread.ended]);
  } finally {
    clearTimeout(timer);
    thread.calls -= 1;
    if (current !== thread) retire(thread);
  }
}

/**
 * What was gathered about certificates, or by whose word keys are taken, is forgotten in every thread. Only the one
 * that changed: to forget keys fetches OpenPGP’s library.
 */
export async function forgetJudgements(of: 'certificates' | 'keys'): Promise<void> {
  if (current !== undefined) retire(current);
  await (of === 'certificates' ? keysDoor().certificates.forgetEvidence() : keysDoor().openpgp.forgetTrusted());
}
