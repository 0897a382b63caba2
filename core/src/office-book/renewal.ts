/** The office book under a new key: every item and manifest sealed anew, and the secret sealed to each who stays. */
import { type PublicKey } from '../account/key-pair';
import { type Bytes } from '../bytes';
import { Counted } from '../vault/counted';
import { type BookKind, sealItem } from '../vault/item';
import { emptyManifest, sealManifest } from '../vault/manifest';
import { type ShelfItem } from '../vault/opened';
import { bookKey, makeOfficeKey, sealToMember } from './key';

export interface Staying {
  id: string;
  key: PublicKey;
}

export interface Resealed {
  key: { suite: number; publicKey: Bytes };
  members: { id: string; sealedKey: Bytes }[];
  kinds: {
    kind: BookKind;
    manifest: { revision: number; whole: Bytes };
    items: { id: string; revision: number; sealed: Bytes }[];
  }[];
}

/** All of a kind. */
export interface Shelved {
  kind: BookKind;
  items: readonly ShelfItem[];
  /** Of the manifest that is replaced, 0 where nothing is there. */
  revision: number;
}

async function resealedKind(key: CryptoKey, { kind, items, revision }: Shelved): Promise<Resealed['kinds'][number]> {
  const manifest = {
    ...emptyManifest,
    revision: revision + 1,
    items: Counted.of(items.map((item) => [item.id, item.revision])),
  };
  return {
    kind,
    manifest: { revision, whole: await sealManifest(key, kind, manifest) },
    items: await Promise.all(
      items.map(async (item) => ({
        id: item.id,
        revision: item.revision,
        sealed: await sealItem(key, kind, item.id, item.value, item.revision),
      })),
    ),
  };
}

/** @param epoch The new key's. */
export async function resealed(
  shelved: readonly Shelved[],
  { epoch, members }: { epoch: number; members: readonly Staying[] },
): Promise<Resealed> {
  const { suite, publicKey, secret } = await makeOfficeKey();
  const key = await bookKey(secret);
  return {
    key: { suite, publicKey },
    members: await Promise.all(
      members.map(async ({ id, key: their }) => ({ id, sealedKey: await sealToMember(their, secret, epoch, id) })),
    ),
    kinds: await Promise.all(shelved.map((one) => resealedKind(key, one))),
  };
}
