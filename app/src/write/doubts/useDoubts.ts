/** What about the draft may be a mistake, and has not been called right. */
import { type Doubt, doubtKey, doubtsOfContent, doubtsOfPeople } from '@under-lock/core/doubts/doubts';
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
  const addresses = useMemo(() => recipients.map(({ address }) => address), [recipients]);
  const together = useTogether(addresses);
  const known = useMemo(() => knownTo(people ?? [], writtenTo), [people, writtenTo]);
  const spokenOf = useSpokenOf(seen, known, recipients, office?.mailDomain);
  const ofPeople = useMemo(
    () =>
      people === undefined || colleagues === undefined || office === undefined
        ? undefined
        : { recipients, known, colleagues, mailDomain: office.mailDomain, together },
    [recipients, known, people, colleagues, office, together],
  );
  // Whom it goes to does not change with what is written.
  const doubted = useMemo(() => (ofPeople === undefined ? [] : doubtsOfPeople(ofPeople)), [ofPeople]);
  return useMemo(() => {
    if (ofPeople === undefined) return [];
    const settled = new Set(passedOver);
    const ofContent = doubtsOfContent({
      ...ofPeople,
      subject,
      text,
      files: files.map(({ blobId, name }) => ({ name, speaksOf: spokenOf.get(blobId) })),
      isAnswer: inReplyTo !== undefined && passedOnUntil === undefined,
    });
    return [...doubted, ...ofContent].filter((one) => !settled.has(doubtKey(one)));
  }, [ofPeople, doubted, subject, text, files, spokenOf, inReplyTo, passedOnUntil, passedOver]);
}
