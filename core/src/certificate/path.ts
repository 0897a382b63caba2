/**
 * Validates one path from a trust anchor to a certificate (RFC 5280 §6.1). Revocation is asked elsewhere. PKITS is the
 * judge.
 */
import { type DsaParameters } from './algorithm';
import { type Certificate, isSelfIssued } from './certificate';
import { EXTENSION, type NameConstraints } from './extensions';
import { namesAllowed } from './name-constraints';
import { Policies } from './policies';
import { checkSignature, schemeOf, type SignatureCheck } from './signature';

export type PathProblemCode =
  | 'signature-wrong'
  | 'signature-unsupported'
  | 'not-yet-valid'
  | 'expired'
  | 'issuer-differs'
  | 'not-an-authority'
  | 'too-many-authorities'
  | 'may-not-issue'
  | 'name-not-allowed'
  | 'policy-missing'
  | 'unknown-critical-extension';

export interface PathProblem {
  code: PathProblemCode;
  /** Where in the path, 0 being next to the anchor. */
  at: number;
}

/** What we act on; an unknown one that is critical ends a path (§4.2). */
const UNDERSTOOD: ReadonlySet<string> = new Set([
  EXTENSION.basicConstraints,
  EXTENSION.keyUsage,
  EXTENSION.subjectAltName,
  EXTENSION.nameConstraints,
  EXTENSION.certificatePolicies,
  EXTENSION.policyMappings,
  EXTENSION.policyConstraints,
  EXTENSION.inhibitAnyPolicy,
  EXTENSION.extendedKeyUsage,
  EXTENSION.crlDistributionPoints,
  EXTENSION.authorityKeyIdentifier,
  EXTENSION.subjectKeyIdentifier,
  EXTENSION.issuerAltName,
  EXTENSION.freshestCrl,
  EXTENSION.authorityInfoAccess,
]);

/** Each signature is checked once for each key, however many paths it stands in. */
export class SignatureChecks {
  private readonly known = new Map<string, Promise<SignatureCheck>>();
  private readonly ids = new WeakMap<object, number>();
  private last = 0;

  private idOf(one: object): number {
    const id = this.ids.get(one) ?? ++this.last;
    this.ids.set(one, id);
    return id;
  }

  check(
    what: Pick<Certificate, 'algorithm' | 'signed' | 'signature'>,
    issuer: Certificate,
    inherited?: DsaParameters,
  ): Promise<SignatureCheck> {
    const key = `${this.idOf(what)} ${this.idOf(issuer)} ${inherited === undefined ? 0 : this.idOf(inherited)}`;
    const known =
      this.known.get(key) ??
      checkSignature(schemeOf(what.algorithm), issuer.publicKey, what.signed, what.signature, inherited);
    this.known.set(key, known);
    return known;
  }
}

export const parametersOf = (
  { publicKey: { key } }: Certificate,
  before: DsaParameters | undefined,
): DsaParameters | undefined => (key.kind === 'dsa' ? (key.parameters ?? before) : undefined);

/**
 * @param path From the certificate the anchor issued to the one in question; at least one.
 * @param at When it is to be valid.
 * @returns Everything found wrong, from the anchor on; none when the path is valid.
 */
export async function validatePath(
  path: readonly Certificate[],
  anchor: Certificate,
  at: Date,
  signatures: SignatureChecks,
): Promise<PathProblem[]> {
  const problems: PathProblem[] = [];
  const policies = new Policies(path.length);
  const constraints: NameConstraints[] = [];
  let issuer = anchor;
  let parameters = parametersOf(anchor, undefined);
  let authoritiesLeft = path.length;
  for (const [index, certificate] of path.entries()) {
    const last = index === path.length - 1;
    const add = (code: PathProblemCode): void => void problems.push({ code, at: index });
    const checked = await signatures.check(certificate, issuer, parameters);
    if (checked !== 'valid') add(checked === 'invalid' ? 'signature-wrong' : 'signature-unsupported');
    if (at < certificate.notBefore) add('not-yet-valid');
    if (at > certificate.notAfter) add('expired');
    if (certificate.issuer.key !== issuer.subject.key) add('issuer-differs');
    if ((last || !isSelfIssued(certificate)) && !namesAllowed(certificate, constraints)) add('name-not-allowed');
    if (!policies.enter(certificate, last)) add('policy-missing');
    if ([...certificate.extensions.values()].some(({ oid, critical }) => critical && !UNDERSTOOD.has(oid)))
      add('unknown-critical-extension');
    if (last) {
      if (!policies.end(certificate)) add('policy-missing');
      break;
    }
    if (!policies.leave(certificate)) add('policy-missing');
    if (certificate.nameConstraints !== undefined) constraints.push(certificate.nameConstraints);
    if (certificate.version !== 3 || certificate.basicConstraints?.ca !== true) add('not-an-authority');
    if (!isSelfIssued(certificate)) {
      if (authoritiesLeft === 0) add('too-many-authorities');
      authoritiesLeft = Math.max(0, authoritiesLeft - 1);
    }
    authoritiesLeft = Math.min(authoritiesLeft, certificate.basicConstraints?.pathLength ?? Infinity);
    if (certificate.keyUsage !== undefined && !certificate.keyUsage.has('keyCertSign')) add('may-not-issue');
    parameters = parametersOf(certificate, parameters);
    issuer = certificate;
  }
  return problems.filter(
    (one, index) => problems.findIndex(({ code, at: where }) => code === one.code && where === one.at) === index,
  );
}
