import { type Session } from '@under-lock/contract/account';
import { useEffect } from 'react';
import { door } from '../threads/main/door';
import { lock } from './session';

const KEY = 'under-lock-idle-minutes';
export const IDLE_CHOICES = [5, 15, 30, 60] as const;
const DEFAULT_MINUTES = 15;

export function idleMinutes(): number {
  const kept = Number(localStorage.getItem(KEY));
  return IDLE_CHOICES.some((choice) => choice === kept) ? kept : DEFAULT_MINUTES;
}
export const setIdleMinutes = (minutes: number): void => localStorage.setItem(KEY, String(minutes));

const SEEN = 'under-lock-last-touch';
const EXTEND_EVERY_MS = 20_000;

/**
 * Locks the vault when no tab has been touched for the chosen time; counts by the clock, so that a sleeping laptop is
 * locked on waking.
 */
export function useIdleLock(session: Session | undefined): void {
  useEffect(() => {
    if (session === undefined) return undefined;
    let extendedAt = 0;
    const touch = (): void => {
      const now = Date.now();
      localStorage.setItem(SEEN, String(now));
      // The key's own end follows, now and then: it is what counts when no tab is there to look.
      if (now - extendedAt < EXTEND_EVERY_MS) return;
      extendedAt = now;
      void door().account.extend(idleMinutes() * 60_000);
    };
    touch();
    const check = (): void => {
      if (Date.now() - Number(localStorage.getItem(SEEN)) > idleMinutes() * 60_000) void lock(session);
    };
    const events = ['pointerdown', 'keydown', 'wheel', 'touchmove'] as const;
    for (const event of events) window.addEventListener(event, touch, { passive: true });
    document.addEventListener('visibilitychange', check);
    const timer = setInterval(check, 10_000);
    return () => {
      for (const event of events) window.removeEventListener(event, touch);
      document.removeEventListener('visibilitychange', check);
      clearInterval(timer);
    };
  }, [session]);
}
