/** Keys press what says that it has them: see docs/decisions/21. */
import { router } from 'expo-router';
import { useEffect } from 'react';
import { goFind } from '../find/go-find';
import { stepTo } from '../shell/walk-lines';
import { takesText } from '../shell/useTypingLow';

const OFF = 'under-lock-single-keys-off';
export const singleKeysAreOn = (): boolean => localStorage.getItem(OFF) === null;
export const switchSingleKeys = (on: boolean): void =>
  on ? localStorage.removeItem(OFF) : localStorage.setItem(OFF, 'off');

/** As `aria-keyshortcuts` spells it; Command does where Control does. */
function spelled({ key, ctrlKey, metaKey, altKey }: KeyboardEvent): string {
  if (ctrlKey || metaKey) return `Control+${key}`;
  return altKey ? `Alt+${key}` : key;
}

const isSingle = (key: string): boolean => [...key].length === 1;
const isTaken = (element: Element | null): boolean => takesText(element) || element?.matches('select') === true;

const isUsable = (element: HTMLElement): boolean =>
  element.getAttribute('aria-disabled') !== 'true' &&
  element.getClientRects().length > 0 &&
  !element.closest('[inert]');

/** In the dialog that lies above all, where there is one. */
function havingKey(key: string): HTMLElement | undefined {
  const scope = [...document.querySelectorAll('dialog[open]')].at(-1) ?? document;
  const quoted = CSS.escape(key);
  return [...scope.querySelectorAll<HTMLElement>(`[aria-keyshortcuts~="${quoted}"]`)].find(isUsable);
}

const hasDialog = (): boolean => document.querySelector('dialog[open]') !== null;

/** What belongs to no button of the page. */
const apart: Record<string, () => void> = {
  n: () => router.push('/write'),
  '/': goFind,
  'Alt+ArrowDown': () => stepTo(1),
  'Alt+ArrowUp': () => stepTo(-1),
};

function press(event: KeyboardEvent, showKeys: () => void): void {
  if (event.isComposing || event.repeat) return;
  const key = spelled(event);
  const typing = isTaken(document.activeElement);
  if ((isSingle(key) && (typing || !singleKeysAreOn())) || (key.startsWith('Alt+') && typing)) return;
  const element = havingKey(key);
  const act =
    element === undefined ? (hasDialog() ? undefined : key === '?' ? showKeys : apart[key]) : () => element.click();
  if (act === undefined) return;
  event.preventDefault();
  event.stopPropagation();
  act();
}

export function usePressedKeys(showKeys: () => void): void {
  useEffect(() => {
    const pressed = (event: KeyboardEvent): void => press(event, showKeys);
    // Before what has the focus hears of it: an editor has keys of its own.
    document.addEventListener('keydown', pressed, true);
    return () => document.removeEventListener('keydown', pressed, true);
  }, [showKeys]);
}
