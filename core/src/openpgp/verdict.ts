/**
 * What there is to say about one OpenPGP key for one use, in the words certificates have: revoked, too weak, another
 * address, expired, not for this use; and who vouches for it.
 * A closed union, the gravest first; sentences are made where they are shown.
 */
import { enums } from 'openpgp';
import { type Finding } from '../certificate/verdict';
import { addressesOfKey, type KeyPart, type KeyUse, type OpenPgpKey, partFor, usableUntil, userAt } from './key';
import { CONFIG } from './library';

export type OpenPgpFinding =
  | Extract<
      Finding,
      {
        code:
          | 'revoked'
          | 'revoked-since'
          | 'too-weak'
          | 'not-for-use'
          | 'address-differs'
          | 'expired'
          | 'expired-since'
          | 'not-yet-valid';
      }
    >
  /** Nobody the office trusts vouches for it, and nobody has compared it. */
  | { code: 'not-vouched-for' }
  /** It holds no word of its holder's own: anybody could have put it together. */
  | { code: 'not-self-signed' };

const GRAVITY: readonly OpenPgpFinding['code'][] = [
  'revoked',
  'not-self-signed',
  'too-weak',
  'not-for-use',
  'address-differs',
  'expired',
  'not-yet-valid',
  'not-vouched-for',
  'revoked-since',
  'expired-since',
];
const NOTES: readonly OpenPgpFinding['code'][] = ['not-vouched-for', 'revoked-since', 'expired-since'];

export interface OpenPgpVerdict {
  level: 'valid' | 'unchecked' | 'stop';
  findings: readonly OpenPgpFinding[];
  /** Keys the office trusts that vouch for it at this address. */
  vouchedBy: readonly OpenPgpKey[];
  validUntil: Date | undefined;
}

export interface KeyQuestion {
  key: OpenPgpKey;
  use: KeyUse;
  /** Who it is to be; left out where nobody in particular is meant. */
  address?: string;
  now: Date;
  /** When what it vouches for was signed, when that is not now. */
  at?: Date;
  /** The fingerprint of the part that signed, where that is known. */
  part?: string;
  /** The fingerprint was compared with its holder. */
  compared: boolean;
  /** Keys whose word the office takes. */
  trusted: readonly OpenPgpKey[];
}

const usable = ({ revocation, expiresAt }: OpenPgpKey, now: Date): boolean =>
  revocation === undefined && (expiresAt === undefined || now < expiresAt);

/**
 * Which trusted keys certified the user id with this address; all user ids where no address is asked about. Taken-back
 * certifications don't count.
 */
async function vouching({ key, address, now, trusted }: KeyQuestion): Promise<OpenPgpKey[]> {
  const users = key.material.users.filter(
    ({ userID }) => userID !== null && (address === undefined || userAt(key, address)?.address === userID.email),
  );
  const found = await Promise.all(
    trusted
      .filter((one) => usable(one, now) && one.fingerprint !== key.fingerprint)
      .map(async (one) => {
        for (const user of users) {
          for (const certification of user.otherCertifications) {
            if (!certification.issuerKeyID.equals(one.material.getKeyID())) continue;
            const signed = { userID: user.userID, key: key.material.keyPacket };
            const holds = await certification
              .verify(
                one.material.keyPacket,
                certification.signatureType ?? enums.signature.certGeneric,
                signed,
                now,
                false,
                CONFIG,
              )
              .then(
                () => true,
                () => false,
              );
            const taken =
              holds && (await user.isRevoked(certification, one.material.keyPacket, now, CONFIG).catch(() => true));
            if (holds && !taken) return [one];
          }
        }
        return [];
      }),
  );
  return found.flat();
}

/**
 * A key got into other hands, or nobody says why: what it signed may have been signed by anybody, whenever it says that
 * was.
 */
const HARD = ['keyCompromise', 'unspecified'] as const;

function ends({ revocation, expiresAt, createdAt }: OpenPgpKey, at: Date, now: Date): OpenPgpFinding[] {
  const found: OpenPgpFinding[] = [];
  if (revocation !== undefined) {
    const since = revocation.at > at && !HARD.some((one) => one === revocation.reason);
    found.push(since ? { code: 'revoked-since', ...revocation } : { code: 'revoked', ...revocation, authority: false });
  }
  if (at < createdAt) found.push({ code: 'not-yet-valid', at: createdAt });
  if (expiresAt !== undefined && at >= expiresAt) found.push({ code: 'expired', at: expiresAt });
  else if (expiresAt !== undefined && now >= expiresAt) found.push({ code: 'expired-since', at: expiresAt });
  return found;
}

/**
 * Of the part that serves, and of the primary one, which vouches for it; what other parts are like makes neither
 * weaker.
 */
function strength(
  { users, parts }: OpenPgpKey,
  serving: KeyPart | undefined,
  address: string | undefined,
): OpenPgpFinding[] {
  const concerned = [...new Set([parts[0]!, ...(serving === undefined ? [] : [serving])])];
  const weak = concerned.find((part) => part.weak);
  if (weak !== undefined) return [{ code: 'too-weak', what: 'key', detail: weak.algorithm }];
  const saying = address === undefined ? users : users.filter((one) => one === userAt({ users }, address));
  const forgeable =
    concerned.some((part) => part.weakHash) || (saying.length > 0 && saying.every(({ weakHash }) => weakHash));
  return forgeable ? [{ code: 'too-weak', what: 'hash', detail: 'SHA-1' }] : [];
}

export async function judgeKey(question: KeyQuestion): Promise<OpenPgpVerdict> {
  const { key, use, address, now, compared } = question;
  const at = question.at !== undefined && question.at < now ? question.at : now;
  const findings = ends(key, at, now);
  if (key.users.length === 0) findings.push({ code: 'not-self-signed' });
  const serving =
    question.part === undefined
      ? partFor(key, use, at)
      : key.parts.find(({ fingerprint }) => fingerprint === question.part);
  findings.push(...strength(key, serving, address));
  // With its own end said, nothing more is to be said of the parts that end with it.
  if (!findings.some(({ code }) => code === 'expired' || code === 'not-yet-valid') && serving === undefined) {
    const last = key.parts.filter((part) => part[use] && part.expiresAt !== undefined && part.expiresAt <= at).at(-1);
    findings.push(last === undefined ? { code: 'not-for-use', use } : { code: 'expired', at: last.expiresAt! });
  }
  if (address !== undefined && userAt(key, address) === undefined)
    findings.push({ code: 'address-differs', address, issuedFor: addressesOfKey(key) });
  const vouchedBy = await vouching(question);
  if (vouchedBy.length === 0 && !compared) findings.push({ code: 'not-vouched-for' });
  findings.sort((a, b) => GRAVITY.indexOf(a.code) - GRAVITY.indexOf(b.code));
  const stopped = findings.some(({ code }) => !NOTES.includes(code));
  return {
    level: stopped ? 'stop' : findings.some(({ code }) => code === 'not-vouched-for') ? 'unchecked' : 'valid',
    findings,
    vouchedBy,
    validUntil: usableUntil(key, use, now),
  };
}
