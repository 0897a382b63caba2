/**
 * Everything the certificate thread does with OpenPGP; fetched when it is first wanted. Secret keys never leave it but
 * sealed, or in a file under the worker's passphrase.
 */
import { type Bytes, sameBytes, toBase64Url } from '@under-lock/core/bytes';
import { armoured } from '@under-lock/core/openpgp/armour';
import {
  certified,
  type OwnRevocationReason,
  revoked,
  revokedBy,
  withAddress,
  withEnd,
  withoutAddress,
} from '@under-lock/core/openpgp/change-key';
import { OpenPgpError } from '@under-lock/core/openpgp/errors';
import { openPgpKeysIn, secretKeysIn } from '@under-lock/core/openpgp/in-file';
import { addressesOfKey, factsOf, type KeyUse, mergedKeys, readOpenPgpKey } from '@under-lock/core/openpgp/key';
import { type PrivateKey } from '@under-lock/core/openpgp/library';
import { signOnly } from '@under-lock/core/openpgp/sign-only';
import { secretOf, usableOpenPgpKeys } from '@under-lock/core/openpgp/usable';
import {
  type Holder,
  lockedBackup,
  makeOpenPgpKey,
  type OpenPgpKind,
  unlockedSecret,
} from '@under-lock/core/openpgp/make-key';
import { type KeptOpenPgp } from '@under-lock/core/openpgp/kept-key';
import { type OwnOpenPgpKey } from '../../../keys/openpgp/own-key';
import { type OpenPgpVerdictView, type OpenPgpView } from '../../../keys/openpgp/view';
import { keyJudge } from './judging';
import { keepSecret, keptSecret, type KeptSecret, keptSecrets, packed, publicSide } from './kept';
import { keyVerdictView, keyView } from './views';

export interface KeyAsked {
  key: Uint8Array;
  use: KeyUse;
  address?: string;
  at?: Date;
  compared: boolean;
}

export interface SecretInFile {
  index: number;
  view: OpenPgpView;
  /** It still wants its passphrase. */ locked: boolean;
  known: boolean;
  /** Rests on algorithms that are not to be used any more: for reading only. */ old: boolean;
}
export type SecretFileOutcome =
  | { outcome: 'found'; keys: SecretInFile[] }
  | { outcome: 'revocation'; /** Of which own key. */ id: string; view: OpenPgpView }
  | { outcome: 'nothing' };

/** A change to the secret key itself, said in one place. */
async function change(
  id: string,
  make: (key: PrivateKey) => Promise<PrivateKey>,
  note: Partial<KeptOpenPgp> = {},
): Promise<OwnOpenPgpKey> {
  const item = await keptSecret(id);
  const key = await make(await secretOf(item.value));
  return publicSide(await keepSecret(id, item.revision, { ...item.value, ...note, secretKey: packed(key) }));
}

/** Every part of it, not only the one that names it: a backup without the part that opens mail would be none. */
function sameSecret(a: PrivateKey, b: PrivateKey): boolean {
  const parts = (key: PrivateKey): Bytes[] => key.getKeys().map(({ keyPacket }) => keyPacket.write() as Bytes);
  const [ours, theirs] = [parts(a), parts(b)];
  return ours.length === theirs.length && ours.every((part, index) => sameBytes(part, theirs[index]!));
}

/** A revocation certificate for one of our own keys. */
async function revocationIn(
  file: Uint8Array,
  kept: readonly KeptSecret[],
  now: Date,
): Promise<Extract<SecretFileOutcome, { outcome: 'revocation' }> | undefined> {
  const text = new TextDecoder().decode(file);
  for (const { id, value } of kept) {
    try {
      return {
        outcome: 'revocation',
        id,
        view: keyView(await factsOf(await revokedBy((await secretOf(value)).toPublic(), text, now)), now),
      };
    } catch (error) {
      if (!(error instanceof OpenPgpError)) throw error;
    }
  }
  return undefined;
}

