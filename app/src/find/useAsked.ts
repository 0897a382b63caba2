import { router, useGlobalSearchParams } from 'expo-router';
import { useLayoutEffect, useMemo } from 'react';
import { type Asked, paramsOf, readAsked } from './asked';

/** What was asked last: a second question may come before the page has been drawn for the first. */
let latest: Asked | undefined;

/** What the address asks for, and asking for something else; the page beside stays. */
export function useAsked(): { asked: Asked; ask: (change: (asked: Asked) => Asked) => void } {
  const given = useGlobalSearchParams();
  const key = JSON.stringify(paramsOf(readAsked(given)));
  // The same question is the same object, whatever else the address says.
  // eslint-disable-next-line react-hooks/exhaustive-deps
  const asked = useMemo(() => readAsked(given), [key]);
  useLayoutEffect(() => {
    latest = asked;
  }, [asked]);
  return {
    asked,
    ask: (change) => {
      latest = change(latest ?? asked);
      router.setParams(paramsOf(latest) as Record<string, string>);
    },
  };
}
