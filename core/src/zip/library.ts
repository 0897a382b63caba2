/** The only door to the ZIP library, with what holds for every use of it: no threads of its own (we are in one), one reading of each archive. */
import { configure, Uint8ArrayReader, Uint8ArrayWriter, ZipReader, ZipWriter } from '@zip.js/zip.js';

configure({ useWebWorkers: false });

export { Uint8ArrayReader, Uint8ArrayWriter, ZipReader, ZipWriter };
export * as codes from '@zip.js/zip.js';
