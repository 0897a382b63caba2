/**
 * A press counts for what was pressed. Where the page moves while a finger is down, because something above has arrived,
 * a browser makes no click of it, or one on whatever lies there now.
 */
const PRESSED = '[role="button"], [role="link"], [role="radio"], [role="checkbox"], [role="tab"], a[href], button';
/** A finger that goes further has thought better of it. */
const STILL_PX = 10;
/** A finger's own click may come after the rest. */
const CLICK_MS = 100;

interface Down {
  pressed: HTMLElement;
  /** Where it was. */
  top: number;
  left: number;
  /** And the finger. */
  x: number;
  y: number;
}

/** What is only covered by something else, or hidden, is not what anybody meant. */
function hasMoved({ pressed, top, left }: Down): boolean {
  const now = pressed.getBoundingClientRect();
  return now.width > 0 && (now.top !== top || now.left !== left);
}

const isStill = ({ x, y }: Down, { clientX, clientY }: PointerEvent): boolean =>
  Math.hypot(clientX - x, clientY - y) < STILL_PX;

/** What the browser makes of the press by itself is somebody else's. */
function dropItsClick(): void {
  const ended = new AbortController();
  window.addEventListener(
    'click',
    (click) => {
      ended.abort();
      click.stopPropagation();
      click.preventDefault();
    },
    { capture: true, signal: ended.signal },
  );
  setTimeout(() => ended.abort(), CLICK_MS);
}

/** For the whole page, once. */
export function keepPressesSteady(): void {
  let down: Down | undefined;
  const begin = ({ target, isPrimary, button, clientX: x, clientY: y }: PointerEvent): void => {
    const pressed = target instanceof Element ? target.closest<HTMLElement>(PRESSED) : null;
    if (!isPrimary || button !== 0 || pressed === null) return void (down = undefined);
    const { top, left } = pressed.getBoundingClientRect();
    down = { pressed, top, left, x, y };
  };
  const end = (up: PointerEvent): void => {
    const was = down;
    down = undefined;
    if (was === undefined || !isStill(was, up) || !hasMoved(was)) return;
    if (was.pressed.contains(document.elementFromPoint(up.clientX, up.clientY))) return;
    was.pressed.click();
    dropItsClick();
  };
  document.addEventListener('pointerdown', begin, true);
  document.addEventListener('pointerup', end, true);
  document.addEventListener('pointercancel', () => (down = undefined), true);
}
