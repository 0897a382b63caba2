/** Lines of a table into the book, each judged anew: the table does not say how hard they are to guess. */
import { type BookLine } from '@under-lock/core/passwords/book';
import { keepItem } from '../vault/useVault';
import { keysDoor } from '../threads/keys/door';
import { type Book, entryFor, withPassword } from '@under-lock/core/passwords/entry';

/** Resolves with how many were taken. @throws ApiProblem when one can't be kept; those before it are */
export async function takeLines(book: Book, lines: readonly BookLine[], now: Date): Promise<number> {
  for (const { address, direction, password, note } of lines) {
    const known = entryFor(book, address, direction);
    const next = withPassword(
      known?.value,
      {
        address,
        direction,
        password,
        guesses: await keysDoor().file.guesses(password, [address]),
        toldAt: now.toISOString(),
      },
      now,
    );
    await keepItem('password', known?.id ?? crypto.randomUUID(), known?.revision ?? 0, {
      ...next,
      note: note === '' ? next.note : note,
    });
  }
  return lines.length;
}
