/** Locked files and their passwords, in the worker thread: what seals, opens and judges them is fetched when it is first wanted. */
import { sealInFile, type FileSealInput } from '@under-lock/core/locks/file/seal';
import { newPassword } from '@under-lock/core/password/generate';
import { type PasswordKind } from '@under-lock/core/password/kind';
import { contentOf, type MessageToSeal } from '../../message';
import { upload } from '../../transfer';

export type FileWanted = Omit<FileSealInput, 'message' | 'letter'>;

export const file = {
  newPassword: (kind: PasswordKind): string => newPassword(kind),
  /** Logarithm to base 10 of the guesses it stands; `known` is what whoever guesses would try first. */
  async guesses(password: string, known: readonly string[]): Promise<number> {
    const { guessesOf } = await import('@under-lock/core/password/strength');
    return guessesOf(password, known);
  },
  /** Seals and uploads. @throws ApiProblem, RangeError */
  async sealAndUpload(message: MessageToSeal, wanted: FileWanted, blobId: string, progress: (done: number) => void): Promise<void> {
    await upload(blobId, await sealInFile({ ...wanted, message: await contentOf(message), letter: () => Promise.reject(new RangeError('No letter yet')) }), progress);
  },
};
export type FileRoom = typeof file;
