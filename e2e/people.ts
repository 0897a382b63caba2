/** The hand's ways through People: somebody added, their page opened, one lock's means gone into. */
import { type Page } from '@playwright/test';
import { expect } from './house';

export interface Added {
  name: string;
  address: string;
  phone?: string;
  /** Of notices. */ language?: string;
}

/** Ends on their page. */
export async function addPerson(page: Page, { name, address, phone, language }: Added): Promise<void> {
  await page.getByRole('link', { name: 'People', exact: true }).click();
  await page.getByRole('button', { name: 'Add a person' }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill(name);
  await page.getByRole('textbox', { name: 'Address', exact: true }).fill(address);
  if (phone !== undefined) await page.getByRole('textbox', { name: 'Phone for passcodes' }).fill(phone);
  if (language !== undefined) await page.getByLabel('Language of notices').selectOption(language);
  await page.getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(page.getByRole('heading', { name, level: 1 })).toBeVisible();
}

export async function openPerson(page: Page, who: RegExp): Promise<void> {
  await page.getByRole('link', { name: 'People', exact: true }).click();
  await page.getByRole('link', { name: who }).click();
  await expect(page.getByRole('heading', { name: 'How they can be reached' })).toBeVisible();
}

/** On a person's page. */
export async function openMeans(page: Page, lock: 'Certificate' | 'OpenPGP key' | 'Locked file'): Promise<void> {
  const line = page.getByRole('button', { name: new RegExp(`^${lock}: `) });
  await expect(line).toBeVisible();
  if ((await line.getAttribute('aria-expanded')) !== 'true') await line.click();
}
