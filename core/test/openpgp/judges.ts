/**
 * The two programs that judge our OpenPGP: a stateless command line (sqop) and a python library (PGPy), each run on
 * files in a folder of its own.
 */
import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

export class Judges {
  readonly folder = mkdtempSync(join(tmpdir(), 'openpgp-'));
  path = (name: string): string => join(this.folder, name);
  write(name: string, bytes: Uint8Array | string): string {
    writeFileSync(this.path(name), bytes);
    return this.path(name);
  }
  read = (name: string): Uint8Array => new Uint8Array(readFileSync(this.path(name)));
  /** Runs sqop with what goes in; its words when it refuses. */
  sqop(
    args: readonly string[],
    input: Uint8Array | string = '',
  ): { code: number; out: Uint8Array<ArrayBuffer>; said: string } {
    const { status, stdout, stderr } = spawnSync('/usr/bin/sqop', args, {
      input,
      maxBuffer: 200 * 1024 * 1024,
      cwd: this.folder,
    });
    return { code: status ?? -1, out: new Uint8Array(stdout), said: stderr.toString() };
  }
  /** Runs a piece of python with PGPy imported; what it prints. */
  pgpy(script: string): string {
    const prelude =
      'import warnings; warnings.simplefilter("ignore")\nimport pgpy, sys\nfrom pgpy.constants import *\n';
    return execFileSync('/usr/bin/python3', ['-c', prelude + script], {
      cwd: this.folder,
      encoding: 'utf8',
      stdio: ['ignore', 'pipe', 'pipe'],
    });
  }
}
