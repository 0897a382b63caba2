import { type ComponentProps, lazy, Suspense } from 'react';
import { type AskSigned as Ask } from './AskSigned';

const AskSigned = lazy(async () => ({ default: (await import('./AskSigned')).AskSigned }));

/** Asking for a signed message, fetched where somebody's certificate is wanted. */
export const AskSignedLater = (props: ComponentProps<typeof Ask>) => (
  <Suspense fallback={null}>
    <AskSigned {...props} />
  </Suspense>
);
