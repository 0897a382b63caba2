/** What the scan sees in the draft at hand: the text as it rests, each file once. */
import { type Draft, type DraftFile } from '@under-lock/core/outgoing/draft';
import { type Seen, type SeenInFile } from '@under-lock/core/scan/message';
import { useEffect, useMemo, useRef, useState } from 'react';
import { problemWords } from '../../problem-words';
import { callback, scanDoor } from '../../threads/scan/door';

const REST_MS = 500;

export type FileState =
  | { at: 'looking'; pieces: number }
  | { at: 'seen'; inside: SeenInFile }
  | { at: 'stopped' }
  | { at: 'failed'; sentence: string };

/** Files just chosen: they are looked into as they lie on the disk. */
const chosen = new Map<string, File>();
export const noteChosen = (blobId: string, file: File): void => void chosen.set(blobId, file);
export const forgetChosen = (blobId: string): void => void chosen.delete(blobId);

function useSeenInText({ subject, text, files }: Draft): readonly Seen[] {
  const [seen, setSeen] = useState<readonly Seen[]>([]);
  const names = files.map(({ name }) => name).join('\n');
  useEffect(() => {
    let over = false;
    if (subject.trim() === '' && text.trim() === '' && names === '') {
      setSeen([]);
      return undefined;
    }
    const timer = setTimeout(() => {
      void scanDoor()
        .message({ subject, text, fileNames: names === '' ? [] : names.split('\n') })
        .then((found) => {
          if (!over) setSeen(found);
        });
    }, REST_MS);
    return () => {
      over = true;
      clearTimeout(timer);
    };
  }, [subject, text, names]);
  return seen;
}

function useSeenInFiles(files: readonly DraftFile[]) {
  const [states, setStates] = useState<Readonly<Record<string, FileState>>>({});
  const begun = useRef(new Set<string>());
  const stopped = useRef(new Set<string>());
  const set = (blobId: string, state: FileState): void => setStates((before) => ({ ...before, [blobId]: state }));
  const look = async (file: DraftFile): Promise<void> => {
    const { blobId } = file;
    begun.current.add(blobId);
    stopped.current.delete(blobId);
    set(blobId, { at: 'looking', pieces: 0 });
    try {
      const inside = await scanDoor().file(
        file,
        chosen.get(blobId),
        callback((pieces: number) => {
          if (pieces % 20 === 0) set(blobId, { at: 'looking', pieces });
        }),
      );
      set(blobId, stopped.current.has(blobId) ? { at: 'stopped' } : { at: 'seen', inside });
    } catch (error) {
      set(blobId, { at: 'failed', sentence: problemWords(error) });
    } finally {
      chosen.delete(blobId);
    }
  };
  useEffect(() => {
    for (const file of files) if (!begun.current.has(file.blobId)) void look(file);
  });
  return {
    states,
    look,
    stop: (blobId: string) => {
      stopped.current.add(blobId);
      void scanDoor().stop(blobId);
    },
  };
}

export function useSeen(draft: Draft) {
  const inText = useSeenInText(draft);
  const { states, look, stop } = useSeenInFiles(draft.files);
  const passedOver = useMemo(() => new Set(draft.passedOver), [draft.passedOver]);
  // Not at each key: there may be hundreds.
  const { open, passed } = useMemo(() => {
    const all = [
      ...inText,
      ...draft.files.flatMap(({ blobId }) => {
        const state = states[blobId];
        return state?.at === 'seen' ? state.inside.seen : [];
      }),
    ];
    return {
      open: all.filter(({ id }) => !passedOver.has(id)),
      passed: all.filter(({ id }) => passedOver.has(id)),
    };
  }, [inText, draft.files, states, passedOver]);
  return {
    /** What its writer has not called harmless. */
    open,
    passed,
    files: draft.files.map((file) => ({ file, state: states[file.blobId] })),
    look,
    stop,
  };
}
export type SeenInDraft = ReturnType<typeof useSeen>;
