/**
 * Whether a certificate in a validated path has been revoked: by lists (RFC 5280 §6.3, deltas and distribution points
 * included) and by OCSP answers (RFC 6960 §3.2, §4.2.2.2).
 */
import { sha1 } from '@noble/hashes/legacy.js';
import { sha256 } from '@noble/hashes/sha2.js';
import { toHex } from '../bytes';
import { type DsaParameters } from './algorithm';
import { likeliestFirst, pathsTo } from './build-path';
import { type Certificate } from './certificate';
import { type Evidence } from './evidence';
import {
  ALL_REASONS,
  type DistributionPoint,
  type PointName,
  PURPOSE,
  type ReasonFlag,
  type RevocationReason,
} from './extensions';
import { type GeneralName, type Name, nameUnder } from './name';
import { type OcspAnswer, type OcspEntry } from './ocsp';
import { parametersOf, validatePath } from './path';
import { type RevocationList, type RevokedEntry } from './revocation-list';
import { HASH } from './signature';

export type Revocation =
  | { kind: 'good'; /** The evidence holds until then. */ until: Date | undefined }
  | { kind: 'revoked'; at: Date; reason: RevocationReason }
  | { kind: 'unknown' };

interface Asking {
  evidence: Evidence;
  anchor: Certificate;
  at: Date;
  /**
   * Certificates whose revocation is being asked further up, so that a list's signer vouched for by its own list ends
   * the question.
   */
  pending: readonly Certificate[];
}

/** Who issued what is asked about, with the DSA parameters that hold for its key. */
interface Issuer {
  certificate: Certificate;
  parameters: DsaParameters | undefined;
}

/** A CRL signer's certificate is asked about in turn, its signer's too, no deeper. */
const MAX_DEPTH = 4;

const sameName = (a: GeneralName, b: GeneralName): boolean =>
  a.kind === 'directory' && b.kind === 'directory'
    ? a.name.key === b.name.key
    : a.kind === b.kind &&
      'value' in a &&
      'value' in b &&
      (a.kind === 'uri' ? a.value === b.value : a.value.toLowerCase() === b.value.toLowerCase());

const namesOfPoint = (point: PointName, issuer: Name): readonly GeneralName[] =>
  point.kind === 'full' ? point.names : [{ kind: 'directory', name: nameUnder(issuer, point.set.children) }];

/** §6.3.3 b: the list covers this certificate at this distribution point. */
function covers(list: RevocationList, certificate: Certificate, point: DistributionPoint): boolean {
  const signers = point.issuer.flatMap((one) => (one.kind === 'directory' ? [one.name] : []));
  if (
    signers.length > 0
      ? !signers.some(({ key }) => key === list.issuer.key) || list.point?.indirect !== true
      : list.issuer.key !== certificate.issuer.key
  )
    return false;
  const scope = list.point;
  if (scope === undefined) return true;
  if (scope.name !== undefined) {
    const wanted = point.name === undefined ? point.issuer : namesOfPoint(point.name, signers[0] ?? certificate.issuer);
    const listed = namesOfPoint(scope.name, list.issuer);
    if (wanted.length > 0 && !wanted.some((one) => listed.some((other) => sameName(one, other)))) return false;
    if (wanted.length === 0) return false;
  }
  const ca = certificate.basicConstraints?.ca === true;
  return !(scope.onlyUser && ca) && !(scope.onlyCa && !ca) && !scope.onlyAttribute;
}

const reasonsOf = (list: RevocationList, point: DistributionPoint): Set<ReasonFlag> =>
  new Set(
    [...ALL_REASONS].filter(
      (reason) => (list.point?.onlySomeReasons?.has(reason) ?? true) && (point.reasons?.has(reason) ?? true),
    ),
  );

