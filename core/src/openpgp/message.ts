/**
 * Messages sealed and opened (RFC 9580 §10.3), octets to octets; and signatures held against what they sign. Whether a
 * key is to be relied on is judged elsewhere.
 */
import { defined } from '../defined';
import {
  createMessage,
  decrypt,
  decryptSessionKeys,
  encrypt,
  enums,
  generateSessionKey,
  type KeyID,
  readMessage,
  readSignature,
  type SessionKey,
  sign,
  type Signature,
  verify,
} from 'openpgp';
import { type Bytes } from '../bytes';
import { OpenPgpError } from './errors';
import { type KeyPart, type OpenPgpKey } from './key';
import {
  CONFIG,
  guarded,
  isAnybodys,
  type Literal,
  literalOf,
  type PrivateKey,
  type SignaturePacket,
  verifies,
} from './library';
import { MAX_SIGNATURES, messageKind, packetHeads, requireReasonable, TAG } from './packets';

export interface MessageSealing {
  signer: PrivateKey | undefined;
  recipients: readonly OpenPgpKey[];
  /** The sender's own key, for their copy: we open whatever packets there are, so it never makes the others' older. */
  own?: OpenPgpKey | undefined;
  date: Date;
  fileName?: string;
}

/**
 * Signs (when there is a key to) and encrypts in one message, as RFC 3156 §6.2 has it. The newer packets are used when
 * every recipient says they read them.
 */
export async function sealMessage(
  content: Bytes,
  { signer, recipients, own, date, fileName = '' }: MessageSealing,
): Promise<Bytes> {
  const message = await createMessage({ binary: content, date, filename: fileName });
  // Where all advertise it the library uses it; its own choice among ciphers would be OCB, which engines don't have and
  // which takes 45 times as long.
  const config = { ...CONFIG, preferredAEADAlgorithm: enums.aead.gcm };
  const keys = recipients.map(({ material }) => material);
  return guarded(
    'unsupported',
    async () =>
      (await encrypt({
        message,
        sessionKey: await generateSessionKey({ encryptionKeys: keys, date, config }),
        encryptionKeys: own === undefined ? keys : [...keys, own.material],
        ...defined({ signingKeys: signer }),
        date,
        format: 'binary',
        config,
      })) as Bytes,
  );
}

/** RFC 9580 §9.5, as RFC 3156 §5 spells them in `micalg`. */
const HASH_NAMES: Partial<Record<number, string>> = {
  [enums.hash.sha256]: 'pgp-sha256',
  [enums.hash.sha384]: 'pgp-sha384',
  [enums.hash.sha512]: 'pgp-sha512',
  [enums.hash.sha224]: 'pgp-sha224',
};

/** A signature over exactly these bytes, apart from them. */
export async function signApart(
  content: Bytes,
  signer: PrivateKey,
  date: Date,
): Promise<{ signature: Bytes; micalg: string }> {
  return guarded('unsupported', async () => {
    const made = (await sign({
      message: await createMessage({ binary: content, date }),
      signingKeys: signer,
      detached: true,
      date,
      format: 'object',
      config: CONFIG,
    })) as unknown as Signature;
    return {
      signature: made.write() as Bytes,
      micalg: HASH_NAMES[made.packets[0]?.hashAlgorithm ?? 0] ?? 'pgp-sha512',
    };
  });
}

/** What becomes of one signature. `at` is the signer's own word. */
export type OpenPgpCheck =
  | { kind: 'signed'; key: OpenPgpKey; /** The fingerprint of the part that made it. */ part: string; at: Date }
  | { kind: 'changed'; key: OpenPgpKey }
  /**
   * Made with a hash that can be forged, under a condition that must be understood and is not, or by a part that was
   * not in force.
   */
  | { kind: 'unsupported' }
  /** There is a signature, or what is left of one, and it can't be read or belongs to more than what is there. */
  | { kind: 'unreadable' }
  | { kind: 'no-key'; keyId: string };

const MESSAGE_SIGNATURES: readonly (enums.signature | null)[] = [enums.signature.binary, enums.signature.text];
const FORGEABLE: readonly (enums.hash | null)[] = [enums.hash.md5, enums.hash.ripemd, enums.hash.sha1];

