import { type ZipErrorCode } from '../../zip/errors';

export type FileOpenErrorCode = ZipErrorCode | 'not-a-container';
export class FileOpenError extends Error {
  constructor(readonly code: FileOpenErrorCode, options?: ErrorOptions) {
    super(`Locked file: ${code}`, options);
    this.name = 'FileOpenError';
  }
}
