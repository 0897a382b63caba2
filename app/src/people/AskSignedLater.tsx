import { type ComponentProps, lazy, Suspense } from 'react';
import { type AskSigned as Ask } from './AskSigned';
import { personAt } from '@under-lock/core/people/find';
import { usePeople } from './person';

const MeansOffered = lazy(async () => ({ default: (await import('./MeansOffered')).MeansOffered }));
const AskSigned = lazy(async () => ({ default: (await import('./AskSigned')).AskSigned }));

/** Asking for a signed message, fetched where somebody's certificate is wanted. */
export const AskSignedLater = (props: ComponentProps<typeof Ask>) => (
  <Suspense fallback={null}>
    <AskSigned {...props} />
  </Suspense>
);

interface At {
  address: string;
  /** What is published for them is looked for without being asked to. */ lookAtOnce: boolean;
  /** What the letter calls them. */ name: string;
  forDraft: string;
}

/** What is published for whoever is at an address, and the same asking, as they are known now. */
export function AskSignedAt({ address, name, forDraft, lookAtOnce }: At) {
  const { data: people = [] } = usePeople();
  const person = personAt(people, address)?.value ?? { name, address };
  return (
    <>
      <Suspense fallback={null}>
        <MeansOffered person={person} atOnce={lookAtOnce} />
      </Suspense>
      <AskSignedLater person={person} people={people} forDraft={forDraft} />
    </>
  );
}
