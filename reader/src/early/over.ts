/** The reading page's side of the early page: what it has done already, and taking its place. */
import { ASKS, EARLY_ID } from './built';
import { type Begun } from './handover';

/** `fetch`, but what the early page has asked is not asked again. */
export const earlyFetch: typeof fetch = (target, request) =>
  window.underLockEarly?.answered(request?.method ?? 'GET', String(target)) ?? fetch(target, request);

/** What was begun on the early page; undefined when there is none, and once it has been taken. */
export const takeBegun = (): Begun | undefined => window.underLockEarly?.end();

const labelled = (within: ParentNode, label: string): HTMLElement | undefined =>
  [...within.querySelectorAll<HTMLElement>('[aria-label]')].find((one) => one.getAttribute('aria-label') === label);

export const isEarlyAsking = (): boolean => document.getElementById(EARLY_ID)?.className === ASKS;

/** Shows what is drawn behind the early page in its place, with the cursor where it was. */
export function showInstead(): void {
  const early = document.getElementById(EARLY_ID);
  if (early === null) return;
  takeBegun();
  const focused = early.contains(document.activeElement) ? document.activeElement : null;
  early.remove();
  const label = focused?.getAttribute('aria-label');
  if (focused === null || typeof label !== 'string') return;
  const next = labelled(document.body, label);
  next?.focus();
  if (next instanceof HTMLInputElement && focused instanceof HTMLInputElement)
    next.setSelectionRange(focused.selectionStart, focused.selectionEnd);
}
