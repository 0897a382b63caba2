/**
 * A reply being written, for as long as this tab is open: a new identity check and a reload lose nothing of its text.
 * Files have to be added again; the browser keeps none.
 */
import { type RefObject } from 'react';

export interface ReplyDraft {
  to: 'sender' | 'all';
  text: string;
  files: File[];
  /** Files that a reload has lost. */
  lost?: number;
}

const keyOf = (grantId: string): string => `reply ${grantId}`;

function stored(grantId: string): ReplyDraft | undefined {
  try {
    const kept = JSON.parse(sessionStorage.getItem(keyOf(grantId)) ?? 'null') as {
      to?: unknown;
      text?: unknown;
      files?: unknown;
    } | null;
    if (kept === null || (kept.to !== 'sender' && kept.to !== 'all') || typeof kept.text !== 'string') return undefined;
    return {
      to: kept.to,
      text: kept.text,
      files: [],
      ...(typeof kept.files === 'number' && kept.files > 0 ? { lost: kept.files } : {}),
    };
  } catch {
    // Storage is switched off, or holds something else: the page works without.
    return undefined;
  }
}

function store(grantId: string, draft: ReplyDraft | undefined): void {
  try {
    if (draft === undefined) sessionStorage.removeItem(keyOf(grantId));
    else
      sessionStorage.setItem(
        keyOf(grantId),
        JSON.stringify({ to: draft.to, text: draft.text, files: draft.files.length }),
      );
  } catch {
    // As above, or full.
  }
}

/** As a ref: whoever sets it keeps it. */
export function keptDraft(grantId: string): RefObject<ReplyDraft | undefined> {
  let draft = stored(grantId);
  return {
    get current() {
      return draft;
    },
    set current(next) {
      draft = next;
      store(grantId, next);
    },
  };
}
