import { type ComponentProps, lazy, Suspense } from 'react';
import { type AskSigned as Ask } from './AskSigned';
import { personAt, usePeople } from './person';

const AskSigned = lazy(async () => ({ default: (await import('./AskSigned')).AskSigned }));

/** Asking for a signed message, fetched where somebody's certificate is wanted. */
export const AskSignedLater = (props: ComponentProps<typeof Ask>) => (
  <Suspense fallback={null}>
    <AskSigned {...props} />
  </Suspense>
);

interface At { address: string; /** What the letter calls them. */ name: string; forDraft: string }

/** The same for whoever is at an address, as they are known now. */
export function AskSignedAt({ address, name, forDraft }: At) {
  const { data: people = [] } = usePeople();
  return <AskSignedLater person={personAt(people, address)?.value ?? { name, address }} people={people} forDraft={forDraft} />;
}
