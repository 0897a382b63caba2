/**
 * The draft at hand: kept by itself, sealed, a moment after every change; a second tab's change is said, never
 * overwritten.
 */
import { isProblem } from '@under-lock/contract/problem';
import { useCallback, useEffect, useRef, useState } from 'react';
import { problemWords } from '../problem-words';
import { dropItem, keepItem, readItem } from '../vault/useVault';
import { isRemoved } from './removed';
import { personInBook } from '../office-book/useBook';
import { readClosingWords, withClosingWords } from '../vault/closing-words';
import { personSchema } from '@under-lock/core/people/kept-person';
import { type Draft, draftSchema, emptyDraft, isBlank } from '@under-lock/core/outgoing/draft';

export type Keeping =
  | { state: 'new' }
  | { state: 'changed' }
  | { state: 'keeping' }
  | { state: 'kept'; at: Date }
  | { state: 'conflict' }
  | { state: 'failed'; sentence: string };

const PAUSE_MS = 700;
const AGAIN_MS = 8_000;

export interface DraftDesk {
  id: string;
  draft: Draft | undefined;
  /** Grows when another version was loaded under the page. */
  version: number;
  missing: boolean;
  keeping: Keeping;
  change(change: (draft: Draft) => Draft): void;
  /** Keeps at once and resolves when it is kept. @throws ApiProblem */
  keepNow(): Promise<void>;
  takeTheirs(): Promise<void>;
  keepMine(): Promise<void>;
  drop(): Promise<void>;
}

/** Whom a fresh draft begins with: somebody of one's own or of the office book, by their number there. */
export interface BeginsWith {
  person?: string | undefined;
  inBook?: string | undefined;
}

async function firstRecipient({ person: own, inBook }: BeginsWith): Promise<Draft['recipients']> {
  const person =
    own !== undefined
      ? (await readItem('person', own, personSchema))?.value
      : inBook !== undefined
        ? await personInBook(inBook)
        : undefined;
  return person === undefined ? [] : [{ name: person.name, address: person.address, role: 'to' }];
}

/** The newest draft and its revision for the keeper, which runs outside of rendering and one at a time. */
interface Latest {
  draft: Draft;
  revision: number;
  /** Something of it was not kept. */
  dirty: boolean;
  onItsWay: boolean;
  dropped: boolean;
}

function useKeeper(id: string) {
  const [keeping, setKeeping] = useState<Keeping>({ state: 'new' });
  const latest = useRef<Latest>({ draft: emptyDraft, revision: 0, dirty: false, onItsWay: false, dropped: false });
  const queue = useRef<Promise<void>>(Promise.resolve());
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);

  const keep = useCallback((): Promise<void> => {
    clearTimeout(timer.current);
    const task = queue.current.then(async () => {
      const current = latest.current;
      if (!current.dirty || current.dropped) return;
      setKeeping({ state: 'keeping' });
      current.dirty = false;
      current.onItsWay = true;
      try {
        current.revision = await keepItem('draft', id, current.revision, current.draft);
        setKeeping(current.dirty ? { state: 'changed' } : { state: 'kept', at: new Date() });
      } catch (error) {
        current.dirty = true;
        setKeeping(
          isProblem(error, 'conflict') ? { state: 'conflict' } : { state: 'failed', sentence: problemWords(error) },
        );
        throw error;
      } finally {
        current.onItsWay = false;
      }
    });
    queue.current = task.catch(() => undefined);
    return task;
  }, [id]);

  const keepSoon = useCallback(() => {
    setKeeping((before) => (before.state === 'conflict' ? before : { state: 'changed' }));
    clearTimeout(timer.current);
    timer.current = setTimeout(() => void keep().catch(() => undefined), PAUSE_MS);
  }, [keep]);

  /** Resolves when nothing of it is under way, and nothing more will be. */
  const end = useCallback(async () => {
    clearTimeout(timer.current);
    latest.current.dropped = true;
    await queue.current;
  }, []);
  return { latest, keeping, setKeeping, keep, keepSoon, end };
}

