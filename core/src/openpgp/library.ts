/** openpgp.js under our limits, and what its types leave out. Nothing outside this folder imports the library. */
import {
  type Config,
  config as defaults,
  createMessage,
  enums,
  type KeyID,
  type PublicKey,
  type PrivateKey,
  type SecretKeyPacket,
  type SignaturePacket,
} from 'openpgp';
import { OpenPgpError, type OpenPgpErrorCode } from './errors';

/** What a message may unfold to: more than mail of any office holds, and little enough to stop a bomb. */
export const MAX_MESSAGE_BYTES = 160 * 1024 * 1024;

/**
 * What makes our messages readable widely: packets of RFC 4880 unless every reader says they read newer ones, no
 * compression, AES-256, SHA-512.
 */
export const CONFIG: Config = {
  ...defaults,
  maxDecompressedMessageSize: MAX_MESSAGE_BYTES,
  maxUserIDLength: 2048,
  // 2 GiB, the first choice of RFC 9106 §4; only the worker's own key files ask for it, never a message.
  maxArgon2MemoryExponent: 21,
  showVersion: false,
  showComment: false,
};

/** The newest kind (RFC 9580 §4.3): version 6, and authenticated encryption that programs before 2024 don't read. */
export const NEWEST: Config = { ...CONFIG, v6Keys: true, aeadProtect: true };

/** Signs again after a change to what is signed; the library does it and its types don't say so. */
export type Resignable = SignaturePacket & {
  sign(key: SecretKeyPacket, data: object, date: Date, detached: boolean, config: Config): Promise<void>;
};

/** The one text of a message (RFC 9580 §5.9), as signatures are held against it. */
export type Literal = object;
export const verifies = (
  signature: SignaturePacket,
  key: Parameters<SignaturePacket['verify']>[0],
  literal: Literal,
  detached: boolean,
): Promise<void> => signature.verify(key, signature.signatureType!, literal, null as unknown as Date, detached, CONFIG);

export const literalOf = async (content: { text: string } | { binary: Uint8Array }): Promise<Literal> =>
  (await createMessage(content as { text: string })).packets.filterByTag(enums.packet.literalData)[0]!;

/** The sender hides whom it is for (§5.1.8): any key of ours may be meant. */
export const isAnybodys = (id: KeyID): boolean => (id as KeyID & { isWildcard(): boolean }).isWildcard();

/** Turns whatever the library throws at the door into ours; its messages are no codes. */
export async function guarded<T>(code: OpenPgpErrorCode, act: () => Promise<T>): Promise<T> {
  try {
    return await act();
  } catch (cause) {
    throw cause instanceof OpenPgpError ? cause : new OpenPgpError(code, { cause });
  }
}

export type { PrivateKey, PublicKey, SignaturePacket };
