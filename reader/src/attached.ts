import { type MessageFile } from '@under-lock/core/message/content';

/** Chosen files with their octets. */
export const attached = (files: readonly File[]): Promise<MessageFile[]> =>
  Promise.all(
    files.map(async (file) => ({
      name: file.name,
      type: file.type,
      bytes: new Uint8Array(await file.arrayBuffer()),
    })),
  );
