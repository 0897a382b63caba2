/** The server's side of a vault, as the shelf asks it. */
import { type Bytes } from '../bytes';
import { type BookKind, type CountedKind, type VaultItemKind } from './item';

export interface SealedItem {
  id: string;
  revision: number;
  updatedAt: Date;
  sealed: Uint8Array;
}

export interface SealedChange {
  id: string;
  /** The one it replaces, 0 for a new item. */
  revision: number;
  sealed: Bytes;
}

/**
 * What follows the manifest that has `revision`: a step from that one, from time to time with the whole that it leads to;
 * a whole alone begins anew.
 */
export interface NextManifest {
  revision: number;
  step?: Bytes | undefined;
  whole?: Bytes | undefined;
}

/**
 * The newest manifest: whole with the steps that follow it, or only the steps that follow the one the asker said to
 * know, where the server still has all of those.
 */
export interface GivenManifest {
  /** 0 when there is none. */
  revision: number;
  whole?: { revision: number; sealed: Uint8Array } | undefined;
  steps?: readonly Uint8Array[] | undefined;
}

/** Items and manifest of one answer are from one moment. */
export interface VaultDoor {
  /**
   * @param known The manifest that the asker has. @param since Of all items, only those that were written under a later
   * one.
   */
  list(kind: CountedKind, known: number, since?: number): Promise<{ items: SealedItem[]; manifest: GivenManifest }>;
  read(
    kind: VaultItemKind | BookKind,
    id: string,
    known: number,
  ): Promise<{ item?: SealedItem | undefined; manifest?: GivenManifest | undefined }>;
  /** Both or neither. Rejects with `isBehind` errors when another manifest has been written meanwhile. */
  put(
    kind: VaultItemKind | BookKind,
    id: string,
    change: { revision: number; sealed: Bytes; manifest?: NextManifest },
  ): Promise<void>;
  /** Several at once under one manifest: all of them, or none. Where it is not there, they go one by one. */
  putAll?(kind: CountedKind, changes: readonly SealedChange[], manifest: NextManifest): Promise<void>;
  drop(kind: CountedKind, id: string, manifest: NextManifest): Promise<void>;
  putManifest(kind: CountedKind, manifest: NextManifest): Promise<void>;
  isBehind(error: unknown): boolean;
}