/** Keys that may have made a signature, by the id it names (16 hex digits, lower case). */
export type Keyring = (keyId: string) => Promise<readonly OpenPgpKey[]>;
export const ringOf =
  (keys: readonly OpenPgpKey[]): Keyring =>
  async (keyId) =>
    keys.filter(({ material }) => material.getKeyIDs().some((id) => id.toHex() === keyId));

const materialWith = (keys: readonly OpenPgpKey[], id: KeyID) =>
  keys.flatMap((key) =>
    key.material.getKeys(id).map((part) => ({ key, part: part.keyPacket, fingerprint: part.getFingerprint() })),
  );

/**
 * In force when it signed, as its own words go. What was revoked because it may be in other hands, or without a reason,
 * signed nothing that counts; the whole key’s end is judged with the key.
 */
function mayHaveSigned({ sign, primary, createdAt, expiresAt, revocation }: KeyPart, at: Date): boolean {
  if (!sign || createdAt > at) return false;
  if (primary) return true;
  const gone =
    revocation !== undefined &&
    (revocation.at <= at || revocation.reason === 'keyCompromise' || revocation.reason === 'unspecified');
  return !gone && (expiresAt === undefined || at < expiresAt);
}

/** The library's words when it could check a signature and it does not hold; whatever else comes up, it could not. */
const REFUSALS: readonly string[] = ['Signed digest did not match', 'Signature verification failed'];
const saysOtherwise = (error: unknown): boolean => error instanceof Error && REFUSALS.includes(error.message);

async function checkOne(
  signature: SignaturePacket,
  data: Literal,
  detached: boolean,
  known: Keyring,
): Promise<OpenPgpCheck> {
  if (
    !MESSAGE_SIGNATURES.includes(signature.signatureType) ||
    FORGEABLE.includes(signature.hashAlgorithm) ||
    signature.rawNotations.some(({ critical }) => critical)
  )
    return { kind: 'unsupported' };
  const keyId = signature.issuerKeyID.toHex();
  const candidates = materialWith(await known(keyId), signature.issuerKeyID);
  if (candidates.length === 0) return { kind: 'no-key', keyId };
  let unverifiable = false;
  for (const { key, part, fingerprint } of candidates) {
    // Only what the key's holder made for signing: a part somebody hung on it vouches for nobody.
    const made = key.parts.find((one) => one.fingerprint === fingerprint);
    if (made?.sign !== true) continue;
    try {
      await verifies(signature, part, data, detached);
      const at = signature.created ?? new Date(0);
      return mayHaveSigned(made, at) ? { kind: 'signed', key, part: fingerprint, at } : { kind: 'unsupported' };
    } catch (error) {
      // Two keys may share an id: the next one is tried.
      unverifiable ||= !saysOtherwise(error);
    }
  }
  return unverifiable ? { kind: 'unsupported' } : { kind: 'changed', key: candidates[0]!.key };
}

export interface OpenedMessage {
  content: Bytes;
  /** As its sender named it; empty mostly. */
  fileName: string;
  encrypted:
    | {
        cipher: string;
        /** By the newer packets (SEIPD version 2). */ newest: boolean;
        openedWith: string;
        recipients: number;
      }
    | undefined;
  checks: readonly OpenPgpCheck[];
}

interface Read {
  data: unknown;
  filename?: string;
  signatures: { signature: Promise<Signature> }[];
}

/** The library is given no keys, so it judges nothing: it only hands over what was signed and the signatures. */
async function contentOf(
  { data, filename, signatures }: Read,
  known: Keyring,
): Promise<Pick<OpenedMessage, 'content' | 'fileName' | 'checks'>> {
  if (signatures.length > MAX_SIGNATURES) throw new OpenPgpError('too-large');
  const content = data as Bytes;
  const literal = await literalOf({ binary: content });
  const packets = (await Promise.all(signatures.map(({ signature }) => signature))).flatMap((one) => [...one.packets]);
  return {
    content,
    fileName: filename ?? '',
    checks: await Promise.all(packets.map((one) => checkOne(one, literal, false, known))),
  };
}

const isOurs = (secret: readonly PrivateKey[], ids: readonly KeyID[]): boolean =>
  ids.some((id) => isAnybodys(id) || secret.some((key) => key.getKeys(id).length > 0));

