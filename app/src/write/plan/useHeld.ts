import { useEffect, useRef, useState } from 'react';

const NONE: readonly string[] = [];

/**
 * Which of several lines the hand is in: the one with the focus. While a finger is down nothing is let go of: what
 * moves then would take the press away from what it was meant for. So there may be two for a moment.
 */
export function useHeld() {
  const [held, setHeld] = useState(NONE);
  const down = useRef(false);
  const focused = useRef<string | undefined>(undefined);
  useEffect(() => {
    const settle = (): void =>
      setHeld((before) => {
        const after = before.filter((one) => one === focused.current);
        return after.length === before.length ? before : after;
      });
    const press = (): void => void (down.current = true);
    const lift = (): void => {
      down.current = false;
      // The press itself comes first.
      setTimeout(settle);
    };
    document.addEventListener('pointerdown', press, true);
    document.addEventListener('pointerup', lift, true);
    document.addEventListener('pointercancel', lift, true);
    return () => {
      document.removeEventListener('pointerdown', press, true);
      document.removeEventListener('pointerup', lift, true);
      document.removeEventListener('pointercancel', lift, true);
    };
  }, []);
  return {
    isHeld: (key: string): boolean => held.includes(key),
    /** For the element around a line. */
    holding: (key: string) => ({
      onFocus: () => {
        focused.current = key;
        setHeld((before) => (down.current ? [...before.filter((one) => one !== key), key] : [key]));
      },
      onBlur: ({ currentTarget, target, relatedTarget }: FocusMoved) => {
        // What had the focus was settled away: the line takes it, see ToSettle.
        if (currentTarget.contains(relatedTarget) || !target.isConnected) return;
        if (focused.current === key) focused.current = undefined;
        if (!down.current) setHeld((before) => before.filter((one) => one !== key));
      },
    }),
  };
}

interface FocusMoved {
  currentTarget: HTMLElement;
  target: Element;
  relatedTarget: Element | null;
}
