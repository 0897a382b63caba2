/** Certificates and what is judged of them, in words. */
import { type RevokeReason } from '@under-lock/contract/certificate';
import { type RevocationReason } from '@under-lock/core/certificate/extensions';
import { type PathProblemCode } from '@under-lock/core/certificate/path';
import { type Finding } from '@under-lock/core/certificate/verdict';
import { type OpenPgpFinding } from '@under-lock/core/openpgp/verdict';
import { dayInWords, distanceInWords } from '@under-lock/core/when';
import { zone } from '../clock';
import { type CertificateView, type VerdictView } from './certificate-view';
import { type Purpose } from '@under-lock/core/certificate/kept-key';

export const revokedBecause: Record<RevocationReason, string> = {
  unspecified: 'no reason is given',
  keyCompromise: 'its key may be in other hands',
  cACompromise: 'the authority’s key may be in other hands',
  affiliationChanged: 'its holder’s name or place has changed',
  superseded: 'a newer one has taken its place',
  cessationOfOperation: 'it is not used any more',
  certificateHold: 'it is held back for now',
  removeFromCRL: 'it was held back',
  privilegeWithdrawn: 'its holder’s permission was taken back',
  aACompromise: 'an authority’s key may be in other hands',
};

export const revokeReasonWords: Record<RevokeReason, { label: string; detail: string }> = {
  keyCompromise: {
    label: 'I lost the device, or somebody else may have the key',
    detail: 'Nobody believes its signatures any more, not even earlier ones',
  },
  superseded: { label: 'I have a newer one', detail: 'Signatures made until now stay good' },
  affiliationChanged: {
    label: 'My name or place in the office has changed',
    detail: 'Signatures made until now stay good',
  },
  cessationOfOperation: { label: 'I don’t need it any more', detail: 'Signatures made until now stay good' },
  unspecified: { label: 'Another reason', detail: 'No reason is given to anybody' },
};

const pathWords: Record<PathProblemCode, string> = {
  'signature-wrong': 'It is not signed by the authority it names: it is forged or damaged',
  'signature-unsupported': 'Its authority’s signature is of a kind that can’t be relied on',
  'not-yet-valid': 'An authority above it is not valid yet',
  expired: 'An authority above it has expired',
  'issuer-differs': 'It names another authority than the one that signed it',
  'not-an-authority': 'It was issued by somebody who is not an authority',
  'too-many-authorities': 'There are more authorities in between than the topmost one allows',
  'may-not-issue': 'It was issued with a key that may not issue certificates',
  'name-not-allowed': 'Its authority may not issue for this name or address',
  'policy-missing': 'It lacks the policy that an authority above it demands',
  'unknown-critical-extension': 'It holds a condition that must be understood and is not',
};

const withYear = (at: Date): string => dayInWords(at, new Date(0), zone);

/** What may be said of a certificate or an OpenPGP key. */
export type AnyFinding = Finding | OpenPgpFinding;

