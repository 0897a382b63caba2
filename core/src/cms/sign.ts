/** Makes signed data (RFC 5652 §5) with the attributes S/MIME wants (RFC 8551 §2.5, RFC 5035 §3). */
import { explicit, implicit, integer, nullValue, octetString, oid, sequence, setOf, time } from '../asn1/write';
import { type Bytes, concat, sha256 } from '../bytes';
import { KEY } from '../certificate/algorithm';
import { type Certificate } from '../certificate/certificate';
import { asPlainRsa } from '../certificate/private-key';
import { derSignature, type Hash, HASH, SIGNATURE } from '../certificate/signature';
import { contentInfo, holderId } from './content-info';
import { ATTRIBUTE, CIPHER, type CipherName, CONTENT, KEY_ENCRYPTION } from './identifiers';

export interface Signer {
  certificate: Certificate;
  /** PKCS#8. */
  privateKey: Uint8Array;
  /** Certificates up to the root, sent along so that the other side can build the path. */
  chain?: readonly Certificate[];
}

export interface SignInput {
  content: Uint8Array;
  signers: readonly Signer[];
  /** The content stands elsewhere (clear-signed) or inside. */
  detached: boolean;
  signingTime: Date;
  /** RSASSA-PSS instead of PKCS#1 v1.5 for RSA keys; not every program reads it. */
  pss?: boolean;
}

interface Means {
  hash: Hash;
  algorithm: Bytes;
  sign(bytes: Bytes): Promise<Bytes>;
}

const SALT = 32; // as long as the hash (RFC 4055 §3.1)
const pssParameters = (): Bytes => {
  const hash = sequence(oid(HASH['SHA-256']));
  return sequence(explicit(0, hash), explicit(1, sequence(oid(KEY_ENCRYPTION.mgf1), hash)), explicit(2, integer(SALT)));
};

/**
 * What a key signs with: SHA-256 for RSA and P-256, the hash as strong as the curve for larger ones. @throws RangeError
 * for keys that can't sign
 */
async function meansOf({ certificate, privateKey }: Signer, pss: boolean): Promise<Means> {
  const { subtle } = globalThis.crypto;
  const { key } = certificate.publicKey;
  const pkcs8 = (key.kind === 'rsa' && key.pss ? asPlainRsa(privateKey) : privateKey) as Bytes;
  switch (key.kind) {
    case 'rsa': {
      const usePss = pss || key.pss;
      const imported = await subtle.importKey(
        'pkcs8',
        pkcs8,
        { name: usePss ? 'RSA-PSS' : 'RSASSA-PKCS1-v1_5', hash: 'SHA-256' },
        false,
        ['sign'],
      );
      return {
        hash: 'SHA-256',
        algorithm: usePss
          ? sequence(oid(KEY.rsaPss), pssParameters())
          : sequence(oid(SIGNATURE['rsa-SHA-256']), nullValue()),
        sign: async (bytes) =>
          new Uint8Array(
            await subtle.sign(usePss ? { name: 'RSA-PSS', saltLength: SALT } : 'RSASSA-PKCS1-v1_5', imported, bytes),
          ),
      };
    }
    case 'ec': {
      const hash = key.curve === 'P-256' ? 'SHA-256' : key.curve === 'P-384' ? 'SHA-384' : 'SHA-512';
      const imported = await subtle.importKey('pkcs8', pkcs8, { name: 'ECDSA', namedCurve: key.curve }, false, [
        'sign',
      ]);
      return {
        hash,
        algorithm: sequence(oid(SIGNATURE[`ecdsa-${hash}`])),
        sign: async (bytes) =>
          derSignature(new Uint8Array(await subtle.sign({ name: 'ECDSA', hash }, imported, bytes))),
      };
    }
    case 'ed25519': {
      // RFC 8419 §3.1: with SHA-512, whatever else.
      const imported = await subtle.importKey('pkcs8', pkcs8, { name: 'Ed25519' }, false, ['sign']);
      return {
        hash: 'SHA-512',
        algorithm: sequence(oid(KEY.ed25519)),
        sign: async (bytes) => new Uint8Array(await subtle.sign('Ed25519', imported, bytes)),
      };
    }
    default:
      throw new RangeError(`No signatures are made with ${key.kind} keys`);
  }
}

/** What our side reads, the preferred first (RFC 8551 §2.5.2). */
const OUR_CIPHERS: readonly CipherName[] = ['AES-256-GCM', 'AES-128-GCM', 'AES-256-CBC', 'AES-128-CBC'];
const capabilities = (): Bytes => sequence(...OUR_CIPHERS.map((name) => sequence(oid(CIPHER[name]))));

const attribute = (type: string, value: Uint8Array): Bytes => sequence(oid(type), setOf(value));

async function signerInfo(
  signer: Signer,
  { content, signingTime, pss = false }: SignInput,
): Promise<{ info: Bytes; digest: Bytes }> {
  const { hash, algorithm, sign } = await meansOf(signer, pss);
  const { certificate } = signer;
  const digest = new Uint8Array(await globalThis.crypto.subtle.digest(hash, content as Bytes));
  const attributes = setOf(
    attribute(ATTRIBUTE.contentType, oid(CONTENT.data)),
    attribute(ATTRIBUTE.signingTime, time(signingTime)),
    attribute(ATTRIBUTE.messageDigest, octetString(digest)),
    attribute(ATTRIBUTE.capabilities, capabilities()),
    // ESSCertIDv2 with its default hash, SHA-256.
    attribute(
      ATTRIBUTE.signingCertificateV2,
      sequence(sequence(sequence(octetString(await sha256(certificate.bytes))))),
    ),
  );
  const digestAlgorithm = sequence(oid(HASH[hash]));
  // §5.4: signed as a SET OF, sent under [0].
  const sent = concat(Uint8Array.of(0xa0), attributes.subarray(1));
  return {
    digest: digestAlgorithm,
    info: sequence(
      integer(1),
      holderId(certificate),
      digestAlgorithm,
      sent,
      algorithm,
      octetString(await sign(attributes)),
    ),
  };
}

/** A whole ContentInfo in DER. @throws RangeError when there is no signer */
export async function signData(input: SignInput): Promise<Bytes> {
  const { content, signers, detached } = input;
  if (signers.length === 0) throw new RangeError('Nobody signs');
  const infos = await Promise.all(signers.map((signer) => signerInfo(signer, input)));
  const certificates = new Map(
    signers
      .flatMap(({ certificate, chain = [] }) => [certificate, ...chain])
      .map((one) => [`${one.issuer.key} ${one.serial}`, one.bytes]),
  );
  const encapsulated = detached
    ? sequence(oid(CONTENT.data))
    : sequence(oid(CONTENT.data), explicit(0, octetString(content)));
  return contentInfo(
    'signed',
    sequence(
      integer(1),
      setOf(...infos.map(({ digest }) => digest)),
      encapsulated,
      implicit(0, concat(...certificates.values()), true),
      setOf(...infos.map(({ info }) => info)),
    ),
  );
}
