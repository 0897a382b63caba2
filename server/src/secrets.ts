/**
 * What the server seals at rest, under keys from secrets that live outside the database: channels (phone numbers,
 * second addresses), house shares, notices that wait,
 * what proves and opens an account, and the keyed hashes of passcodes. A copied database holds none of them readable.
 *
 * There may be several secrets in force: the newest seals, all open, and every sealed value says which it is under,
 * so that a secret can be changed while
 * everything goes on (reseal.ts). A sealed value is `2 ‖ key identifier(4) ‖ what core/sealing makes`; those of the
 * time before there was a ring begin with 1.
 */
import { createDecipheriv, createHmac, createSecretKey, type KeyObject, timingSafeEqual } from 'node:crypto';
import { type Bytes, fromUtf8, utf8 } from '@under-lock/core/bytes';
import { hkdf, seal, sealedParts, SealError, sealingKey, TAG, unseal } from '@under-lock/core/sealing';

export interface Secrets {
  sealText(text: string, context: string): Promise<Buffer>;
  openText(sealed: Buffer, context: string): Promise<string>;
  sealBytes(plain: Uint8Array, context: string): Promise<Buffer>;
  /** @throws SealError `not-opened` also when the secret it is under is not in force any more */
  openBytes(sealed: Buffer, context: string): Promise<Bytes>;
  /** HMAC-SHA-256 (RFC 2104) of `text` for one `purpose`, under the newest secret. */
  keyedHash(purpose: string, text: string): Buffer;
  /** The same under every secret in force, the newest first: for finding what was kept under an older one. */
  keyedHashes(purpose: string, text: string): Buffer[];
  /** Whether `hash` is the keyed hash of `text` under any secret in force. */
  matches(hash: Buffer, purpose: string, text: string): boolean;
  /** What every value under the newest secret begins with. */
  readonly prefix: Buffer;
}

/** What a sealed value begins with since there is a ring; what a browser or the time before made begins with 1. */
export const RING = 2;
const ID_BYTES = 4;

interface RingKey {
  prefix: Buffer;
  key: CryptoKey;
  /** The same, for what is opened on the spot. */
  keyHere: KeyObject;
  hashKey: Uint8Array;
}

async function ringKey(secret: Buffer): Promise<RingKey> {
  const root = new Uint8Array(secret);
  const raw = await hkdf(root, 'under-lock/server/at-rest/v1', 32);
  return {
    prefix: Buffer.concat([Buffer.of(RING), await hkdf(root, 'under-lock/server/key-id/v1', ID_BYTES)]),
    key: await sealingKey(raw),
    keyHere: createSecretKey(raw),
    hashKey: await hkdf(root, 'under-lock/server/keyed-hash/v1', 32),
  };
}

/** A share or a number is opened in microseconds; handing it to a thread and back takes ten times as long. */
const ON_THE_SPOT = 4096;

/** @throws SealError */
function unsealHere({ keyHere }: RingKey, sealed: Uint8Array, context: string): Bytes {
  const { nonce, body } = sealedParts(sealed);
  const decipher = createDecipheriv('aes-256-gcm', keyHere, nonce, { authTagLength: TAG });
  decipher.setAAD(utf8(context)).setAuthTag(body.subarray(-TAG));
  try {
    return new Uint8Array(Buffer.concat([decipher.update(body.subarray(0, -TAG)), decipher.final()]));
  } catch {
    throw new SealError('not-opened');
  }
}

const hashUnder = ({ hashKey }: RingKey, purpose: string, text: string): Buffer =>
  createHmac('sha256', hashKey).update(`${purpose}\0${text}`).digest();

/** @param older Secrets that were in force before, as long as something may still be sealed under them. */
export async function createSecrets(secret: Buffer, older: readonly Buffer[] = []): Promise<Secrets> {
  const ring = await Promise.all([secret, ...older].map(ringKey));
  const [newest] = ring as [RingKey];

  async function openBytes(sealed: Buffer, context: string): Promise<Bytes> {
    const isRing = sealed[0] === RING;
    const under = isRing ? ring.filter(({ prefix }) => prefix.equals(sealed.subarray(0, prefix.length))) : ring;
    const body = new Uint8Array(isRing ? sealed.subarray(newest.prefix.length) : sealed);
    for (const one of under) {
      try {
        return body.length <= ON_THE_SPOT ? unsealHere(one, body, context) : await unseal(one.key, body, context);
      } catch (error) {
        // Values of the time before the ring don't say which it is.
        if (!(error instanceof SealError) || isRing) throw error;
      }
    }
    throw new SealError('not-opened');
  }

  const sealBytes = async (plain: Uint8Array, context: string): Promise<Buffer> =>
    Buffer.concat([newest.prefix, await seal(newest.key, new Uint8Array(plain), context)]);
  return {
    sealBytes,
    openBytes,
    sealText: (text, context) => sealBytes(utf8(text), context),
    openText: async (sealed, context) => fromUtf8(await openBytes(sealed, context)),
    keyedHash: (purpose, text) => hashUnder(newest, purpose, text),
    keyedHashes: (purpose, text) => ring.map((one) => hashUnder(one, purpose, text)),
    matches: (hash, purpose, text) => ring.some((one) => timingSafeEqual(hashUnder(one, purpose, text), hash)),
    prefix: newest.prefix,
  };
}
