import { useState } from 'react';
import { problemWords } from '../problem-words';

/** Something that may fail: it runs once at a time, and what went wrong is said. */
export function useActing() {
  const [busy, setBusy] = useState(false);
  const [failed, setFailed] = useState<string | undefined>();
  const act = async (does: () => Promise<unknown>): Promise<boolean> => {
    setBusy(true);
    setFailed(undefined);
    try {
      await does();
      return true;
    } catch (error) {
      setFailed(problemWords(error));
      return false;
    } finally {
      setBusy(false);
    }
  };
  return { busy, failed, act };
}
