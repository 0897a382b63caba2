/**
 * What there is to say about one certificate for one use: path and revocation (RFC 5280), purpose and address (RFC
 * 8550 §3, §4.4), strength of keys and hashes.
 * A closed union of findings, the gravest first; the words are made where they are shown.
 */
import { addressKey } from '../people/address';
import { addressesOf, type Certificate, isSelfIssued } from './certificate';
import { type Evidence } from './evidence';
import { PURPOSE, type RevocationReason } from './extensions';
import { judgePaths, type JudgedPath } from './judge-paths';
import { nameInWords } from './name';
import { type PathProblemCode } from './path';
import { schemeOf } from './signature';

export type Use = 'sign' | 'encrypt';

export type Finding =
  | {
      code: 'revoked';
      at: Date;
      reason: RevocationReason;
      /** It was an authority above that was revoked. */ authority: boolean;
    }
  | { code: 'path-broken'; problem: PathProblemCode }
  | { code: 'unknown-authority'; issuer: string }
  | { code: 'too-weak'; what: 'key' | 'hash'; detail: string }
  | { code: 'not-for-mail' }
  | { code: 'not-for-use'; use: Use }
  | { code: 'address-differs'; address: string; issuedFor: readonly string[] }
  | { code: 'expired'; at: Date }
  | { code: 'not-yet-valid'; at: Date }
  /** The path is right, and nobody could be asked whether it has been revoked. */
  | { code: 'not-checked' }
  /** Past since what was signed with it; no fault of the signature. */
  | { code: 'expired-since'; at: Date }
  | { code: 'revoked-since'; at: Date; reason: RevocationReason };
export type FindingCode = Finding['code'];

const GRAVITY: readonly FindingCode[] = [
  'revoked',
  'path-broken',
  'unknown-authority',
  'too-weak',
  'not-for-mail',
  'not-for-use',
  'address-differs',
  'expired',
  'not-yet-valid',
  'not-checked',
  'revoked-since',
  'expired-since',
];
const NOTES: readonly FindingCode[] = ['not-checked', 'revoked-since', 'expired-since'];

export interface Verdict {
  /** `stop`: not to be used for this. `unchecked`: right as far as could be asked. */
  level: 'valid' | 'unchecked' | 'stop';
  findings: readonly Finding[];
  /** From the anchor down, what each is called; only the certificate itself when nothing leads to an anchor. */
  path: readonly Certificate[];
  /** Until when it can be used as things stand: its own end or that of one above it. */
  validUntil: Date;
}

/**
 * BSI TR-02102-1 and NIST SP 800-57 for what is to last into the 2030s ask for 3000 bits; below 2048 nothing is
 * accepted any more (RFC 8551 §4).
 */
const LEAST_RSA_BITS = 2048;

function weakness({ publicKey: { key } }: Certificate): Finding[] {
  if (key.kind === 'rsa' && key.bits < LEAST_RSA_BITS)
    return [{ code: 'too-weak', what: 'key', detail: `RSA ${key.bits}` }];
  if (key.kind === 'dsa' || key.kind === 'unknown')
    return [{ code: 'too-weak', what: 'key', detail: key.kind === 'dsa' ? `DSA ${key.bits}` : key.oid }];
  return [];
}

/**
 * Hashes for which two documents with one signature can be made: SHA-1, and whatever we don't check at all. An anchor's
 * own signature says nothing.
 */
function weakHash(path: readonly Certificate[]): Finding[] {
  const weak = path
    .map(({ algorithm }) => schemeOf(algorithm))
    .find((scheme) => scheme !== undefined && 'hash' in scheme && scheme.hash === 'SHA-1');
  return weak === undefined ? [] : [{ code: 'too-weak', what: 'hash', detail: 'SHA-1' }];
}

const forMail = ({ extendedKeyUsage }: Certificate): boolean =>
  extendedKeyUsage === undefined ||
  extendedKeyUsage.includes(PURPOSE.emailProtection) ||
  extendedKeyUsage.includes(PURPOSE.any);

