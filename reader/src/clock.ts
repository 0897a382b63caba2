import { useEffect, useState } from 'react';

export { useNow } from '@under-lock/ui';

/** Counts down to a moment; 0 when it has come or there is none. */
export function useSecondsUntil(moment: Date | undefined): number {
  const [, setTurn] = useState(0);
  useEffect(() => {
    if (moment === undefined) return undefined;
    const timer = setInterval(() => setTurn((turn) => turn + 1), 1000);
    return () => clearInterval(timer);
  }, [moment]);
  return moment === undefined ? 0 : Math.max(0, Math.ceil((moment.getTime() - Date.now()) / 1000));
}
