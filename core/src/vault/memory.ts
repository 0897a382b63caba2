/** Which manifests a browser has met, kept for as long as it keeps anything. */
import { newest, type Revisions } from './manifest';

export interface Memory {
  met(): Promise<Revisions>;
  /** Never lowers one. */
  raise(revisions: Revisions): Promise<void>;
  forget(): Promise<void>;
}

/** For who keeps nothing: it lasts as long as it is held. */
export function briefMemory(): Memory {
  let met: Revisions = {};
  return {
    met: async () => met,
    raise: async (revisions) => void (met = newest(met, revisions)),
    forget: async () => void (met = {}),
  };
}
