/** Account keys as they were when their holders were first written to, as SHA-256 by the account's id. */
import { keyFingerprint } from './key-fingerprint';

export type KnownKeys = Readonly<Record<string, string>>;

export interface WithKey {
  id: string;
  key?: { publicKey: Uint8Array } | undefined;
}

/** Another key than when they were first written to. */
export const isChanged = (known: KnownKeys, { id, key }: WithKey): boolean =>
  key !== undefined && known[id] !== undefined && known[id] !== keyFingerprint(key.publicKey);