/** Clocks differ, and a list is often made while one asks for it: a little ahead of ours is not from the future. */
const SKEW_MS = 5 * 60_000;
const isCurrent = ({ thisUpdate, nextUpdate }: { thisUpdate: Date; nextUpdate: Date | undefined }, at: Date): boolean =>
  thisUpdate.getTime() <= at.getTime() + SKEW_MS && (nextUpdate === undefined || at <= nextUpdate);

/** The one that signed the list, when it may and leads to the same anchor (§6.3.3 f, g). */
async function signedByRightful(
  list: RevocationList,
  { certificate: issuer, parameters }: Issuer,
  asking: Asking,
): Promise<boolean> {
  const { evidence, anchor, at } = asking;
  const named = [
    ...(issuer.subject.key === list.issuer.key ? [issuer] : []),
    ...(evidence.certificates.get(list.issuer.key) ?? []),
    ...(anchor.subject.key === list.issuer.key ? [anchor] : []),
  ];
  for (const signer of likeliestFirst(list, named).slice(0, 20)) {
    if (signer.keyUsage !== undefined && !signer.keyUsage.has('cRLSign')) continue;
    if (
      (await evidence.signatures.check(
        list,
        signer,
        signer === issuer ? parameters : parametersOf(signer, parameters),
      )) !== 'valid'
    )
      continue;
    // The issuer in the path has been judged with the path.
    if (signer === issuer || signer === anchor || asking.pending.includes(signer)) return true;
    if (asking.pending.length >= MAX_DEPTH) continue;
    for (const path of pathsTo(signer, evidence)) {
      if (path.anchor !== anchor || (await validatePath(path.certificates, anchor, at, evidence.signatures)).length > 0)
        continue;
      const states = await pathRevocation(path.certificates, { ...asking, pending: [...asking.pending, signer] });
      if (states.every(({ kind }) => kind === 'good')) return true;
    }
  }
  return false;
}

/** The delta lists that complete this one (§6.3.3 c). */
const deltasFor = (list: RevocationList, candidates: readonly RevocationList[], at: Date): RevocationList[] =>
  candidates.filter(
    (one) =>
      one.deltaTo !== undefined &&
      list.number !== undefined &&
      one.deltaTo <= list.number &&
      (one.number ?? 0n) >= list.number &&
      one.scope === list.scope &&
      isCurrent(one, at),
  );

async function atPoint(
  certificate: Certificate,
  issuer: Issuer,
  point: DistributionPoint,
  asking: Asking,
): Promise<{ found: RevokedEntry | undefined; reasons: Set<ReasonFlag>; until: Date | undefined }> {
  const { evidence, at } = asking;
  const signers = point.issuer.flatMap((one) => (one.kind === 'directory' ? [one.name.key] : []));
  const candidates = (signers.length > 0 ? signers : [certificate.issuer.key]).flatMap(
    (key) => evidence.lists.get(key) ?? [],
  );
  const reasons = new Set<ReasonFlag>();
  let until: Date | undefined;
  for (const list of candidates) {
    if (list.deltaTo !== undefined || !covers(list, certificate, point)) continue;
    const interim = reasonsOf(list, point);
    if (
      [...interim].every((reason) => reasons.has(reason)) ||
      !isCurrent(list, at) ||
      !(await signedByRightful(list, issuer, asking))
    )
      continue;
    const entry = list.find(certificate.serial, certificate.issuer);
    if (list.unknownCritical) {
      // §5.2: such a list can't vouch for anybody, and still condemns.
      if (entry !== undefined) return { found: entry, reasons: interim, until };
      continue;
    }
    let latest = entry;
    for (const delta of deltasFor(list, candidates, at)) {
      if (delta.unknownCritical || !(await signedByRightful(delta, issuer, asking))) continue;
      latest = delta.find(certificate.serial, certificate.issuer) ?? latest;
    }
    if (latest !== undefined && latest.reason !== 'removeFromCRL') return { found: latest, reasons: interim, until };
    for (const reason of interim) reasons.add(reason);
    if (list.nextUpdate !== undefined && (until === undefined || list.nextUpdate < until)) until = list.nextUpdate;
  }
  return { found: undefined, reasons, until };
}

