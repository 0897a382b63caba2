import { useEffect, useState } from 'react';

type Acts = object;
type Act = (...given: unknown[]) => unknown;

/**
 * The same object from drawing to drawing, whose functions do what the last drawn ones would: what is handed down
 * does not make everything below draw again. Whatever is no function is
 * as it was in the last drawing.
 */
export function useSteady<T extends Acts>(acts: T): T {
  const [held] = useState<{ latest: T }>(() => ({ latest: acts }));
  useEffect(() => {
    held.latest = acts;
  });
  const [steady] = useState<T>(
    () =>
      new Proxy(acts, {
        get(_, name) {
          const found = held.latest[name as keyof T];
          return typeof found === 'function'
            ? (...given: unknown[]) => (held.latest[name as keyof T] as Act)(...given)
            : found;
        },
      }),
  );
  return steady;
}
