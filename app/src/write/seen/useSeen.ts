/** What the scan sees in the draft at hand: the text as it rests, each file once. */
import { type Draft, type DraftFile } from '@under-lock/core/outgoing/draft';
import { type Seen, type SeenInFile } from '@under-lock/core/scan/message';
import { type OfficeLists } from '@under-lock/core/scan/text';
import { useEffect, useMemo, useRef, useState } from 'react';
import { problemWords } from '../../problem-words';
import { callback, scanDoor } from '../../threads/scan/door';
import { Watched } from '../../watched';
import { useSteady } from '../useSteady';
import { useSame } from '../useSame';

const REST_MS = 500;

/** How far a file is looked into: watched by its own line alone, not drawn with the page. */
export interface HowFar {
  pieces: number;
  picture?: number;
}

export type FileState =
  | { at: 'looking'; far: Watched<HowFar> }
  /** @param read Pictures were, as far as they are. */
  | { at: 'seen'; inside: SeenInFile; read: boolean }
  | { at: 'stopped' }
  | { at: 'failed'; sentence: string };

/** Files just chosen: they are looked into as they lie on the disk. */
const chosen = new Map<string, File>();
export const noteChosen = (blobId: string, file: File): void => void chosen.set(blobId, file);
export const forgetChosen = (blobId: string): void => void chosen.delete(blobId);

/** What was seen, and whether that is of what stands there now. */
function useSeenInText(
  { subject, text, files }: Draft,
  lists: OfficeLists | undefined,
): { seen: readonly Seen[]; isOfNow: boolean } {
  const [seen, setSeen] = useState<readonly Seen[]>([]);
  const [of, setOf] = useState<unknown>();
  const names = files.map(({ name }) => name).join('\n');
  // A new one whenever something else stands there or is looked for.
  const now = useMemo(() => ({ subject, text, names, lists }), [subject, text, names, lists]);
  useEffect(() => {
    let over = false;
    if (now.lists === undefined) return undefined;
    if (now.subject.trim() === '' && now.text.trim() === '' && now.names === '') {
      setSeen([]);
      setOf(now);
      return undefined;
    }
    const written = {
      subject: now.subject,
      text: now.text,
      fileNames: now.names === '' ? [] : now.names.split('\n'),
    };
    const timer = setTimeout(() => {
      void scanDoor()
        .message(written, now.lists!)
        .then((found) => {
          if (over) return;
          setSeen(found);
          setOf(now);
        });
    }, REST_MS);
    return () => {
      over = true;
      clearTimeout(timer);
    };
  }, [now]);
  return { seen, isOfNow: of === now };
}

function useSeenInFiles(files: readonly DraftFile[], lists: OfficeLists | undefined) {
  const [states, setStates] = useState<Readonly<Record<string, FileState>>>({});
  const begun = useRef(new Set<string>());
  const stopped = useRef(new Set<string>());
  const set = (blobId: string, state: FileState): void => setStates((before) => ({ ...before, [blobId]: state }));
  const look = async (file: DraftFile, { read }: { read: boolean } = { read: false }): Promise<void> => {
    const { blobId } = file;
    if (lists === undefined) return;
    begun.current.add(blobId);
    stopped.current.delete(blobId);
    const far = new Watched<HowFar>({ pieces: 0 });
    set(blobId, { at: 'looking', far });
    try {
      const inside = await scanDoor().file(
        file,
        chosen.get(blobId),
        lists,
        callback((pieces: number) => {
          if (pieces % 20 === 0) far.set({ pieces });
        }),
        read ? callback((picture: number) => far.set({ pieces: 0, picture })) : undefined,
      );
      set(blobId, stopped.current.has(blobId) ? { at: 'stopped' } : { at: 'seen', inside, read });
    } catch (error) {
      set(blobId, { at: 'failed', sentence: problemWords(error) });
    } finally {
      chosen.delete(blobId);
    }
  };
  const lookedFor = useRef(lists);
  useEffect(() => {
    // Other words are looked for from now on.
    if (lookedFor.current !== lists) begun.current.clear();
    lookedFor.current = lists;
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

export function useSeen(draft: Draft, lists: OfficeLists | undefined) {
  const { seen: inText, isOfNow } = useSeenInText(draft, lists);
  const { states, look, stop } = useSeenInFiles(draft.files, lists);
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
  const files = useMemo(() => draft.files.map((file) => ({ file, state: states[file.blobId] })), [draft.files, states]);
  const acts = useSteady({ look, stop });
  return useSame({
    /** What its writer has not called harmless. */
    open,
    passed,
    /** What is written now has been looked through. */
    isTextSeen: isOfNow,
    files,
    look: acts.look,
    stop: acts.stop,
  });
}
export type SeenInDraft = ReturnType<typeof useSeen>;