const symmetricNames: Partial<Record<string, string>> = {
  aes256: 'AES-256',
  aes192: 'AES-192',
  aes128: 'AES-128',
  tripledes: '3DES',
  cast5: 'CAST5',
  blowfish: 'Blowfish',
  idea: 'IDEA',
  twofish: 'Twofish',
};
const OLD_CIPHERS: readonly string[] = ['3DES', 'CAST5', 'Blowfish', 'IDEA'];
export const isOldCipher = (cipher: string): boolean => OLD_CIPHERS.includes(cipher);

async function openedWith(message: { getEncryptionKeyIDs(): KeyID[] }, secret: readonly PrivateKey[]): Promise<string> {
  const ids = message.getEncryptionKeyIDs();
  return secret.find((key) => ids.some((id) => key.getKeys(id).length > 0))?.getFingerprint() ?? '';
}

const SEALED_VERSION_2 = 2;
/** RFC 9580 §9.3. */
const CIPHERS: Partial<Record<number, string>> = {
  1: 'IDEA',
  2: '3DES',
  3: 'CAST5',
  4: 'Blowfish',
  7: 'AES-128',
  8: 'AES-192',
  9: 'AES-256',
  10: 'Twofish',
};

/**
 * The old packet without a seal against changes (§5.7): whoever passes it on can alter what it says, so it is not
 * opened.
 */
function requireSealed(bytes: Uint8Array): {
  newest: boolean;
  recipients: number;
  /** Said by the newer packets themselves (§5.13.2). */ cipher: string | undefined;
} {
  const heads = packetHeads(bytes);
  if (heads.some(({ tag }) => tag === TAG.encrypted)) throw new OpenPgpError('unsupported');
  const sealed = heads.find(({ tag }) => tag === TAG.sealed);
  const newest = sealed !== undefined && bytes[sealed.from] === SEALED_VERSION_2;
  return {
    newest,
    cipher: newest ? CIPHERS[bytes[sealed.from + 1] ?? 0] : undefined,
    recipients: heads.filter(({ tag }) => tag === TAG.publicKeySession).length,
  };
}

/**
 * @param secret Our keys, without passphrases; old ones too.
 * @param known Keys that may have signed.
 * @throws OpenPgpError
 */
export async function openMessage(bytes: Bytes, secret: readonly PrivateKey[], known: Keyring): Promise<OpenedMessage> {
  requireReasonable(bytes);
  if (messageKind(bytes) === 'readable') {
    const message = await guarded('malformed', () => readMessage({ binaryMessage: bytes, config: CONFIG }));
    return guarded('malformed', async () => ({
      encrypted: undefined,
      ...(await contentOf(await verify({ message, verificationKeys: [], format: 'binary', config: CONFIG }), known)),
    }));
  }
  const { newest, recipients, cipher: said } = requireSealed(bytes);
  const message = await guarded('malformed', () => readMessage({ binaryMessage: bytes, config: CONFIG }));
  if (!isOurs(secret, message.getEncryptionKeyIDs())) throw new OpenPgpError('not-for-us');
  const sessionKeys = await guarded('not-opened', () =>
    decryptSessionKeys({ message, decryptionKeys: [...secret], config: CONFIG }),
  );
  const read = await guarded('not-opened', () =>
    decrypt({
      message,
      sessionKeys: sessionKeys as SessionKey[],
      verificationKeys: [],
      format: 'binary',
      config: CONFIG,
    }),
  );
  const [session] = sessionKeys;
  const cipher = said ?? symmetricNames[session?.algorithm ?? ''] ?? session?.algorithm ?? '';
  return {
    encrypted: { cipher, newest, recipients, openedWith: await openedWith(message, secret) },
    ...(await guarded('malformed', () => contentOf(read, known))),
  };
}

/**
 * Signatures apart from what they sign, also those under a text signed in the clear (§7), held against its octets.
 * @throws OpenPgpError
 */
export async function checkApart(signatureBytes: Bytes, content: Bytes, known: Keyring): Promise<OpenPgpCheck[]> {
  requireReasonable(signatureBytes);
  const signature = await guarded('malformed', () =>
    readSignature({ binarySignature: signatureBytes, config: CONFIG }),
  );
  const packets = [...signature.packets];
  if (packets.length === 0) throw new OpenPgpError('malformed');
  const literal = await literalOf({ binary: content });
  return Promise.all(packets.map((one) => checkOne(one, literal, true, known)));
}
