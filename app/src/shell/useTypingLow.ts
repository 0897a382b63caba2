import { useEffect, useState } from 'react';
import { useWindowDimensions } from 'react-native';

/** Lower than any phone held upright: a keyboard is up, or it lies on its side. */
const LOW = 600; // CSS pixels

/** Whether what has the focus takes text. */
export const takesText = (element: Element | null): boolean =>
  element instanceof HTMLElement && (element.isContentEditable || element.matches('input, textarea'));

/**
 * Whether somebody is typing in a window with little room: what is not needed for it makes room then. It comes back
 * when no finger is down: what moved under one would take its press away.
 */
export function useTypingLow(): boolean {
  const { height } = useWindowDimensions();
  const [typing, setTyping] = useState(() => takesText(document.activeElement));
  useEffect(() => {
    let down = false;
    const look = (): void => {
      if (takesText(document.activeElement)) setTyping(true);
      else if (!down) setTyping(false);
    };
    // What loses the focus to another field has it still while the event is on its way; a press comes first.
    const lookLater = (): void => void setTimeout(look);
    const press = (): void => void (down = true);
    const lift = (): void => {
      down = false;
      lookLater();
    };
    const heard = [
      ['focusin', look],
      ['focusout', lookLater],
      ['pointerdown', press],
      ['pointerup', lift],
      ['pointercancel', lift],
    ] as const;
    for (const [event, hear] of heard) document.addEventListener(event, hear, true);
    return () => {
      for (const [event, hear] of heard) document.removeEventListener(event, hear, true);
    };
  }, []);
  return typing && height < LOW;
}
