/** Readers’ pages in the language of their browser or in one chosen at the foot of a page; Arabic from right to left. */
import { expect, expectAccessible, latestLink, latestMail, mailCountAtRest, phone, signIn, test } from './house';
import { passByText } from './readers';
import { addPerson } from './people';
import { beginLetter, choosePreset, closePlan } from './writing';

test.use({ houseFor: 'languages', apart: true });

const yusra = 'yusra.haddad@postbox.example';

test('told in Arabic, a reader opens the message from right to left, then chooses Polish, which stays on every page', async ({
  page,
  browser,
  house,
}) => {
  await page.setViewportSize(phone);
  await signIn(page, house);
  await addPerson(page, { name: 'Yusra Haddad', address: yusra, phone: '07700 900417', language: 'Arabic' });
  const before = await mailCountAtRest(house, yusra);
  await beginLetter(page, yusra, 'Berths this winter', 'The berths are as agreed.');
  await choosePreset(page, /^Crew health/);
  await closePlan(page);
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await page.getByRole('heading', { name: 'Berths this winter' }).waitFor();
  const link = await latestLink(house, yusra, before);
  const mail = await latestMail(house, yusra, /./);
  expect(mail.subject).toBe('رسالة لك من Maren Oduya');
  expect(mail.text).toContain('افتحها هنا:');

  const outside = await browser.newContext({ viewport: phone, locale: 'ar-EG' });
  const reading = await outside.newPage();
  const complaints: string[] = [];
  reading.on('console', (one) => ['error', 'warning'].includes(one.type()) && complaints.push(one.text()));
  await reading.goto(link);
  await expect(reading.locator('html')).toHaveAttribute('dir', 'rtl');
  await expect(reading.locator('html')).toHaveAttribute('lang', 'ar');
  await expect(reading.getByRole('heading', { name: 'كتب إليك Maren Oduya' })).toBeVisible();
  await expectAccessible(reading);
  await passByText(reading, house, '+447700900417', {
    send: 'أرسل إليّ الرمز',
    passcode: 'الرمز',
    open: 'فتح الرسالة',
  });
  await expect(reading.getByRole('heading', { name: 'Berths this winter' })).toBeVisible();
  await expectAccessible(reading);
  // Lines begin at the right, also those that are no Arabic; what somebody wrote in English at the left of its own.
  const free = (text: string) =>
    reading.evaluate((wanted) => {
      const found = [...document.querySelectorAll('#root [dir=auto]')].find((one) => one.textContent === wanted);
      const range = document.createRange();
      range.selectNodeContents(found!);
      const { left, right } = range.getBoundingClientRect();
      return { left, right: window.innerWidth - right };
    }, text);
  for (const text of ['اللغة', 'Berths this winter']) {
    const { left, right } = await free(text);
    expect([text, right < left]).toEqual([text, true]);
  }
  expect(await reading.frames()[1]!.evaluate(() => getComputedStyle(document.body).direction)).toBe('ltr');
  expect(await reading.evaluate(() => document.documentElement.scrollWidth)).toBe(phone.width);

  await reading.getByLabel('اللغة').selectOption('Polski');
  await expect(reading.locator('html')).toHaveAttribute('dir', 'ltr');
  await expect(reading.getByText('Nadawca wyłączył:')).toBeVisible();
  await expectAccessible(reading);
  await reading.goto(`${house.origin}/room/list`);
  await expect(reading.getByRole('heading', { name: 'Zaloguj się do swojej listy' })).toBeVisible();
  await page.goto(`${house.origin}/office/slots`);
  await reading.goto(await page.getByText(/^http\S+\/slot\/[\w-]{16}$/).innerText());
  await expect(reading.getByRole('heading', { name: 'Zostaw wiadomość pod kluczem' })).toBeVisible();
  await expectAccessible(reading);
  await reading.getByLabel('Język').selectOption('العربية');
  await expect(reading.getByRole('heading', { name: 'ترك رسالة مقفلة' })).toBeVisible();
  await expectAccessible(reading);
  expect(await reading.evaluate(() => document.documentElement.scrollWidth)).toBe(phone.width);
  // A page that asks before its scripts have come offers it, too.
  await outside.clearCookies();
  await reading.route('**/room/_expo/**', () => undefined);
  await reading.goto(link, { waitUntil: 'commit' });
  await reading.getByLabel('اللغة').selectOption('Français');
  await expect(reading.getByRole('heading', { name: 'Maren Oduya vous a écrit' })).toBeVisible();
  expect(complaints).toEqual([]);
});
