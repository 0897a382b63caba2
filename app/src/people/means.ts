/** By which locks somebody can be reached, told from what was noted when it was kept: nothing is opened or judged. */
import { entryFor, type Book } from '@under-lock/core/passwords/entry';
import { type LockName } from '@under-lock/core/locks/index';
import { type Person } from '@under-lock/core/people/kept-person';
import { currentCertificate } from './certificates';
import { currentKey } from './keys';

export interface Means {
  lock: Exclude<LockName, 'carried' | 'open'>;
  /** Ready, or known and run out. */
  state: 'ready' | 'ended';
}

const ends = (notAfter: string | undefined, now: Date): Means['state'] =>
  notAfter !== undefined && new Date(notAfter) < now ? 'ended' : 'ready';

/** The reading room counts where there is a way for a passcode. */
export function meansOf(person: Person, book: Book, now: Date): Means[] {
  const certificate = currentCertificate(person);
  const key = currentKey(person);
  return [
    ...(certificate === undefined ? [] : [{ lock: 'certificate', state: ends(certificate.notAfter, now) } as const]),
    ...(key === undefined ? [] : [{ lock: 'openpgp', state: ends(key.notAfter, now) } as const]),
    ...(entryFor(book, person.address, 'out') === undefined ? [] : [{ lock: 'file', state: 'ready' } as const]),
    ...(person.phone === undefined && person.secondAddress === undefined
      ? []
      : [{ lock: 'room', state: 'ready' } as const]),
  ];
}
