/** Keys in whatever people pass on: binary or armoured, one or many, with text around them (RFC 9580 §10.1, §6.2). */
import { readKeys as readAll, readPrivateKeys } from 'openpgp';
import { type Bytes } from '../bytes';
import { armouredBlocks } from './armour';
import { OpenPgpError } from './errors';
import { factsOf, MAX_KEY_BYTES, type OpenPgpKey } from './key';
import { CONFIG, guarded, type PrivateKey, type PublicKey } from './library';
import { looksLikePackets, packetHeads, TAG } from './packets';

export const MAX_FILE_BYTES = 4 * 1024 * 1024;
const MAX_KEYS = 50;

/** Where each key of a run of packets begins: the library reads the first only. */
function apart(bytes: Uint8Array): Bytes[] {
  const heads = packetHeads(bytes);
  const starts: number[] = [];
  let at = 0;
  for (const { tag, to } of heads) {
    if (tag === TAG.publicKey || tag === TAG.secretKey) starts.push(at);
    at = to;
  }
  return starts
    .slice(0, MAX_KEYS)
    .map((from, index) => bytes.slice(from, starts[index + 1] ?? bytes.length) as Bytes)
    .filter(({ length }) => length <= MAX_KEY_BYTES);
}

function runs(bytes: Uint8Array): Bytes[] {
  if (bytes.length > MAX_FILE_BYTES) throw new OpenPgpError('too-large');
  if (looksLikePackets(bytes)) return apart(bytes);
  return armouredBlocks(bytes)
    .filter(({ kind }) => kind === 'PUBLIC KEY BLOCK' || kind === 'PRIVATE KEY BLOCK')
    .flatMap(({ bytes: one }) => apart(one))
    .slice(0, MAX_KEYS);
}

const isSecret = (bytes: Uint8Array): boolean => packetHeads(bytes)[0]?.tag === TAG.secretKey;

async function each<T>(bytes: Uint8Array, read: (one: Bytes) => Promise<T[]>): Promise<T[]> {
  let found: Bytes[];
  try {
    found = runs(bytes);
  } catch (error) {
    if (!(error instanceof OpenPgpError)) throw error;
    return [];
  }
  const keys: T[] = [];
  for (const one of found) {
    try {
      keys.push(...(await guarded('malformed', () => read(one))));
    } catch (error) {
      // One that can't be read hides none of the others.
      if (!(error instanceof OpenPgpError)) throw error;
    }
  }
  return keys;
}

/**
 * Public keys, secret ones as their public halves; none when there is nothing. A revocation that lies there alone is
 * not one.
 */
export async function openPgpKeysIn(bytes: Uint8Array): Promise<OpenPgpKey[]> {
  const keys = await each<PublicKey>(bytes, async (one) =>
    (await readAll({ binaryKeys: one, config: CONFIG })).map((key) => key.toPublic()),
  );
  const facts = await Promise.all(keys.map(factsOf));
  return [...new Map(facts.map((key) => [key.fingerprint, key])).values()];
}

/** Secret keys, still under their passphrases. */
export const secretKeysIn = (bytes: Uint8Array): Promise<PrivateKey[]> =>
  each(bytes, async (one) => (isSecret(one) ? readPrivateKeys({ binaryKeys: one, config: CONFIG }) : []));
