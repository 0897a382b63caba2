/** The draft as it is looked at: its words as they were when the hand last rested, all else as it is now. */
import { type Draft } from '@under-lock/core/outgoing/draft';
import { useEffect, useState } from 'react';
import { useSame } from './useSame';

/** Longer than between two keys, shorter than anybody waits for an answer. */
const REST_MS = 250;

/**
 * Plan and doubts of a draft to hundreds take longer than a key may. What is sent is planned anew, of the very draft
 * (`planNow`).
 */
export function useRested(draft: Draft): Draft {
  const { subject, text, html } = draft;
  const [words, setWords] = useState({ subject, text, html });
  useEffect(() => {
    if (subject === words.subject && text === words.text && html === words.html) return undefined;
    const rest = setTimeout(() => setWords({ subject, text, html }), REST_MS);
    return () => clearTimeout(rest);
  }, [subject, text, html, words]);
  return useSame({ ...draft, ...words });
}
