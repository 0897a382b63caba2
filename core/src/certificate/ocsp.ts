/** Asks and reads the Online Certificate Status Protocol (RFC 6960; RFC 5019's plain form). */
import { sha1 } from '@noble/hashes/legacy.js';
import { Fields, fieldsOf, timeOf } from '../asn1/fields';
import { bitsOf, type Element, integerOf, oidOf, readElement } from '../asn1/read';
import { integer, nullValue, octetString, oid, sequence } from '../asn1/write';
import { type Bytes, toHex } from '../bytes';
import { type Algorithm, algorithmOf } from './algorithm';
import { type Certificate, certificateOf } from './certificate';
import { CertificateError, reading } from './errors';
import { REASON_CODES, type RevocationReason } from './extensions';
import { type Name, nameOf } from './name';
import { HASH } from './signature';

const BASIC = '1.3.6.1.5.5.7.48.1.1';

/** The identifier of §4.1.1, by SHA-1 as everybody's responders index it: it hides nothing and proves nothing. */
const idOf = ({ issuer, serial }: Pick<Certificate, 'issuer' | 'serial'>, issuerKeyBits: Uint8Array): Bytes =>
  sequence(
    sequence(oid(HASH['SHA-1']), nullValue()),
    octetString(sha1(issuer.bytes)),
    octetString(sha1(issuerKeyBits)),
    integer(serial),
  );

/**
 * An OCSPRequest about one certificate, without a nonce, so that the answer can be kept for others (RFC 5019 §2.1.1).
 */
export const ocspRequest = (certificate: Certificate, issuer: Certificate): Bytes =>
  sequence(sequence(sequence(sequence(idOf(certificate, issuer.publicKey.keyBits)))));

export type OcspStatus =
  { kind: 'good' } | { kind: 'revoked'; at: Date; reason: RevocationReason } | { kind: 'unknown' };

export interface OcspEntry {
  /** Hash algorithm, and the hashes of the issuer's name and key by it, in hex. */
  hash: string;
  issuerName: string;
  issuerKey: string;
  serial: bigint;
  status: OcspStatus;
  thisUpdate: Date;
  nextUpdate: Date | undefined;
}

export interface OcspAnswer {
  bytes: Uint8Array;
  signed: Uint8Array;
  algorithm: Algorithm;
  signature: Uint8Array;
  responder: { kind: 'name'; name: Name } | { kind: 'key'; hash: string };
  producedAt: Date;
  entries: readonly OcspEntry[];
  certificates: readonly Certificate[];
}

export const MAX_ANSWER_BYTES = 256 * 1024;

function statusOf(element: Element): OcspStatus {
  if (element.class !== 'context' || element.tag > 1) return { kind: 'unknown' };
  if (element.tag === 0) return { kind: 'good' };
  const fields = new Fields(element.children);
  const at = timeOf(fields.any());
  const reason = fields.explicit(0);
  return {
    kind: 'revoked',
    at,
    reason: reason === undefined ? 'unspecified' : (REASON_CODES[Number(integerOf(reason, 4))] ?? 'unspecified'),
  };
}

function entryOf(element: Element): OcspEntry {
  const fields = fieldsOf(element);
  const id = fieldsOf(fields.any());
  const hash = algorithmOf(id.any()).oid;
  const [issuerName, issuerKey] = [toHex(id.next('octetString').content), toHex(id.next('octetString').content)];
  const serial = integerOf(id.next('integer'), 64);
  const status = statusOf(fields.any());
  const thisUpdate = timeOf(fields.next('generalizedTime'));
  const next = fields.explicit(0);
  return {
    hash,
    issuerName,
    issuerKey,
    serial,
    status,
    thisUpdate,
    nextUpdate: next === undefined ? undefined : timeOf(next),
  };
}

const MAX_ENTRIES = 100;

/** @throws CertificateError `malformed`; `unsupported` when the responder says it can't answer. */
export const readOcspAnswer = (bytes: Uint8Array): OcspAnswer =>
  reading('OCSP answer', () => {
    const outer = fieldsOf(readElement(bytes, { maxBytes: MAX_ANSWER_BYTES, maxElements: 10_000 }));
    if (integerOf(outer.next('enumerated'), 1) !== 0n) throw new CertificateError('unsupported', 'OCSP answer');
    const carried = fieldsOf(outer.explicit(0));
    if (oidOf(carried.next('oid')) !== BASIC) throw new CertificateError('unsupported', 'OCSP answer');
    const basic = fieldsOf(readElement(carried.next('octetString').content));
    const body = basic.next('sequence');
    const algorithm = algorithmOf(basic.any());
    const { bytes: signature } = bitsOf(basic.next('bitString'));
    const certificates = (basic.explicit(0)?.children ?? []).slice(0, 10).map(certificateOf);
    const fields = new Fields(body.children);
    fields.explicit(0);
    const byName = fields.explicit(1);
    const byKey = byName === undefined ? fields.explicit(2) : undefined;
    if (byName === undefined && byKey === undefined) throw new CertificateError('malformed', 'OCSP answer');
    const producedAt = timeOf(fields.next('generalizedTime'));
    const entries = fields.next('sequence').children.slice(0, MAX_ENTRIES).map(entryOf);
    return {
      bytes,
      signed: body.bytes,
      algorithm,
      signature,
      producedAt,
      entries,
      certificates,
      responder:
        byName === undefined ? { kind: 'key', hash: toHex(byKey!.content) } : { kind: 'name', name: nameOf(byName) },
    };
  });
