/** The office's own pages on paper, read back by another program. */
import { type Page } from '@playwright/test';
import { desktop, expect, phone, signIn, test } from './house';
import { paperPages, paperText } from './paper';

/** What stands on the sheets, and how many there are. */
async function printed(page: Page): Promise<{ text: string; sheets: number }> {
  const pdf = await page.pdf({ preferCSSPageSize: true });
  return { text: paperText(pdf).replace(/\s+/g, ' '), sheets: paperPages(pdf) };
}

const WIDTHS = [phone, desktop];

test('every list is printed whole, without what is only for the screen; a page that was chosen instead of its list', async ({
  page,
  house,
}) => {
  await signIn(page, house);
  for (const viewport of WIDTHS) {
    await page.setViewportSize(viewport);
    for (const [place, said] of [
      ['/mail', ['Crew list, winter', 'Northquay claims']],
      ['/people', ['Northquay claims', 'Saltmarsh']],
      ['/desk', ['Needs you']],
    ] as const) {
      await page.goto(`${house.origin}${place}`);
      await expect(page.getByText(said[0]).first()).toBeVisible();
      const { text, sheets } = await printed(page);
      for (const words of said) expect(text, `${place} at ${viewport.width}`).toContain(words);
      // Of the frame around nothing.
      expect(text, place).not.toMatch(/Outside world|Press \?|\bFilter\b/);
      expect(sheets, place).toBeGreaterThan(0);
      expect(sheets, place).toBeLessThan(8);
    }
  }
  await page.goto(`${house.origin}/people`);
  await page.getByRole('link', { name: /^Northquay claims/ }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Northquay claims' })).toBeVisible();
  const { text } = await printed(page);
  expect(text).toContain('Northquay claims');
  expect(text).not.toContain('Saltmarsh');
});
