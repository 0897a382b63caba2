import { useRef } from 'react';

/** What tells files apart without reading them. */
export const markOf = (files: readonly File[]): unknown[] =>
  files.map(({ name, size, lastModified }) => [name, size, lastModified]);

/** What a try has sealed is sent again as it is, unless something was changed: then it is another message. */
export function useSealedOnce<Sealed>() {
  const kept = useRef<{ mark: string; sealed: Sealed } | undefined>(undefined);
  return {
    /** `said`: all that makes it what it is, as plain data. */
    async of(said: unknown, seal: () => Promise<Sealed>): Promise<Sealed> {
      const mark = JSON.stringify(said);
      if (kept.current?.mark === mark) return kept.current.sealed;
      const sealed = await seal();
      kept.current = { mark, sealed };
      return sealed;
    },
    forget(): void {
      kept.current = undefined;
    },
  };
}
