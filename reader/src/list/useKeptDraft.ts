/** Keeps what is being written at the server, sealed to its writer, a moment after the hand has rested. */
import { type ReaderDraft } from '@under-lock/core/account/reader-account';
import { useCallback, useEffect, useRef, useState } from 'react';
import { dropDraft, keepDraft, type Session } from './account';

const RESTED_MS = 1_000;

const isEmpty = ({ subject, text }: ReaderDraft): boolean => subject.trim() === '' && text.trim() === '';

export function useKeptDraft(session: Session, id: string, draft: ReaderDraft, known: ReaderDraft | undefined) {
  const [failed, setFailed] = useState(false);
  // One after the other: a later one never lies under an earlier.
  const last = useRef<Promise<unknown>>(Promise.resolve());
  const kept = useRef(JSON.stringify(known ?? null));
  const ended = useRef(false);
  const keep = useCallback(
    (next: ReaderDraft): Promise<void> => {
      const spelled = JSON.stringify(next);
      if (ended.current || spelled === kept.current || (isEmpty(next) && kept.current === 'null'))
        return Promise.resolve();
      kept.current = spelled;
      const now = last.current.then(() => keepDraft(session, id, next));
      last.current = now.catch(() => undefined);
      return now.then(
        () => setFailed(false),
        () => {
          // Tried anew with the next key.
          kept.current = '';
          setFailed(true);
        },
      );
    },
    [session, id],
  );
  const { to, subject, text } = draft;
  useEffect(() => {
    const timer = setTimeout(() => void keep({ to, subject, text }), RESTED_MS);
    return () => clearTimeout(timer);
  }, [keep, to, subject, text]);
  return {
    /** What is written can't be kept just now. */
    failed,
    keepNow: () => keep(draft),
    /** It has gone, or is not wanted any more. */
    drop: async (): Promise<void> => {
      ended.current = true;
      await last.current;
      await dropDraft(id);
    },
  };
}
