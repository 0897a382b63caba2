import { type Said } from '@under-lock/ui';
import { useState } from 'react';
import { problemWords } from '../problem-words';

/** Acts that end in a sentence, or in what went wrong; what is shown is asked for anew after each. */
export function useSaying(refresh: () => Promise<unknown>): {
  said: Said | undefined;
  say: (said: Said) => void;
  act: (task: () => Promise<string>) => Promise<void>;
} {
  const [said, say] = useState<Said | undefined>();
  const act = async (task: () => Promise<string>): Promise<void> => {
    try {
      say({ tone: 'sea', text: await task() });
    } catch (problem) {
      say({ tone: 'brick', text: problemWords(problem) });
    } finally {
      await refresh();
    }
  };
  return { said, say, act };
}
