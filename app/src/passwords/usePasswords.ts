/** The password book: agreed passwords by person and direction, in the worker's vault. */
import { addressKey } from '@under-lock/core/people/address';
import { dropItem, keepItem, type Kept, useVault } from '../vault/useVault';
import { type Direction, type PasswordEntry, passwordEntrySchema } from '@under-lock/core/passwords/entry';

export const usePasswords = () => useVault('password', passwordEntrySchema);

export type Book = readonly Kept<PasswordEntry>[];

export const entryFor = (book: Book, address: string, direction: Direction): Kept<PasswordEntry> | undefined =>
  book.find(({ value }) => value.direction === direction && addressKey(value.address) === addressKey(address));

const MAX_BEFORE = 50;

/** The entry with another password in use; the one before is kept. Pure. */
export function withPassword(
  known: PasswordEntry | undefined,
  next: Pick<PasswordEntry, 'address' | 'direction' | 'password' | 'guesses'> & { toldAt?: string | undefined },
  now: Date,
): PasswordEntry {
  const { toldAt, ...rest } = next;
  const told = toldAt === undefined ? {} : { toldAt };
  if (known === undefined) return { ...rest, ...told, since: now.toISOString(), before: [], note: '' };
  const isSame = known.password === next.password;
  const before = isSame
    ? known.before
    : [
        { password: known.password, until: now.toISOString() },
        ...known.before.filter(({ password }) => password !== next.password),
      ].slice(0, MAX_BEFORE);
  return {
    ...rest,
    before,
    note: known.note,
    since: isSame ? known.since : now.toISOString(),
    ...(isSame && known.toldAt !== undefined ? { toldAt: known.toldAt } : {}),
    ...told,
  };
}

/** Keeps a password for somebody. @throws ApiProblem `conflict` */
export async function rememberPassword(book: Book, next: Parameters<typeof withPassword>[1], now: Date): Promise<void> {
  const known = entryFor(book, next.address, next.direction);
  await keepItem(
    'password',
    known?.id ?? crypto.randomUUID(),
    known?.revision ?? 0,
    withPassword(known?.value, next, now),
  );
}

export const forgetPassword = (id: string): Promise<void> => dropItem('password', id);
