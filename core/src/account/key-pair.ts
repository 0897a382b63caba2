/**
 * The account's key pair: lets others seal to this account (HPKE, RFC 9180, base mode). Suite 1 is X-Wing (X25519 and
 * ML-KEM-768,
 * draft-connolly-cfrg-xwing-kem), HKDF-SHA-256, AES-256-GCM: what is held for years must outlive today's curves. The
 * suite's number
 * stands before every value, so that another can follow.
 * A sealed value is `suite (1) ‖ encapsulated key (1120) ‖ ciphertext ‖ tag (16)`.
 */
import { Aes256Gcm, CipherSuite, HkdfSha256 } from '@hpke/core';
import { XWing } from '@hpke/hybridkem-x-wing';
import { type Bytes, concat, fromUtf8, utf8 } from '../bytes';
import { hkdf, seal, sealingKey, SealError, unseal } from '../sealing';

export const X_WING_SUITE = 1;
const ENCAPSULATED = 1120;
const TAG = 16;
const MAX_SUBJECT = 300;

export interface PublicKey {
  suite: number;
  publicKey: Uint8Array;
}

const xWing = (): CipherSuite => new CipherSuite({ kem: new XWing(), kdf: new HkdfSha256(), aead: new Aes256Gcm() });

export interface KeyPair {
  suite: number;
  publicKey: Bytes;
  privateKey: Bytes;
}

async function spelled({ publicKey, privateKey }: CryptoKeyPair): Promise<KeyPair> {
  const { kem } = xWing();
  return {
    suite: X_WING_SUITE,
    publicKey: new Uint8Array(await kem.serializePublicKey(publicKey)),
    privateKey: new Uint8Array(await kem.serializePrivateKey(privateKey)),
  };
}

export const makeKeyPair = async (): Promise<KeyPair> => spelled(await xWing().kem.generateKeyPair());

/** The same pair for the same 32 secret octets (RFC 9180 §7.1.3). */
export const deriveKeyPair = async (seed: Bytes): Promise<KeyPair> =>
  spelled(await xWing().kem.deriveKeyPair(seed.buffer));

/**
 * Seals `plain` for whoever holds the private key; `context` is bound in. @throws SealError `malformed` on a suite or
 * key that is not known.
 */
export async function sealTo({ suite, publicKey }: PublicKey, plain: Bytes, context: string): Promise<Bytes> {
  if (suite !== X_WING_SUITE) throw new SealError('malformed');
  const hpke = xWing();
  const recipientPublicKey = await hpke.kem.deserializePublicKey(new Uint8Array(publicKey)).catch(() => {
    throw new SealError('malformed');
  });
  const sender = await hpke.createSenderContext({ recipientPublicKey, info: utf8(context) });
  return concat(Uint8Array.of(suite), new Uint8Array(sender.enc), new Uint8Array(await sender.seal(plain)));
}

/** Opens what {@link sealTo} made. @throws SealError */
export async function openFrom(privateKey: Bytes, sealed: Uint8Array, context: string): Promise<Bytes> {
  if (sealed[0] !== X_WING_SUITE || sealed.length < 1 + ENCAPSULATED + TAG) throw new SealError('malformed');
  const hpke = xWing();
  try {
    const recipient = await hpke.createRecipientContext({
      recipientKey: await hpke.kem.deserializePrivateKey(privateKey),
      enc: sealed.slice(1, 1 + ENCAPSULATED),
      info: utf8(context),
    });
    return new Uint8Array(await recipient.open(sealed.slice(1 + ENCAPSULATED)));
  } catch {
    throw new SealError('not-opened');
  }
}

/** What a list may show of a message before it is opened, sealed under a key from the reader's share. */
export interface MessageSummary {
  subject: string;
}

const summaryKey = async (readerShare: Bytes): Promise<CryptoKey> =>
  sealingKey(await hkdf(readerShare, 'under-lock/account/summary/v1', 32));
export const sealSummary = async ({ subject }: MessageSummary, readerShare: Bytes, grantId: string): Promise<Bytes> =>
  seal(
    await summaryKey(readerShare),
    utf8(JSON.stringify({ subject: subject.slice(0, MAX_SUBJECT) })),
    shareContext(grantId),
  );
/** @throws SealError */
export async function openSummary(sealed: Uint8Array, readerShare: Bytes, grantId: string): Promise<MessageSummary> {
  const plain = await unseal(await summaryKey(readerShare), sealed, shareContext(grantId));
  const { subject } = JSON.parse(fromUtf8(plain)) as Partial<MessageSummary>;
  if (typeof subject !== 'string') throw new SealError('malformed');
  return { subject: subject.slice(0, MAX_SUBJECT) };
}

/** What binds a reader's share to the access it belongs to. */
export const shareContext = (grantId: string): string => `under-lock/account/share/v1/${grantId}`;
