import { router, useGlobalSearchParams } from 'expo-router';
import { useMemo } from 'react';
import { type Asked, paramsOf, readAsked } from './asked';

/** What the address asks for, and asking for something else; the page beside stays. */
export function useAsked(): { asked: Asked; ask: (asked: Asked) => void } {
  const given = useGlobalSearchParams();
  const key = JSON.stringify(paramsOf(readAsked(given)));
  // The same question is the same object, whatever else the address says.
  // eslint-disable-next-line react-hooks/exhaustive-deps
  const asked = useMemo(() => readAsked(given), [key]);
  return { asked, ask: (next) => router.setParams(paramsOf(next) as Record<string, string>) };
}
