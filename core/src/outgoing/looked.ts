/** What was seen in a draft, as facts that rules ask about: kinds and counts, and nothing of what was seen. */
import { type ContentFacts, type FoundFacts, type Part } from '../rules/facts';
import { fitsName } from '../rules/conditions/message';
import { headersAsked, namePatterns, type Policy } from '../rules/policy';
import { tagsIn } from '../rules/tags';
import { type Kind } from '../scan/finding';
import { type Seen, type SeenInFile } from '../scan/message';
import { type Draft } from './draft';

export interface Looked {
  /** What its writer has not called something else. */
  open: readonly Seen[];
  passed: readonly Seen[];
  /** By the number under which each lies; one that could not be looked into is not among them. */
  files: ReadonlyMap<string, Pick<SeenInFile, 'kind' | 'isLocked' | 'unread' | 'more'>>;
}

const PARTS: Record<Seen['where']['in'], Part> = { subject: 'subject', text: 'text', name: 'names', file: 'files' };

function summed<T extends object>(
  each: readonly (T & { count: number })[],
  keyOf: (one: T) => string,
): (T & { count: number })[] {
  const sums = new Map<string, T & { count: number }>();
  for (const one of each) {
    const known = sums.get(keyOf(one));
    if (known === undefined) sums.set(keyOf(one), { ...one });
    else known.count += one.count;
  }
  return [...sums.values()];
}

export const foundIn = (seen: readonly Seen[]): FoundFacts[] =>
  summed(
    seen.map(({ kind, of, confidence, where, count }) => ({ kind, of, confidence, part: PARTS[where.in], count })),
    ({ kind, of, confidence, part }) => [kind, of, confidence, part].join(' '),
  );

export const harmlessIn = (seen: readonly Seen[]): { kind: Kind; of: string; count: number }[] =>
  summed(
    seen.map(({ kind, of }) => ({ kind, of, count: 1 })),
    ({ kind, of }) => `${kind} ${of}`,
  );

/** It could not be looked into, or not to its end. */
export const isUnreadFile = (inside: Pick<SeenInFile, 'unread' | 'more'> | undefined): boolean =>
  inside === undefined || inside.unread.length > 0 || inside.more;

type Written = Pick<
  Draft,
  'subject' | 'text' | 'files' | 'inReplyTo' | 'answers' | 'passedOnUntil' | 'answered' | 'headers'
>;

/** Of something known here, or, where a mail program wrote it, of whatever it says that it answers. */
const answersSomething = ({ inReplyTo, answers = [] }: Pick<Draft, 'inReplyTo' | 'answers'>): boolean =>
  inReplyTo !== undefined || answers.length > 0;

function headersIn({ headers = {} }: Written, policy: Policy): Pick<ContentFacts, 'headers'> {
  const asked = headersAsked(policy).filter((name) => Object.hasOwn(headers, name));
  return asked.length === 0 ? {} : { headers: Object.fromEntries(asked.map((name) => [name, headers[name]!])) };
}

export function contentFacts(draft: Written, { open, files }: Looked, policy: Policy): ContentFacts {
  const patterns = namePatterns(policy);
  return {
    tags: tagsIn(policy.tags, draft).map(({ id }) => id),
    files: draft.files.map(({ blobId, name, size }) => {
      const inside = files.get(blobId);
      return {
        kind: inside?.kind ?? 'other',
        size,
        isLocked: inside?.isLocked ?? false,
        isUnread: isUnreadFile(inside),
        fits: patterns.filter((pattern) => fitsName(name, pattern)),
      };
    }),
    found: foundIn(open),
    ...headersIn(draft, policy),
    ...(answersSomething(draft)
      ? {
          answers: {
            as: draft.passedOnUntil === undefined ? ('reply' as const) : ('forward' as const),
            hadLock: draft.answered !== undefined,
          },
        }
      : {}),
  };
}
