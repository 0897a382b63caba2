/** The best path a certificate has: valid and in force if there is one, else the one that fails least. */
import { pathsTo, type Path } from './build-path';
import { type Certificate } from './certificate';
import { type Evidence } from './evidence';
import { type PathProblem, validatePath } from './path';
import { pathRevocation, type Revocation } from './revocation';

export interface JudgedPath {
  /** Undefined when nothing leads to an anchor. */
  path: Path | undefined;
  problems: readonly PathProblem[];
  /** Of each certificate in the path; asked only when the path is valid. */
  revocation: readonly Revocation[];
}

export const holds = ({ path, problems, revocation }: JudgedPath): boolean =>
  path !== undefined && problems.length === 0 && revocation.every(({ kind }) => kind === 'good');

const rank = ({ path, problems, revocation }: JudgedPath): number =>
  path === undefined
    ? 1000
    : problems.length > 0
      ? 100 + problems.length
      : revocation.some(({ kind }) => kind === 'revoked')
        ? 10
        : revocation.some(({ kind }) => kind === 'unknown')
          ? 1
          : 0;

/**
 * @param at When the certificate is to be valid: now, or when something was signed with it.
 * @param now When revocation is asked: lists and answers are about the present.
 */
export async function judgePaths(
  certificate: Certificate,
  evidence: Evidence,
  at: Date,
  now: Date = at,
): Promise<JudgedPath> {
  let best: JudgedPath = { path: undefined, problems: [], revocation: [] };
  for (const path of pathsTo(certificate, evidence)) {
    const problems = await validatePath(path.certificates, path.anchor, at, evidence.signatures);
    const revocation =
      problems.length > 0
        ? []
        : await pathRevocation(path.certificates, { evidence, anchor: path.anchor, at: now, pending: [] });
    const judged = { path, problems, revocation };
    if (rank(judged) < rank(best)) best = judged;
    if (rank(best) === 0) break;
  }
  return best;
}
