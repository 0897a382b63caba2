import { useEffect } from 'react';

const LINES = '[data-line]';
const step: Record<string, (at: number, count: number) => number> = {
  ArrowDown: (at) => at + 1,
  ArrowUp: (at) => at - 1,
  Home: () => 0,
  End: (_, count) => count - 1,
};

function walk(event: KeyboardEvent): void {
  const go = step[event.key];
  const here = event.target instanceof Element ? event.target.closest<HTMLElement>(LINES) : null;
  if (go === undefined || here === null || event.altKey || event.ctrlKey || event.metaKey || event.shiftKey) return;
  const lines = [...document.querySelectorAll<HTMLElement>(LINES)];
  const next = lines[go(lines.indexOf(here), lines.length)];
  if (next === undefined || next === here) return;
  event.preventDefault();
  next.focus();
  if (next.dataset['line'] === 'walked') next.click();
}

/** To the line after the chosen one, or before it; to the first where none is. Whatever the line is, it was asked for. */
export function stepTo(by: 1 | -1): void {
  const lines = [...document.querySelectorAll<HTMLElement>(LINES)];
  const at = lines.findIndex((line) => line.getAttribute('aria-current') === 'page');
  const next = lines[at === -1 ? 0 : at + by];
  next?.scrollIntoView({ block: 'nearest' });
  next?.click();
}

/** Arrow keys, Home and End go from line to line; a line that only looking belongs to is opened beside the list. */
export function useWalkedLines(): void {
  useEffect(() => {
    document.addEventListener('keydown', walk);
    return () => document.removeEventListener('keydown', walk);
  }, []);
}
