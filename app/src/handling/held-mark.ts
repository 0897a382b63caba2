/** What a list says of a message that is held for one. */
export interface Mark {
  tone: 'over' | 'wants';
  word: string;
}

/** Nothing where it was read and can be read again. */
export function heldMark({ state, unread }: { state: string; unread: boolean }): Mark | undefined {
  if (state !== 'held') return { tone: 'over', word: state === 'withdrawn' ? 'Withdrawn' : 'Closed' };
  return unread ? { tone: 'wants', word: 'Unread' } : undefined;
}