/** One finding in a sentence: what is the matter, and what to do. */
export function findingWords(finding: AnyFinding): string {
  switch (finding.code) {
    case 'revoked':
      return finding.authority
        ? `The authority that issued it was revoked on ${withYear(finding.at)}: ${revokedBecause[finding.reason]}. Don’t use it; ask for a new one.`
        : `Revoked on ${withYear(finding.at)}: ${revokedBecause[finding.reason]}. Don’t use it; ask for a new one.`;
    case 'path-broken':
      return `${pathWords[finding.problem]}. Don’t use it.`;
    case 'unknown-authority':
      return `Issued by “${finding.issuer}”, which your office does not trust. Compare the fingerprint by phone, or ask an administrator to add the authority.`;
    case 'too-weak':
      return finding.what === 'key'
        ? `Its key is too weak (${finding.detail}): it could be broken. Ask for a new one.`
        : `It rests on a hash that can be forged${finding.detail === '' ? '' : ` (${finding.detail})`}. Ask for a new one.`;
    case 'not-for-mail':
      return 'It was issued for something other than mail.';
    case 'not-for-use':
      return finding.use === 'sign' ? 'It is not made for signing.' : 'It is not made for encrypting.';
    case 'address-differs':
      return finding.issuedFor.length === 0
        ? `It names no address, so it says nothing about ${finding.address}.`
        : `It is issued for ${finding.issuedFor.join(' and ')}, not for ${finding.address}.`;
    case 'expired':
      return `Expired on ${withYear(finding.at)}. Ask for a new one.`;
    case 'not-yet-valid':
      return `Not valid before ${withYear(finding.at)}.`;
    case 'not-checked':
      return 'Nobody could be asked whether it has been revoked. Try again later, or compare by phone.';
    case 'not-vouched-for':
      return 'Nobody the office trusts vouches for it, and nobody has compared it with its holder: it may be anybody’s. Compare the fingerprint by phone.';
    case 'not-self-signed':
      return 'Its holder has confirmed nothing in it: anybody could have put it together. Don’t use it; ask them for their key.';
    case 'expired-since':
      return `It has expired since, on ${withYear(finding.at)}; it was valid then.`;
    case 'revoked-since':
      return `It has been revoked since, on ${withYear(finding.at)}: ${revokedBecause[finding.reason]}. It was valid then.`;
  }
}

export const levelWords: Record<VerdictView['level'], { tone: 'done' | 'wants' | 'stopped'; word: string }> = {
  valid: { tone: 'done', word: 'valid' },
  unchecked: { tone: 'wants', word: 'valid, not checked yet' },
  stop: { tone: 'stopped', word: 'not to be used' },
};

/** The short state of a certificate, from what weighs most. */
export function verdictWord({ level, findings }: { level: VerdictView['level']; findings: readonly AnyFinding[] }): {
  tone: 'done' | 'wants' | 'stopped';
  word: string;
} {
  const [first] = findings;
  if (level !== 'stop' || first === undefined) return levelWords[level];
  const words: Partial<Record<AnyFinding['code'], string>> = {
    revoked: 'revoked',
    expired: 'expired',
    'unknown-authority': 'unknown authority',
    'address-differs': 'another address',
    'too-weak': 'too weak',
    'not-for-mail': 'not for mail',
    'not-yet-valid': 'not valid yet',
    'not-self-signed': 'not its holder’s',
  };
  return { tone: 'stopped', word: words[first.code] ?? levelWords.stop.word };
}

export const purposeWords: Record<Purpose, string> = {
  both: 'Signing and encrypting',
  sign: 'Signing only',
  encrypt: 'Encrypting only',
};

export function usesInWords({ uses }: Pick<CertificateView, 'uses'>): string {
  return uses.sign && uses.encrypt
    ? 'for signing and encrypting'
    : uses.sign
      ? 'for signing'
      : uses.encrypt
        ? 'for encrypting'
        : 'neither for signing nor for encrypting';
}

const DAY = 86_400_000;
export function validityInWords(
  { notBefore, notAfter }: Pick<CertificateView, 'notBefore' | 'notAfter'>,
  now: Date,
): string {
  if (notAfter < now) return `expired ${withYear(notAfter)}, ${distanceInWords(notAfter, now, zone)}`;
  if (notBefore > now) return `valid from ${withYear(notBefore)}`;
  const days = (notAfter.getTime() - now.getTime()) / DAY;
  const years = Math.floor(days / 365.25);
  return `valid until ${withYear(notAfter)}, for another ${years >= 2 ? `${years} years` : days > 365 ? `${Math.round(days / 30.44)} months` : distanceInWords(notAfter, now, zone).replace(/^in /, '')}`;
}

/** In groups of four, to read out on the phone. */
export const fingerprintInGroups = (fingerprint: string): string =>
  fingerprint.toUpperCase().replace(/(.{4})(?=.)/g, '$1 ');
