/** Measures what is drawn: nothing cut, nothing outside of the window, no line longer than is read well. */
import { type Page } from '@playwright/test';

/** Elements whose words are cut, and whatever sticks out of the window. */
export async function cut(page: Page): Promise<string[]> {
  return page.evaluate(() => {
    const found: string[] = [];
    if (document.documentElement.scrollWidth > innerWidth) found.push('the page scrolls sideways');
    for (const element of document.querySelectorAll<HTMLElement>('#root *')) {
      const style = getComputedStyle(element);
      const box = element.getBoundingClientRect();
      if (box.width === 0 || box.height === 0 || style.visibility === 'hidden' || element.closest('[inert],svg'))
        continue;
      const said = (element.innerText ?? '').slice(0, 60);
      if (box.right > innerWidth + 1 || box.left < -1) found.push(`out of the window: ${said}`);
      const own = [...element.childNodes].some((node) => node.nodeType === 3 && node.textContent!.trim() !== '');
      // What is shortened after two or three lines says so by an ellipsis.
      if (
        own &&
        style.webkitLineClamp === 'none' &&
        style.overflowX !== 'visible' &&
        element.scrollWidth > element.clientWidth + 1
      )
        found.push(`cut: ${said}`);
    }
    return [...new Set(found)];
  });
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
