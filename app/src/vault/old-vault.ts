/**
 * Whether the server gave out a vault that is not as it was left. Whoever meets it says so here; the frame of the pages
 * shows it.
 */
let isOld = false;
const listeners = new Set<() => void>();

export function sayOldVault(old: boolean): void {
  if (isOld === old) return;
  isOld = old;
  for (const listener of listeners) listener();
}

export const oldVault = {
  is: (): boolean => isOld,
  subscribe(listener: () => void): () => void {
    listeners.add(listener);
    return () => void listeners.delete(listener);
  },
};
