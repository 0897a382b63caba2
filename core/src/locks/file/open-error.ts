import { type ZipErrorCode } from '../../zip/errors';

export type FileOpenErrorCode = ZipErrorCode | 'not-a-container';
export class FileOpenError extends Error {
  /** @param method How something in an archive is packed, when that is why it is not read. */
  constructor(
    readonly code: FileOpenErrorCode,
    options?: ErrorOptions,
    readonly method?: string,
  ) {
    super(`Locked file: ${code}`, options);
    this.name = 'FileOpenError';
  }
}
