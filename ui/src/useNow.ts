import { useEffect, useState } from 'react';

/** The present, twice a minute: stands still for who reads and goes on for the bars. */
export function useNow(): Date {
  const [now, setNow] = useState(() => new Date());
  useEffect(() => {
    const timer = setInterval(() => setNow(new Date()), 30_000);
    return () => clearInterval(timer);
  }, []);
  return now;
}
