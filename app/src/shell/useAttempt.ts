/** What a page does at a press: once at a time, and a failure is said. */
import { type Said } from '@under-lock/ui';
import { useState } from 'react';
import { problemWords } from '../problem-words';

export function useAttempt(): {
  busy: boolean;
  said: Said | undefined;
  say: (said: Said) => void;
  attempt: (act: () => Promise<unknown>) => Promise<void>;
} {
  const [busy, setBusy] = useState(false);
  const [said, setSaid] = useState<Said | undefined>();
  const attempt = async (act: () => Promise<unknown>): Promise<void> => {
    setBusy(true);
    setSaid(undefined);
    try {
      await act();
    } catch (error) {
      setSaid({ tone: 'brick', text: problemWords(error) });
    }
    setBusy(false);
  };
  return { busy, said, say: setSaid, attempt };
}
