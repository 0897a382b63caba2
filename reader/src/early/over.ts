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

/** A browser makes no click of a press that begins on one page and ends on another. */
function pressWhenLetGo(label: string): void {
  const ended = new AbortController();
  document.addEventListener(
    'pointerup',
    ({ clientX, clientY }) => {
      ended.abort();
      const under = document.elementFromPoint(clientX, clientY)?.closest<HTMLElement>('[role="button"]');
      if (under?.getAttribute('aria-label') === label) under.click();
    },
    { signal: ended.signal },
  );
  document.addEventListener('pointercancel', () => ended.abort(), { signal: ended.signal });
}

export const isEarlyAsking = (): boolean => document.getElementById(EARLY_ID)?.className === ASKS;

/** Shows what is drawn behind the early page in its place, with the cursor where it was. */
export function showInstead(): void {
  const early = document.getElementById(EARLY_ID);
  if (early === null) return;
  takeBegun();
  const unheard = window.underLockEarly?.unheard();
  const focused = early.contains(document.activeElement) ? document.activeElement : null;
  early.remove();
  if (unheard?.isDown === true) pressWhenLetGo(unheard.label);
  else if (unheard !== undefined) labelled(document.body, unheard.label)?.click();
  const label = focused?.getAttribute('aria-label');
  if (focused === null || typeof label !== 'string') return;
  const next = labelled(document.body, label);
  next?.focus();
  if (next instanceof HTMLInputElement && focused instanceof HTMLInputElement)
    next.setSelectionRange(focused.selectionStart, focused.selectionEnd);
}
