/**
 * Locked files that came in and passwords, in the worker thread: what opens and judges them is fetched when it is first
 * wanted.
 */
import { defined } from '@under-lock/core/defined';
import { FileOpenError, type FileOpenErrorCode, openContainer } from '@under-lock/core/locks/file/open';
import { type OpenedContainer } from '@under-lock/core/locks/file/opened';
import { MessageReadError } from '@under-lock/core/message/read';
import { type Bytes } from '@under-lock/core/bytes';
import { writeZip } from '@under-lock/core/zip/write';
import { coverWords } from '@under-lock/core/locks/file/cover';
import { type Language } from '@under-lock/core/language';
import { newPassword } from '@under-lock/core/passwords/generate';
import { type PasswordKind } from '@under-lock/core/ways/password-kind';

/** What came of opening. `password` is the one that fitted. */
export type ContainerOutcome =
  | ({ outcome: 'opened'; password?: string } & OpenedContainer)
  | { outcome: FileOpenErrorCode; /** How it is packed, where that is why. */ method?: string };

const MOST_TRIED = 200;

function failureOf(error: unknown): Exclude<ContainerOutcome, { outcome: 'opened' }> {
  if (error instanceof FileOpenError) return { outcome: error.code, ...defined({ method: error.method }) };
  if (error instanceof MessageReadError) return { outcome: 'malformed' };
  throw error;
}

export const file = {
  newPassword: (kind: PasswordKind): string => newPassword(kind),
  /** The text message with it, in the language of who gets it. */
  passwordText: (language: Language, sender: string, office: string, password: string): string =>
    coverWords(language).text(sender, office, password),
  /** Logarithm to base 10 of the guesses it stands; `known` is what whoever guesses would try first. */
  async guesses(password: string, known: readonly string[]): Promise<number> {
    const { guessesOf } = await import('@under-lock/core/passwords/strength');
    return guessesOf(password, known);
  },
  /**
   * Opens it with the first of these that fits, or without any where none is asked. Nothing is thrown for what the file
   * itself brings up.
   */
  async open(bytes: Uint8Array, passwords: readonly string[]): Promise<ContainerOutcome> {
    const tried = [undefined, ...passwords.slice(0, MOST_TRIED)];
    let last: ContainerOutcome = { outcome: 'locked' };
    for (const password of tried) {
      try {
        return {
          outcome: 'opened',
          ...(await openContainer(bytes.slice(), password)),
          ...defined({ password }),
        };
      } catch (error) {
        last = failureOf(error);
        if (last.outcome !== 'locked' && last.outcome !== 'wrong-password') return last;
      }
    }
    return last;
  },
  /** A table locked with AES-256, as any unpacking program opens it. */
  lockedTable: async (name: string, bytes: Uint8Array, password: string, date: Date): Promise<Bytes> =>
    writeZip({
      files: [{ name, bytes: bytes.slice() }],
      lock: { cipher: 'aes-256', password },
      date,
      isPacked: () => false,
    }),
};
export type FileRoom = typeof file;
