/** What about the draft may be a mistake, and has not been called right. */
import { type Doubt, doubtKey, doubtsIn } from '@under-lock/core/doubts/doubts';
import { type Draft } from '@under-lock/core/outgoing/draft';
import { useDeferredValue, useMemo } from 'react';
import { knownTo } from '../../people/known-to';
import { useTogether } from '../../people/useTogether';
import { type SeenInDraft } from '../seen/useSeen';
import { type PlanContext } from '../usePlan';
import { useSpokenOf } from './useSpokenOf';

type Known = { [Key in 'people' | 'colleagues' | 'office']: PlanContext[Key] | undefined };

export function useDoubts(
  draft: Draft,
  { people, colleagues, office }: Known,
  writtenTo: ReadonlyMap<string, Date>,
  seen: Pick<SeenInDraft, 'files'>,
): readonly Doubt[] {
  // Off the key press: whom a draft of hundreds is compared with are hundreds as well.
  const { recipients, subject, text, files, inReplyTo, passedOnUntil, passedOver } = useDeferredValue(draft);
  const together = useTogether(recipients.map(({ address }) => address));
  const known = useMemo(() => knownTo(people ?? [], writtenTo), [people, writtenTo]);
  const spokenOf = useSpokenOf(seen, known, recipients, office?.mailDomain);
  return useMemo(() => {
    if (people === undefined || colleagues === undefined || office === undefined) return [];
    const settled = new Set(passedOver);
    return doubtsIn({
      recipients,
      known,
      colleagues,
      mailDomain: office.mailDomain,
      subject,
      text,
      files: files.map(({ blobId, name }) => ({ name, speaksOf: spokenOf.get(blobId) })),
      isAnswer: inReplyTo !== undefined && passedOnUntil === undefined,
      together,
    }).filter((one) => !settled.has(doubtKey(one)));
  }, [
    recipients,
    subject,
    text,
    files,
    spokenOf,
    inReplyTo,
    passedOnUntil,
    passedOver,
    known,
    people,
    colleagues,
    office,
    together,
  ]);
}