/** Keeps it when its page is left, and lets the browser ask before a window goes in which something is not kept. */
function useKeptOnLeaving({ keep, latest }: Pick<ReturnType<typeof useKeeper>, 'keep' | 'latest'>): void {
  useEffect(() => {
    const flush = (): void => void keep().catch(() => undefined);
    const warn = (event: BeforeUnloadEvent): void => {
      const { draft, dirty, onItsWay } = latest.current;
      if ((!dirty && !onItsWay) || isBlank(draft)) return;
      flush();
      event.preventDefault();
    };
    document.addEventListener('visibilitychange', flush);
    window.addEventListener('beforeunload', warn);
    return () => {
      document.removeEventListener('visibilitychange', flush);
      window.removeEventListener('beforeunload', warn);
      flush();
    };
  }, [keep, latest]);
}

/** A line that failed is tried again by itself. */
function useTriedAgain({ keeping, keep }: Pick<ReturnType<typeof useKeeper>, 'keeping' | 'keep'>): void {
  useEffect(() => {
    if (keeping.state !== 'failed') return undefined;
    const again = setTimeout(() => void keep().catch(() => undefined), AGAIN_MS);
    return () => clearTimeout(again);
  }, [keeping, keep]);
}

/** What a draft is while nothing of it was kept; also what a reload of its page finds. */
async function begunDraft(begins: BeginsWith): Promise<Draft> {
  // Without them a message can be written all the same.
  const { text } = await readClosingWords().catch(() => ({ text: '' }));
  const recipients = await firstRecipient(begins).catch(() => []);
  return { ...emptyDraft, html: withClosingWords(text), recipients };
}

/** As it was kept, or a fresh one; loaded again where somebody else's version is taken. */
function useLoaded(
  { id, isFresh, person, inBook }: { id: string; isFresh: boolean } & BeginsWith,
  { latest, setKeeping }: Pick<ReturnType<typeof useKeeper>, 'latest' | 'setKeeping'>,
) {
  const [draft, setDraft] = useState<Draft | undefined>();
  const [version, setVersion] = useState(0);
  const [missing, setMissing] = useState(false);
  const load = useCallback(async () => {
    try {
      const kept = await readItem('draft', id, draftSchema);
      if ((kept === undefined && !isFresh) || (kept !== undefined && isRemoved(kept.value))) return setMissing(true);
      if (kept === undefined) {
        const begun = await begunDraft({ person, inBook });
        if (!latest.current.dirty) latest.current.draft = begun;
        return setDraft((before) => before ?? begun);
      }
      latest.current = {
        draft: kept.value,
        revision: kept.revision,
        dirty: false,
        onItsWay: false,
        dropped: false,
      };
      setDraft(kept.value);
      setVersion((before) => before + 1);
      setKeeping({ state: 'kept', at: kept.updatedAt });
    } catch (error) {
      setKeeping({ state: 'failed', sentence: problemWords(error) });
    }
    return undefined;
  }, [id, isFresh, person, inBook, latest, setKeeping]);
  useEffect(() => void load(), [load]);
  return { draft, setDraft, version, missing, load };
}

export function useDraft(id: string, isFresh: boolean, begins: BeginsWith = {}): DraftDesk {
  const keeper = useKeeper(id);
  const { latest, keeping, keep, keepSoon, end } = keeper;
  const { draft, setDraft, version, missing, load } = useLoaded({ id, isFresh, ...begins }, keeper);
  const change = useCallback(
    (edit: (draft: Draft) => Draft) => {
      const current = latest.current;
      current.draft = edit(current.draft);
      current.dirty = true;
      setDraft(current.draft);
      keepSoon();
    },
    [latest, keepSoon, setDraft],
  );
  useKeptOnLeaving(keeper);
  useTriedAgain(keeper);

  return {
    id,
    draft,
    version,
    missing,
    keeping,
    change,
    keepNow: keep,
    takeTheirs: async () => void (await load()),
    async keepMine() {
      const theirs = await readItem('draft', id, draftSchema);
      latest.current.revision = theirs?.revision ?? 0;
      latest.current.dirty = true;
      await keep();
    },
    async drop() {
      await end();
      await dropItem('draft', id);
    },
  };
}
