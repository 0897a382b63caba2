import { useEffect, useState } from 'react';

/** The worker's time zone, as their device has it. */
export const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;

/** The present, twice a minute. */
export function useNow(): Date {
  const [now, setNow] = useState(() => new Date());
  useEffect(() => {
    const timer = setInterval(() => setNow(new Date()), 30_000);
    return () => clearInterval(timer);
  }, []);
  return now;
}
