/**
 * A mail while it comes in: small ones in memory, the rest in a file, encrypted under a key that only this process has
 * while it lasts. What lies there together, and what is held in memory at one time to be sealed, have bounds; whoever
 * comes when they are reached is told to come again.
 */
import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto';
import { mkdtemp, open, rm, type FileHandle } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Bytes } from '@under-lock/core/bytes';

const IN_MEMORY_BYTES = 256 * 1024;
const READ_BYTES = 1024 * 1024;
const CIPHER = 'aes-256-ctr';

export class SpoolFullError extends Error {
  constructor() {
    super('Too much mail is coming in at once');
    this.name = 'SpoolFullError';
  }
}

export interface Spool {
  begin(): Spooled;
  /** Runs `act` with the whole mail in memory, when there is room for it; the larger ones one after another. */
  whole<T>(mail: Spooled, act: (raw: Bytes) => Promise<T>): Promise<T>;
  close(): Promise<void>;
}

export interface Spooled {
  /** @throws SpoolFullError */
  write(chunk: Uint8Array): Promise<void>;
  readonly size: number;
  read(): Promise<Bytes>;
  drop(): Promise<void>;
}

/**
 * Lets pass as much at once as there is room for, in the order in which they come; what is larger than all the room
 * passes alone.
 */
function gate(capacity: number): (weight: number) => Promise<() => void> {
  let used = 0;
  const queue: { weight: number; pass: () => void }[] = [];
  const next = (): void => {
    for (
      let first = queue[0];
      first !== undefined && (used === 0 || used + first.weight <= capacity);
      first = queue[0]
    ) {
      queue.shift();
      used += first.weight;
      first.pass();
    }
  };
  return (weight) =>
    new Promise((resolve) => {
      queue.push({
        weight,
        pass: () =>
          resolve(() => {
            used -= weight;
            next();
          }),
      });
      next();
    });
}

export function openSpool({
  onDiskBytes,
  inMemoryBytes,
  within = tmpdir(),
}: {
  onDiskBytes: number;
  inMemoryBytes: number;
  /** The folder in which its own is made. */
  within?: string | undefined;
}): Spool {
  // Made by the first large mail: only then does the process surely have the rights it keeps.
  let folder: Promise<string> | undefined;
  const made = (): Promise<string> =>
    (folder ??= mkdtemp(join(within, 'under-lock-mail-')).catch((error: unknown) => {
      // The next one tries again.
      folder = undefined;
      throw error;
    }));
  const enter = gate(inMemoryBytes);
  let lying = 0;
  let count = 0;

  function begin(): Spooled {
    const key = randomBytes(32);
    const iv = randomBytes(16);
    const cipher = createCipheriv(CIPHER, key, iv);
    const name = String(count++);
    const pathOf = async (): Promise<string> => join(await made(), name);
    let held: Uint8Array[] = [];
    let file: FileHandle | undefined;
    let size = 0;
    const toFile = async (): Promise<void> => {
      file ??= await open(await pathOf(), 'wx+', 0o600);
      for (const chunk of held.splice(0)) await file.write(cipher.update(chunk));
    };
    return {
      get size() {
        return size;
      },
      async write(chunk) {
        if (lying + chunk.length > onDiskBytes) throw new SpoolFullError();
        size += chunk.length;
        lying += chunk.length;
        held.push(chunk);
        if (file !== undefined || size > IN_MEMORY_BYTES) await toFile();
      },
      async read() {
        const raw = new Uint8Array(size);
        if (file === undefined) {
          let at = 0;
          for (const chunk of held) {
            raw.set(chunk, at);
            at += chunk.length;
          }
          return raw;
        }
        const decipher = createDecipheriv(CIPHER, key, iv);
        for (let at = 0; at < size;) {
          const { bytesRead, buffer } = await file.read(
            Buffer.alloc(Math.min(READ_BYTES, size - at)),
            0,
            undefined,
            at,
          );
          if (bytesRead === 0) throw new Error('A mail that was coming in is not there any more');
          raw.set(decipher.update(buffer.subarray(0, bytesRead)), at);
          at += bytesRead;
        }
        return raw;
      },
      async drop() {
        lying -= size;
        size = 0;
        held = [];
        key.fill(0);
        await file?.close();
        if (file !== undefined) await rm(await pathOf(), { force: true });
      },
    };
  }

  return {
    begin,
    async whole(mail, act) {
      // As it came, and as it is sealed.
      const leave = await enter(mail.size * 2);
      try {
        return await act(await mail.read());
      } finally {
        leave();
      }
    },
    async close() {
      if (folder !== undefined) await rm(await folder, { recursive: true, force: true });
    },
  };
}
