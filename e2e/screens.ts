import { type Page } from '@playwright/test';
import { type House } from './house';

/** The paths of every main screen, for the one of the demo's people who has written most. */
export async function mainScreens(page: Page, house: House): Promise<string[]> {
  await page.goto(`${house.origin}/people`);
  const person = await page.getByRole('link', { name: /^Pell Anders/ }).getAttribute('href');
  return [
    '/desk',
    '/mail',
    '/mail/received',
    '/mail/drafts',
    '/people',
    '/people/new',
    person!,
    '/keys',
    '/keys/passwords',
    '/keys/passwords/new',
    '/office',
    '/office/notices',
    '/office/slots',
    '/office/trust',
    '/office/colleagues',
    '/office/presets/new',
    '/readers',
    '/account',
    '/write',
  ];
}
