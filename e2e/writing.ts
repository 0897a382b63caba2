/** The hand's ways through Write, whichever the width: the plan opened, a preset taken, a recipient's line gone into. */
import { type Locator, type Page } from '@playwright/test';
import { expect } from './house';

const strip = (page: Page): Locator => page.getByRole('button', { name: /^Plan: / });
const sheet = (page: Page): Locator => page.getByRole('dialog', { name: 'Before it goes' });

/** A new letter to one address. */
export async function beginLetter(page: Page, to: string, subject: string, text?: string): Promise<void> {
  await page.getByRole('link', { name: 'Write', exact: true }).click();
  await page.getByRole('combobox', { name: 'To' }).fill(`${to},`);
  await page.getByLabel('Subject').fill(subject);
  if (text === undefined) return;
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.insertText(text);
}

/** On a phone it opens over the letter; on a wide screen it is there. */
export async function openPlan(page: Page): Promise<void> {
  const outline = page.getByRole('heading', { name: 'Who gets it how' });
  await expect(strip(page).or(outline).first()).toBeVisible();
  if (!(await outline.isVisible())) await strip(page).click();
  await expect(outline).toBeVisible();
}

export async function closePlan(page: Page): Promise<void> {
  if (!(await sheet(page).isVisible())) return;
  await sheet(page).getByRole('button', { name: 'Back to the text' }).click();
  await expect(sheet(page)).toHaveCount(0);
}

export async function choosePreset(page: Page, name: RegExp): Promise<void> {
  await openPlan(page);
  await page.getByRole('radiogroup', { name: 'Handling preset' }).getByRole('radio', { name }).click();
}

/** One part of the handling: "Closing date", "Readers prove who they are", "What they may do", "For whom". */
export async function openPart(page: Page, about: string): Promise<void> {
  await openPlan(page);
  await page.getByRole('button', { name: new RegExp(`^${about}: `) }).click();
}

/** What is behind a recipient's line, or the other ways of one for whom something is missing. */
export async function openWays(page: Page, who = ''): Promise<void> {
  await openPlan(page);
  const other = page.getByRole('button', { name: new RegExp(`^Another way for ${who}`) });
  const line = page.getByRole('list', { name: 'Recipients' }).getByRole('button', { name: new RegExp(`^${who}`) });
  const way = other.or(line).first();
  await expect(way).toBeVisible();
  if ((await way.getAttribute('aria-expanded')) !== 'true') await way.click();
}

export async function chooseLock(page: Page, lock: string, who = ''): Promise<void> {
  await openWays(page, who);
  await page
    .getByRole('radiogroup', { name: new RegExp(`^Lock for ${who}`) })
    .getByRole('radio', { name: lock, exact: true })
    .click();
}

/** Opens what the recipients will see. */
export async function asTheySeeIt(page: Page): Promise<Locator> {
  await openPlan(page);
  await page.getByRole('button', { name: 'As they see it' }).click();
  return page.getByRole('dialog', { name: 'As they see it' });
}
