/**
 * A mail while it comes in: small ones in memory, the rest in a file, encrypted under a key that only this process has
 * while it lasts. What lies there together, and what is held in memory at one time to be sealed, have bounds; whoever
 * comes when they are reached is told to come again.
 */
import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto';
import { mkdtemp, open, rm, type FileHandle } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Bytes, concat } from '@under-lock/core/bytes';

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

/** What all mails that come in share: room in the folder, and the folder. */
interface Shared {
  onDiskBytes: number;
  lying: number;
  folder: () => Promise<string>;
}

/** One mail: its first octets in memory, and once it is large all of it in a file. */
class SpooledMail implements Spooled {
  private readonly key = randomBytes(32);
  private readonly iv = randomBytes(16);
  private readonly cipher = createCipheriv(CIPHER, this.key, this.iv);
  private held: Uint8Array[] = [];
  private file: FileHandle | undefined;
  size = 0;

  constructor(
    private readonly shared: Shared,
    private readonly name: string,
  ) {}

  private path = async (): Promise<string> => join(await this.shared.folder(), this.name);

  private async toFile(): Promise<void> {
    this.file ??= await open(await this.path(), 'wx+', 0o600);
    for (const chunk of this.held.splice(0)) await this.file.write(this.cipher.update(chunk));
  }

  async write(chunk: Uint8Array): Promise<void> {
    const { shared } = this;
    if (shared.lying + chunk.length > shared.onDiskBytes) throw new SpoolFullError();
    this.size += chunk.length;
    shared.lying += chunk.length;
    this.held.push(chunk);
    if (this.file !== undefined || this.size > IN_MEMORY_BYTES) await this.toFile();
  }

  async read(): Promise<Bytes> {
    if (this.file === undefined) return concat(...this.held);
    const raw = new Uint8Array(this.size);
    const decipher = createDecipheriv(CIPHER, this.key, this.iv);
    for (let at = 0; at < this.size;) {
      const wanted = Buffer.alloc(Math.min(READ_BYTES, this.size - at));
      const { bytesRead, buffer } = await this.file.read(wanted, 0, undefined, at);
      if (bytesRead === 0) throw new Error('A mail that was coming in is not there any more');
      raw.set(decipher.update(buffer.subarray(0, bytesRead)), at);
      at += bytesRead;
    }
    return raw;
  }

  async drop(): Promise<void> {
    this.shared.lying -= this.size;
    this.size = 0;
    this.held = [];
    this.key.fill(0);
    await this.file?.close();
    if (this.file !== undefined) await rm(await this.path(), { force: true });
  }
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
  const shared: Shared = { onDiskBytes, lying: 0, folder: made };
  let count = 0;
  return {
    begin: () => new SpooledMail(shared, String(count++)),
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