const IMPLIED: DistributionPoint = { name: undefined, reasons: undefined, issuer: [] };

/** §6.3.3: over the certificate's distribution points, then the issuer's plain list for what they leave open. */
async function byLists(certificate: Certificate, issuer: Issuer, asking: Asking): Promise<Revocation> {
  const covered = new Set<ReasonFlag>();
  let until: Date | undefined;
  const implied: DistributionPoint = {
    ...IMPLIED,
    name: { kind: 'full', names: [{ kind: 'directory', name: certificate.issuer }] },
  };
  for (const point of [...certificate.distributionPoints, implied]) {
    const { found, reasons, until: here } = await atPoint(certificate, issuer, point, asking);
    if (found !== undefined) return { kind: 'revoked', at: found.at, reason: found.reason };
    for (const reason of reasons) covered.add(reason);
    if (here !== undefined && (until === undefined || here < until)) until = here;
    if (covered.size === ALL_REASONS.size) return { kind: 'good', until };
  }
  return { kind: 'unknown' };
}

const hashed = (oid: string, bytes: Uint8Array): string | undefined =>
  oid === HASH['SHA-1'] ? toHex(sha1(bytes)) : oid === HASH['SHA-256'] ? toHex(sha256(bytes)) : undefined;

const isAbout = (entry: OcspEntry, certificate: Certificate, issuer: Certificate): boolean =>
  entry.serial === certificate.serial &&
  entry.issuerName === hashed(entry.hash, certificate.issuer.bytes) &&
  entry.issuerKey === hashed(entry.hash, issuer.publicKey.keyBits);

/** The issuer itself, or whoever it has certified for answering (RFC 6960 §4.2.2.2). */
async function rightfulResponder(answer: OcspAnswer, issuer: Certificate, { evidence, at }: Asking): Promise<boolean> {
  const is = (one: Certificate): boolean =>
    answer.responder.kind === 'name'
      ? one.subject.key === answer.responder.name.key
      : toHex(sha1(one.publicKey.keyBits)) === answer.responder.hash;
  for (const signer of [issuer, ...answer.certificates].filter(is)) {
    if ((await evidence.signatures.check(answer, signer)) !== 'valid') continue;
    if (signer === issuer) return true;
    if (signer.extendedKeyUsage?.includes(PURPOSE.ocspSigning) !== true || signer.issuer.key !== issuer.subject.key)
      continue;
    if ((await validatePath([signer], issuer, at, evidence.signatures)).length === 0) return true;
  }
  return false;
}

async function byAnswers(certificate: Certificate, issuer: Certificate, asking: Asking): Promise<Revocation> {
  for (const answer of asking.evidence.answers) {
    const entry = answer.entries.find((one) => isAbout(one, certificate, issuer));
    if (
      entry === undefined ||
      entry.status.kind === 'unknown' ||
      !isCurrent(entry, asking.at) ||
      !(await rightfulResponder(answer, issuer, asking))
    )
      continue;
    return entry.status.kind === 'good' ? { kind: 'good', until: entry.nextUpdate } : entry.status;
  }
  return { kind: 'unknown' };
}

/** What is known of each certificate of a path; whoever says "revoked" is believed before who says "good". */
export async function pathRevocation(path: readonly Certificate[], asking: Asking): Promise<Revocation[]> {
  const states: Revocation[] = [];
  let issuer: Issuer = { certificate: asking.anchor, parameters: parametersOf(asking.anchor, undefined) };
  for (const certificate of path) {
    const answered = await byAnswers(certificate, issuer.certificate, asking);
    const listed = answered.kind === 'revoked' ? answered : await byLists(certificate, issuer, asking);
    states.push(listed.kind === 'unknown' ? answered : listed);
    issuer = { certificate, parameters: parametersOf(certificate, issuer.parameters) };
  }
  return states;
}
