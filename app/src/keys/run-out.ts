/** What runs out when, and whom it affects: own certificates, people's, and the authorities above them. Pure, from what has been judged. */
import { type VerdictView } from './certificate-view';

export interface Judged {
  /** Whose it is, as it is said. */
  who: string;
  kind: 'own' | 'person';
  verdict: VerdictView;
}

export interface RunsOut {
  kind: 'own' | 'person' | 'authority';
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
export function forecast(judged: readonly Judged[], now: Date): RunsOut[] {
  const found = new Map<string, RunsOut>();
  for (const { who, kind, verdict } of judged) {
    for (const [index, { fingerprint, name, notAfter }] of verdict.path.entries()) {
      const last = index === verdict.path.length - 1;
      const before = found.get(fingerprint);
      found.set(fingerprint, { kind: last ? kind : 'authority', at: notAfter, name, fingerprint, affects: [...(before?.affects ?? []), who], own: (before?.own ?? false) || kind === 'own' });
    }
  }
  const until = new Date(now.getTime() + HORIZON_DAYS * DAY);
  return [...found.values()].filter(({ at }) => at > now && at <= until).sort((a, b) => a.at.getTime() - b.at.getTime());
}
