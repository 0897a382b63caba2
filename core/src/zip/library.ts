/**
 * The only door to the ZIP library, with what holds for every use of it: no threads of its own (we are in one), one
 * reading of each archive.
 */
import { configure, Uint8ArrayReader, ZipReader, ZipWriter } from '@zip.js/zip.js';

/** Octets it handles at a time: with its own 64 kB, handing pieces on is most of what it does. */
const CHUNK = 1 << 20;

configure({ useWebWorkers: false, chunkSize: CHUNK });

export { Uint8ArrayReader, ZipReader, ZipWriter };
export * as codes from '@zip.js/zip.js';
