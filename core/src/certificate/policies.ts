/**
 * The certificate policies along a path (RFC 5280 §6.1.2 to §6.1.5, as RFC 9618 corrects them: one node a policy and
 * level, so that mappings can't multiply).
 * The worker is asked about no policies, so the user's initial set is any-policy, and only the current level is
 * needed to know whether one is left.
 */
import { type Certificate, isSelfIssued } from './certificate';
import { ANY_POLICY } from './extensions';

export class Policies {
  /** Each policy still valid at this level, with those of the next level that continue it; undefined once none is. */
  private level: Map<string, Set<string>> | undefined = new Map([[ANY_POLICY, new Set([ANY_POLICY])]]);
  private explicit: number;
  private mapping: number;
  private any: number;

  /** @param length Number of certificates below the anchor. */
  constructor(length: number) {
    [this.explicit, this.mapping, this.any] = [length + 1, length + 1, length + 1];
  }

  /** §6.1.3 d to f. @returns false when a policy is required and none is left. */
  enter(certificate: Certificate, last: boolean): boolean {
    this.level =
      certificate.policies === undefined || this.level === undefined
        ? undefined
        : this.next(certificate, this.level, certificate.policies, last);
    if (this.level?.size === 0) this.level = undefined;
    return this.explicit > 0 || this.level !== undefined;
  }

  private next(
    certificate: Certificate,
    before: ReadonlyMap<string, ReadonlySet<string>>,
    policies: readonly string[],
    last: boolean,
  ): Map<string, Set<string>> {
    const now = new Map<string, Set<string>>();
    const continued = new Set([...before.values()].flatMap((expected) => [...expected]));
    for (const policy of policies) {
      if (policy !== ANY_POLICY && (continued.has(policy) || before.has(ANY_POLICY)))
        now.set(policy, new Set([policy]));
    }
    if (policies.includes(ANY_POLICY) && (this.any > 0 || (!last && isSelfIssued(certificate)))) {
      for (const policy of continued) if (!now.has(policy)) now.set(policy, new Set([policy]));
    }
    return now;
  }

  /** §6.1.4 a, b and h to j. @returns false on a mapping from or to any-policy, which must not be. */
  leave(certificate: Certificate): boolean {
    const { policyMappings, policyConstraints, inhibitAnyPolicy } = certificate;
    if (policyMappings.some(({ issuer, subject }) => issuer === ANY_POLICY || subject === ANY_POLICY)) return false;
    this.map(policyMappings);
    if (!isSelfIssued(certificate))
      [this.explicit, this.mapping, this.any] = [
        Math.max(0, this.explicit - 1),
        Math.max(0, this.mapping - 1),
        Math.max(0, this.any - 1),
      ];
    this.explicit = Math.min(this.explicit, policyConstraints?.requireExplicit ?? Infinity);
    this.mapping = Math.min(this.mapping, policyConstraints?.inhibitMapping ?? Infinity);
    this.any = Math.min(this.any, inhibitAnyPolicy ?? Infinity);
    return true;
  }

  private map(mappings: Certificate['policyMappings']): void {
    const { level } = this;
    if (level === undefined) return;
    for (const issuer of new Set(mappings.map((one) => one.issuer))) {
      if (this.mapping === 0) level.delete(issuer);
      else if (level.has(issuer) || level.has(ANY_POLICY))
        level.set(issuer, new Set(mappings.flatMap((one) => (one.issuer === issuer ? [one.subject] : []))));
    }
    if (level.size === 0) this.level = undefined;
  }

  /** §6.1.5 a, b and g. */
  end({ policyConstraints }: Certificate): boolean {
    const explicit = policyConstraints?.requireExplicit === 0 ? 0 : Math.max(0, this.explicit - 1);
    return explicit > 0 || this.level !== undefined;
  }
}
