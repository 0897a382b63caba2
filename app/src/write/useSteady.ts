import { useEffect, useState } from 'react';

type Acts = object;
type Act = (...given: unknown[]) => unknown;

/**
 * The same object from drawing to drawing, with the same functions, which do what the last drawn ones would: what is
 * handed down does not make everything below draw again. Whatever is no function is
 * as it was in the last drawing.
 */
export function useSteady<T extends Acts>(acts: T): T {
  const [held] = useState<{ latest: T }>(() => ({ latest: acts }));
  useEffect(() => {
    held.latest = acts;
  });
  const [steady] = useState<T>(() => {
    const steadyActs = new Map<string | symbol, Act>();
    return new Proxy(acts, {
      get(_, name) {
        const found = held.latest[name as keyof T];
        if (typeof found !== 'function') return found;
        const act = steadyActs.get(name) ?? ((...given) => (held.latest[name as keyof T] as Act)(...given));
        steadyActs.set(name, act);
        return act;
      },
    });
  });
  return steady;
}
