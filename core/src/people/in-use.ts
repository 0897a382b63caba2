/** Somebody's certificates, or their keys: the one in use first, those before it kept, so that a change is seen as one. */

interface Dated {
  /** When another one took its place. */
  replacedAt?: string | undefined;
}

const MOST = 20;

/** What was taken last; undefined where nothing is in use. */
export const inUse = <One extends Dated>(all: readonly One[] = []): One | undefined =>
  all.find(({ replacedAt }) => replacedAt === undefined);

/** With `next` in use from `at` on, ISO 8601. */
export const withInUse = <One extends Dated>(all: readonly One[] = [], next: One, at: string): One[] =>
  [next, ...all.map((one) => ({ ...one, replacedAt: one.replacedAt ?? at }))].slice(0, MOST);