export function mayBeUsed({ keyUsage, publicKey: { key } }: Certificate, use: Use): boolean {
  if (use === 'encrypt' && key.kind !== 'rsa' && key.kind !== 'ec') return false;
  if (use === 'encrypt' && key.kind === 'rsa' && key.pss) return false;
  if (keyUsage === undefined) return true;
  return use === 'sign'
    ? keyUsage.has('digitalSignature') || keyUsage.has('nonRepudiation')
    : keyUsage.has(key.kind === 'rsa' ? 'keyEncipherment' : 'keyAgreement');
}

export const isIssuedFor = (certificate: Certificate, address: string): boolean =>
  addressesOf(certificate).some((one) => addressKey(one) === addressKey(address));

/** A signature's time is the signer's own word: after a key got into other hands it is worth nothing. */
const COMPROMISED: readonly RevocationReason[] = ['keyCompromise', 'cACompromise', 'aACompromise'];

function fromPath(
  certificate: Certificate,
  { path, problems, revocation }: JudgedPath,
  at: Date,
  now: Date,
): Finding[] {
  if (path === undefined)
    return [{ code: 'unknown-authority', issuer: nameInWords(certificate.issuer) }, ...validity(certificate, at, now)];
  const last = path.certificates.length - 1;
  // Its own dates are said in words of their own.
  const findings: Finding[] = problems
    .filter((one) => !(one.at === last && (one.code === 'expired' || one.code === 'not-yet-valid')))
    .map(({ code }) =>
      code === 'signature-unsupported'
        ? { code: 'too-weak', what: 'hash', detail: '' }
        : { code: 'path-broken', problem: code },
    );
  for (const [index, state] of revocation.entries()) {
    if (state.kind !== 'revoked') continue;
    const since = index === last && state.at > at && !COMPROMISED.includes(state.reason);
    findings.push(
      since
        ? { code: 'revoked-since', at: state.at, reason: state.reason }
        : { code: 'revoked', at: state.at, reason: state.reason, authority: index !== last },
    );
  }
  if (problems.length === 0 && revocation.some(({ kind }) => kind === 'unknown'))
    findings.push({ code: 'not-checked' });
  return [...findings, ...weakHash(path.certificates), ...validity(certificate, at, now)];
}

function validity({ notBefore, notAfter }: Certificate, at: Date, now: Date): Finding[] {
  if (at > notAfter) return [{ code: 'expired', at: notAfter }];
  if (at < notBefore) return [{ code: 'not-yet-valid', at: notBefore }];
  return now > notAfter ? [{ code: 'expired-since', at: notAfter }] : [];
}

export interface Question {
  certificate: Certificate;
  use: Use;
  /** Who it is to be; left out where nobody in particular is meant. */
  address?: string;
  /** When what it vouches for was signed, when that is not now. */
  at?: Date;
  now: Date;
  evidence: Evidence;
}

export async function judge({ certificate, use, address, at: signedAt, now, evidence }: Question): Promise<Verdict> {
  const at = signedAt !== undefined && signedAt < now ? signedAt : now;
  const judged = await judgePaths(certificate, evidence, at, now);
  const path = judged.path === undefined ? [certificate] : [judged.path.anchor, ...judged.path.certificates];
  const findings = [...fromPath(certificate, judged, at, now), ...weakness(certificate)];
  if (!forMail(certificate) || path.slice(1).some((one) => !forMail(one))) findings.push({ code: 'not-for-mail' });
  if (!mayBeUsed(certificate, use)) findings.push({ code: 'not-for-use', use });
  if (address !== undefined && !isIssuedFor(certificate, address))
    findings.push({ code: 'address-differs', address, issuedFor: addressesOf(certificate) });
  findings.sort((a, b) => GRAVITY.indexOf(a.code) - GRAVITY.indexOf(b.code));
  const stopped = findings.some(({ code }) => !NOTES.includes(code));
  return {
    level: stopped ? 'stop' : findings.some(({ code }) => code === 'not-checked') ? 'unchecked' : 'valid',
    findings,
    path,
    validUntil: new Date(
      Math.min(
        ...path.filter((one) => !isSelfIssued(one) || path.length === 1).map(({ notAfter }) => notAfter.getTime()),
      ),
    ),
  };
}
