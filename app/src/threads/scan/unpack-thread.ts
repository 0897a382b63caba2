/** Unpacks archives other than ZIP: a thread of its own, so that one that is made to take for ever can be ended. */
import sevenZip from '7z-wasm';
import program from '7z-wasm/7zz.wasm';
import { type FileToScan } from '@under-lock/core/scan/files/read';
import { type SevenZip, unpack } from '@under-lock/core/scan/files/unpack';
import { ZipError, type ZipErrorCode } from '@under-lock/core/zip/errors';
import { expose } from 'comlink';

const make = async (said: (line: string) => void): Promise<SevenZip> =>
  (await sevenZip({
    print: said,
    printErr: said,
    locateFile: () => program,
  })) as unknown as SevenZip;

const unpacking = {
  /** Its files, or why not. */
  async unpack(archive: FileToScan): Promise<FileToScan[] | ZipErrorCode> {
    try {
      return await unpack(archive, make);
    } catch (error) {
      if (error instanceof ZipError) return error.code;
      throw error;
    }
  },
};
export type Unpacking = typeof unpacking;

expose(unpacking);
