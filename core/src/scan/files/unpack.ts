/** What lies in archives other than ZIP, by 7-Zip as it is compiled for WebAssembly. It runs to its end: call it in a thread. */
import { type Bytes } from '../../bytes';
import { ZipError } from '../../zip/errors';

/** What is used of the module that `7z-wasm` makes; a fresh one for each archive. */
export interface SevenZip {
  FS: {
    writeFile(path: string, bytes: Uint8Array): void;
    readFile(path: string): Uint8Array;
    readdir(path: string): string[];
    lstat(path: string): { mode: number; size: number };
    isDir(mode: number): boolean;
    isFile(mode: number): boolean;
    /** Through which all that the program writes goes. @returns How many octets. */
    write(...args: unknown[]): number;
  };
  callMain(args: string[]): void;
}

/** @param said Takes each line that the program says. */
export type MakeSevenZip = (said: (line: string) => void) => Promise<SevenZip>;

export interface Unpacked {
  /** With the folders it lies in, where it comes out of an archive. */
  name: string;
  bytes: Bytes;
}

const MAX_UNPACKED = 100_000_000; // octets, all files together: it all lies in memory
const MOST_FILES = 2_000;
/** No password is given, and none is asked for. */
const QUIET = ['-bd', '-bsp0', '-p', '-y'];

interface Listed {
  files: number;
  octets: number;
  isLocked: boolean;
}

/** From lines as `Size = 33`; a file's own name may say so, too, and is then counted: never too little. */
function readListing(lines: readonly string[]): Listed {
  const listed: Listed = { files: 0, octets: 0, isLocked: false };
  for (const line of lines) {
    const [, name, value] = /^(Path|Size|Encrypted) = (.*)$/.exec(line) ?? [];
    if (name === 'Path') listed.files += 1;
    if (name === 'Size') listed.octets += Number(value) || 0;
    if (name === 'Encrypted' && value === '+') listed.isLocked = true;
  }
  return listed;
}

/** What an archive says of its size is only said: what comes out is counted, too. */
function holdDown({ FS }: SevenZip): void {
  const write = FS.write.bind(FS);
  let written = 0;
  FS.write = (...args) => {
    const octets = write(...args);
    written += octets;
    if (written > MAX_UNPACKED + 10_000_000) throw new ZipError('too-large');
    return octets;
  };
}

function filesUnder({ FS }: SevenZip, folder: string): Unpacked[] {
  const found: Unpacked[] = [];
  const folders = [folder];
  for (let at = folders.pop(); at !== undefined; at = folders.pop())
    for (const name of FS.readdir(at).sort()) {
      if (name === '.' || name === '..') continue;
      const path = `${at}/${name}`;
      const { mode } = FS.lstat(path);
      if (FS.isDir(mode)) folders.push(path);
      else if (FS.isFile(mode)) found.push({ name: path.slice(folder.length + 1), bytes: FS.readFile(path).slice() });
    }
  return found;
}

/**
 * Files of a 7z, RAR, TAR, gzip, bzip2, xz or cabinet archive, in the order of their names.
 *
 * @throws ZipError `locked`, `too-large`, `malformed`
 */
export async function unpack({ name, bytes }: Unpacked, make: MakeSevenZip): Promise<Unpacked[]> {
  const lines: string[] = [];
  const program = await make((line) => lines.length < 100_000 && lines.push(line));
  const run = (args: string[]): void => {
    try {
      program.callMain(args);
    } catch {
      // It ends by throwing where it can't get the memory that the archive asks for.
      throw new ZipError('too-large');
    }
    if (lines.some((line) => /Wrong password/.test(line))) throw new ZipError('locked');
    if (lines.some((line) => /^ERROR|Can't open as archive|Data Error|Unexpected end/i.test(line)))
      throw new ZipError('malformed');
  };
  program.FS.writeFile('/archive', bytes);
  holdDown(program);
  run(['l', '-slt', '-ba', ...QUIET, '/archive']);
  const { files, octets, isLocked } = readListing(lines);
  if (isLocked) throw new ZipError('locked');
  if (octets > MAX_UNPACKED || files > MOST_FILES) throw new ZipError('too-large');
  lines.length = 0;
  run(['x', '-bso0', ...QUIET, '-o/out', '/archive']);
  // What packs one file alone need not know its name.
  return filesUnder(program, '/out').map((file) =>
    file.name === 'archive~' ? { ...file, name: name.replace(/\.[^.]+$/, '') } : file,
  );
}
