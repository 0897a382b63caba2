/**
 * Mail that people try things with: handed to the office's door, opened one by one, each shown for what it is; nothing
 * is loaded, nothing runs.
 */
import { type Page, test } from '@playwright/test';
import { expect, expectAccessible, type House } from './house';
import { deliver } from './letters';

export interface Tried {
  subject: string;
  raw: Uint8Array;
  seen: RegExp[];
  unseen?: RegExp[];
}

/** From now on; what the page asked of anybody but the house and its outside world. */
export function askedElsewhere(page: Page, house: House): string[] {
  const asked: string[] = [];
  page.on('request', (request) => {
    if (
      !request.url().startsWith(house.origin) &&
      !request.url().startsWith(house.outside) &&
      !/^(data|blob):/.test(request.url())
    )
      asked.push(request.url());
  });
  return asked;
}

/** @param watched The subject of the one whose page is looked at with axe, too. */
export async function expectShownForWhatItIs(
  page: Page,
  house: House,
  tried: readonly Tried[],
  { from, to, watched }: { from: string; to: string; watched: string },
): Promise<void> {
  for (const { raw } of tried) await deliver(house, raw, from, to);
  await page.getByRole('link', { name: 'Mail', exact: true }).click();
  await page.getByRole('link', { name: /^Received/ }).click();
  for (const { subject, seen, unseen = [] } of tried) {
    await test.step(subject, async () => {
      const line = page.getByRole('link', { name: new RegExp(`^${subject}, `) });
      await line.click();
      // The page is this one's, and no longer that of the one before.
      await expect(line).toHaveAttribute('aria-current', 'page');
      await expect(page.getByRole('button', { name: /^Save as a file/ })).toBeVisible({ timeout: 30_000 });
      for (const text of seen) await expect(page.getByText(text).first()).toBeVisible();
      for (const text of unseen) await expect(page.getByText(text)).toHaveCount(0);
      if (subject === watched) await expectAccessible(page);
    });
  }
  expect(await page.title()).not.toBe('run');
}
