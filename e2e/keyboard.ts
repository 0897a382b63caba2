/** What somebody without a mouse does. */
import { type Locator, type Page } from '@playwright/test';

/** Presses Tab until the element has the focus, as somebody without a mouse must be able to. */
export async function tabTo(page: Page, target: Locator): Promise<void> {
  await target.waitFor();
  for (let presses = 0; presses < 120; presses++) {
    if (await target.evaluate((element) => element === document.activeElement)) return;
    await page.keyboard.press('Tab');
  }
  throw new Error(`Tab never came to ${target}`);
}

export async function press(page: Page, target: Locator): Promise<void> {
  await tabTo(page, target);
  await page.keyboard.press('Enter');
}

export async function type(page: Page, target: Locator, text: string): Promise<void> {
  await tabTo(page, target);
  await page.keyboard.type(text);
}
