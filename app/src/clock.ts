import { useEffect, useState } from 'react';

export { useNow } from '@under-lock/ui';

/** The worker's time zone, as their device has it. */
export const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;

/** The present second by second until `until`, then as often as `now`. */
export function useSecond(until: Date | undefined, now: Date): Date {
  const [second, setSecond] = useState(now);
  const waiting = until !== undefined && until > second;
  useEffect(() => {
    if (!waiting) return undefined;
    setSecond(new Date());
    const timer = setInterval(() => setSecond(new Date()), 1000);
    return () => clearInterval(timer);
  }, [waiting]);
  return second > now ? second : now;
}
