import { existsSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

/** What the first of these folders holds under this name. */
export function readFirst<T>(dirs: readonly (string | undefined)[], name: string): T | undefined {
  const file = dirs.flatMap((dir) => (dir === undefined ? [] : [join(dir, name)])).find((one) => existsSync(one));
  return file === undefined ? undefined : (JSON.parse(readFileSync(file, 'utf8')) as T);
}

/** Whole or not at all, whenever the process ends. */
export function writeWhole(dir: string, name: string, value: unknown): void {
  const file = join(dir, name);
  writeFileSync(`${file}.new`, JSON.stringify(value));
  renameSync(`${file}.new`, file);
}