export const openpgp = {
  list: async (): Promise<OwnOpenPgpKey[]> => Promise.all((await keptSecrets()).map(publicSide)),
  async make(
    id: string,
    kind: OpenPgpKind,
    holder: Holder,
    expiresAt: Date | undefined,
    purpose: KeptOpenPgp['purpose'],
    now: Date,
  ): Promise<OwnOpenPgpKey> {
    const made = await makeOpenPgpKey(kind, holder, now, expiresAt);
    const forPrograms = purpose === 'programs';
    return publicSide(
      await keepSecret(id, 0, {
        kind: 'openpgp',
        secretKey: toBase64Url(forPrograms ? await signOnly(made.secret) : made.secret),
        revocation: made.revocation,
        purpose,
        madeAt: now.toISOString(),
        imported: false,
        // Mail programs take what comes in the field for what they are to encrypt to.
        carried: forPrograms ? 'nothing' : 'field',
        chosenFor: [],
      }),
    );
  },
  note: async (
    id: string,
    noted: Partial<Pick<KeptOpenPgp, 'retiredAt' | 'carried' | 'chosenFor'>>,
  ): Promise<OwnOpenPgpKey> => {
    const item = await keptSecret(id);
    return publicSide(await keepSecret(id, item.revision, { ...item.value, ...noted }));
  },
  setEnd: (id: string, expiresAt: Date | undefined, now: Date): Promise<OwnOpenPgpKey> =>
    change(id, (key) => withEnd(key, expiresAt, now)),
  addAddress: (id: string, name: string, address: string, now: Date): Promise<OwnOpenPgpKey> =>
    change(id, (key) => withAddress(key, name, address, now)),
  retireAddress: (id: string, address: string, now: Date): Promise<OwnOpenPgpKey> =>
    change(id, (key) => withoutAddress(key, address, now)),
  revoke: (id: string, reason: OwnRevocationReason, now: Date): Promise<OwnOpenPgpKey> =>
    change(id, (key) => revoked(key, reason, now), { retiredAt: now.toISOString() }),
  /** The certificate made at birth, for printing; undefined for a key that came from a file. */
  revocation: async (id: string): Promise<string | undefined> => (await keptSecret(id)).value.revocation,
  async backup(id: string, passphrase: string): Promise<Bytes> {
    return lockedBackup(await secretOf((await keptSecret(id)).value), passphrase);
  },
  /** Opens the file as another program would and compares: only then it counts as a backup. */
  async proveBackup(
    id: string,
    file: Uint8Array,
    passphrase: string,
    now: Date,
  ): Promise<'proved' | 'wrong-password' | 'malformed' | 'another-key'> {
    const item = await keptSecret(id);
    const found = await secretKeysIn(file);
    if (found.length === 0) return 'malformed';
    const wanted = await secretOf(item.value);
    const same = found.find((one) => one.getFingerprint() === wanted.getFingerprint());
    if (same === undefined) return 'another-key';
    try {
      // A file without a passphrase would be no safe backup, and is none of ours.
      if (same.isDecrypted() || !sameSecret(await unlockedSecret(same, passphrase), wanted)) return 'another-key';
    } catch (error) {
      if (!(error instanceof OpenPgpError)) throw error;
      return 'wrong-password';
    }
    await keepSecret(id, item.revision, { ...item.value, backedUpAt: now.toISOString() });
    return 'proved';
  },
  async look(file: Uint8Array, now: Date): Promise<SecretFileOutcome> {
    const [found, kept] = await Promise.all([secretKeysIn(file), keptSecrets()]);
    if (found.length === 0) return (await revocationIn(file, kept, now)) ?? { outcome: 'nothing' };
    const known = new Set(await Promise.all(kept.map(async ({ value }) => (await secretOf(value)).getFingerprint())));
    return {
      outcome: 'found',
      keys: await Promise.all(
        found.map(async (secret, index) => {
          const facts = await factsOf(secret.toPublic());
          return {
            index,
            view: keyView(facts, now),
            locked: !secret.isDecrypted(),
            known: known.has(facts.fingerprint),
            old: facts.parts.some(({ weak, weakHash }) => weak || weakHash),
          };
        }),
      ),
    };
  },
  /** Keeps one key of a file that was looked at. @throws OpenPgpError `wrong-passphrase` */
  async bring(
    id: string,
    file: Uint8Array,
    passphrase: string,
    index: number,
    now: Date,
  ): Promise<OwnOpenPgpKey | 'wrong-passphrase'> {
    const found = (await secretKeysIn(file))[index];
    if (found === undefined) throw new RangeError('No such key in the file');
    const locked = !found.isDecrypted();
    try {
      const secret = await unlockedSecret(found, passphrase);
      const facts = await factsOf(secret.toPublic());
      const reading =
        facts.revocation !== undefined ||
        facts.parts.some(({ primary, weak, weakHash }) => primary && (weak || weakHash));
      return publicSide(
        await keepSecret(id, 0, {
          kind: 'openpgp',
          secretKey: packed(secret),
          purpose: 'mail',
          madeAt: now.toISOString(),
          imported: true,
          carried: 'field',
          chosenFor: [],
          ...(locked ? { backedUpAt: now.toISOString() } : {}),
          ...(reading ? { retiredAt: now.toISOString() } : {}),
        }),
      );
    } catch (error) {
      if (!(error instanceof OpenPgpError) || error.code !== 'wrong-passphrase') throw error;
      return 'wrong-passphrase';
    }
  },
  view: async (key: Uint8Array): Promise<OpenPgpView> => keyView(await readOpenPgpKey(key), new Date()),
  /** Public keys in a file or a text of any kind; none when there is nothing. */
  inFile: async (bytes: Uint8Array): Promise<OpenPgpView[]> =>
    (await openPgpKeysIn(bytes)).map((key) => keyView(key, new Date())),
  /** A file for giving out: armoured, with the addresses for whoever meets it. */
  publicFile: async (key: Uint8Array): Promise<Bytes> => {
    const facts = await readOpenPgpKey(key);
    return armoured('PUBLIC KEY BLOCK', facts.bytes, addressesOfKey(facts).join(', ').slice(0, 200));
  },
  async judge(asked: readonly KeyAsked[], now: Date): Promise<OpenPgpVerdictView[]> {
    const questions = await Promise.all(
      asked.map(async ({ key, ...rest }) => ({ ...rest, key: await readOpenPgpKey(key) })),
    );
    return (await keyJudge.judge(questions, now)).map(keyVerdictView);
  },
  /** Both copies of one key as one; undefined when they are two keys, or the second is none. */
  async merged(kept: Uint8Array, found: Uint8Array): Promise<OpenPgpView | undefined> {
    const wanted = (await readOpenPgpKey(kept)).fingerprint;
    const same = (await openPgpKeysIn(found)).find(({ fingerprint }) => fingerprint === wanted);
    return same === undefined ? undefined : keyView(await mergedKeys(kept, same.bytes), new Date());
  },
  /** Revokes an own key by its certificate from paper. */
  revokeByPaper: (id: string, file: Uint8Array, now: Date): Promise<OwnOpenPgpKey> =>
    change(id, async (key) => key.update(await revokedBy(key.toPublic(), new TextDecoder().decode(file), now)), {
      retiredAt: now.toISOString(),
    }),
  /** Vouches for a key with one of the worker's own. */
  async certify(id: string, key: Uint8Array, now: Date): Promise<Bytes> {
    const by = await secretOf((await keptSecret(id)).value);
    return (await certified((await readOpenPgpKey(key)).material, by, now)).write() as Bytes;
  },
  forgetTrusted: async (): Promise<void> => keyJudge.forget(),
  /** Whether OpenPGP copies from this address will be signed. */
  signs: async (address: string, now: Date): Promise<boolean> =>
    (await usableOpenPgpKeys(await keptSecrets(), address, 'sign', now)).length > 0,
};
export type OpenPgpRoom = typeof openpgp;
