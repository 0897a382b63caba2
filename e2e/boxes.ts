/** Measures what is drawn: nothing cut, nothing outside of the window, no line longer than is read well. */
import { type Page } from '@playwright/test';

/** Elements whose words are cut, and whatever sticks out of the window. What is scrolled sideways by itself is not,
 * nor, where that is said, what is shortened with an ellipsis. */
export async function cut(page: Page, { shortened = false } = {}): Promise<string[]> {
  return page.evaluate((mayBeShortened) => {
    const found: string[] = [];
    if (document.documentElement.scrollWidth > innerWidth) found.push('the page scrolls sideways');
    for (const element of document.querySelectorAll<HTMLElement>('#root *')) {
      const style = getComputedStyle(element);
      const box = element.getBoundingClientRect();
      if (box.width === 0 || box.height === 0 || style.visibility === 'hidden' || element.closest('[inert],svg'))
        continue;
      const strip = element.closest('[role="list"]');
      if (
        strip !== null &&
        strip.scrollWidth > strip.clientWidth + 1 &&
        getComputedStyle(strip).overflowX !== 'visible'
      )
        continue;
      const said = (element.innerText ?? '').slice(0, 60);
      if (box.right > innerWidth + 1 || box.left < -1) found.push(`out of the window: ${said}`);
      const own = [...element.childNodes].some((node) => node.nodeType === 3 && node.textContent!.trim() !== '');
      // What is shortened after two or three lines says so by an ellipsis.
      if (
        own &&
        !(mayBeShortened && style.textOverflow === 'ellipsis') &&
        style.webkitLineClamp === 'none' &&
        style.overflowX !== 'visible' &&
        element.scrollWidth > element.clientWidth + 1
      )
        found.push(`cut: ${said}`);
    }
    return [...new Set(found)];
  }, shortened);
}

const MOST_CHARACTERS = 75;
/** Running text whose first line holds more. */
export const tooLong = (page: Page): Promise<string[]> =>
  page.evaluate((most) => {
    const texts = document.createTreeWalker(document.querySelector('#root')!, NodeFilter.SHOW_TEXT);
    const found: string[] = [];
    for (let node = texts.nextNode(); node !== null; node = texts.nextNode()) {
      const text = node.textContent!;
      if (text.length <= most + 5 || node.parentElement!.closest('[inert]') !== null) continue;
      const range = document.createRange();
      const topAt = (offset: number): number => {
        range.setStart(node!, offset);
        range.setEnd(node!, offset + 1);
        return range.getBoundingClientRect().top;
      };
      range.selectNodeContents(node);
      const isDrawn = range.getBoundingClientRect().width > 0;
      if (isDrawn && topAt(most) === topAt(0)) found.push(text.slice(0, 100));
    }
    return found;
  }, MOST_CHARACTERS);

/** Of the window: phones held both ways, a tablet, two desks. */
export const sizes = [
  [390, 844],
  [844, 390],
  [768, 1024],
  [1280, 800],
  [1920, 1080],
] as const;
