/**
 * What runs out when, and whom it affects: own certificates and OpenPGP keys, people's, and the authorities above them.
 * Pure, from what has been judged.
 */
import { type VerdictView } from './certificate-view';

export interface Judged {
  /** Whose it is, as it is said. */
  who: string;
  kind: 'own' | 'person';
  verdict: VerdictView;
}

/** An OpenPGP key with an end. */
export interface EndingKey {
  who: string;
  kind: 'own' | 'person';
  at: Date;
  name: string;
  fingerprint: string;
}

export interface RunsOut {
  kind: 'own' | 'person' | 'authority';
  what: 'certificate' | 'key';
  at: Date;
  /** The certificate's own name. */
  name: string;
  fingerprint: string;
  /** Who can't be reached or signed for any more when it does. */
  affects: readonly string[];
  own: boolean;
}

const DAY = 86_400_000;
export const HORIZON_DAYS = 120;

/** Ahead of `now` within the horizon, the soonest first; what has run out already is said on its own line, not here. */
export function forecast(judged: readonly Judged[], keys: readonly EndingKey[], now: Date): RunsOut[] {
  const found = new Map<string, RunsOut>();
  for (const { who, kind, verdict } of judged) {
    for (const [index, { fingerprint, name, notAfter }] of verdict.path.entries()) {
      const last = index === verdict.path.length - 1;
      const before = found.get(fingerprint);
      found.set(fingerprint, {
        kind: last ? kind : 'authority',
        what: 'certificate',
        at: notAfter,
        name,
        fingerprint,
        affects: [...(before?.affects ?? []), who],
        own: (before?.own ?? false) || kind === 'own',
      });
    }
  }
  const until = new Date(now.getTime() + HORIZON_DAYS * DAY);
  const ending = keys.map(({ who, kind, at, name, fingerprint }): RunsOut => ({
    kind,
    what: 'key',
    at,
    name,
    fingerprint,
    affects: [who],
    own: kind === 'own',
  }));
  return [...found.values(), ...ending]
    .filter(({ at }) => at > now && at <= until)
    .sort((a, b) => a.at.getTime() - b.at.getTime());
}
