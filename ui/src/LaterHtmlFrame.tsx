/** Somebody else's HTML in its frame, with what cleans it fetched only where there is some. */
import { lazy, Suspense } from 'react';
import { type HtmlFrameProps } from './HtmlFrame';

const Inner = lazy(async () => ({ default: (await import('./HtmlFrame')).HtmlFrame }));

export const HtmlFrame = (props: HtmlFrameProps) => (
  <Suspense fallback={null}>
    <Inner {...props} />
  </Suspense>
);
