/** Locked files and their passwords, in the worker thread: what seals, opens and judges them is fetched when it is first wanted. */
import { sealInFile, type FileSealInput } from '@under-lock/core/locks/file/seal';
import { FileOpenError, type FileOpenErrorCode, openContainer, type OpenedContainer } from '@under-lock/core/locks/file/open';
import { MessageReadError } from '@under-lock/core/message/read';
import { type Bytes } from '@under-lock/core/bytes';
import { writeZip } from '@under-lock/core/zip/write';
import { newPassword } from '@under-lock/core/password/generate';
import { type PasswordKind } from '@under-lock/core/password/kind';
import { contentOf, type MessageToSeal } from '../../message';
import { upload } from '../../transfer';

/** What came of opening. `password` is the one that fitted. */
export type ContainerOutcome = ({ outcome: 'opened'; password?: string } & OpenedContainer) | { outcome: FileOpenErrorCode };

const MOST_TRIED = 200;

function failureOf(error: unknown): { outcome: FileOpenErrorCode } {
  if (error instanceof FileOpenError) return { outcome: error.code };
  if (error instanceof MessageReadError) return { outcome: 'malformed' };
  throw error;
}

export type FileWanted = Omit<FileSealInput, 'message' | 'letter'>;

export const file = {
  newPassword: (kind: PasswordKind): string => newPassword(kind),
  /** Logarithm to base 10 of the guesses it stands; `known` is what whoever guesses would try first. */
  async guesses(password: string, known: readonly string[]): Promise<number> {
    const { guessesOf } = await import('@under-lock/core/password/strength');
    return guessesOf(password, known);
  },
  /** Opens it with the first of these that fits, or without any where none is asked. Nothing is thrown for what the file itself brings up. */
  async open(bytes: Uint8Array, passwords: readonly string[]): Promise<ContainerOutcome> {
    const tried = [undefined, ...passwords.slice(0, MOST_TRIED)];
    let last: ContainerOutcome = { outcome: 'locked' };
    for (const password of tried) {
      try {
        return { outcome: 'opened', ...(await openContainer(bytes.slice(), password)), ...(password === undefined ? {} : { password }) };
      } catch (error) {
        last = failureOf(error);
        if (last.outcome !== 'locked' && last.outcome !== 'wrong-password') return last;
      }
    }
    return last;
  },
  /** A table locked with AES-256, as any unpacking program opens it. */
  lockedTable: async (name: string, bytes: Uint8Array, password: string, date: Date): Promise<Bytes> => writeZip({ files: [{ name, bytes: bytes.slice() }], lock: { cipher: 'aes-256', password }, date, isPacked: () => false }),
  /** Seals and uploads. @throws ApiProblem, RangeError */
  async sealAndUpload(message: MessageToSeal, wanted: FileWanted, blobId: string, progress: (done: number) => void): Promise<void> {
    await upload(blobId, await sealInFile({ ...wanted, message: await contentOf(message), letter: () => Promise.reject(new RangeError('No letter yet')) }), progress);
  },
};
export type FileRoom = typeof file;
