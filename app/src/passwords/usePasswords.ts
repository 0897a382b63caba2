/** The password book: agreed passwords by person and direction, in the worker's vault. */
import { type Book, entryFor, passwordEntrySchema, withPassword } from '@under-lock/core/passwords/entry';
import { dropItem, keepItem, useVault } from '../vault/useVault';

export const usePasswords = () => useVault('password', passwordEntrySchema);

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
