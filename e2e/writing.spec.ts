/** The letter first: what a phone shows while somebody writes, how few presses it takes, and where the hand stays. */
import { addFiles, desktop, expect, expectAccessible, papers, phone, signIn, test } from './house';
import { beginLetter, choosePreset, closePlan, openPlan } from './writing';

/** A phone's screen with its keyboard up. */
const typing = { width: 390, height: 508 };
const LINE = 24; // CSS pixels, the text's own

test('with the keyboard up eight lines of the text are seen; the keyboard’s own key goes on and sends nothing', async ({
  page,
  house,
  complaints,
}) => {
  await page.setViewportSize(phone);
  await signIn(page, house);
  await page.getByRole('link', { name: 'Write', exact: true }).click();
  await page.getByRole('combobox', { name: 'To' }).fill('pell');
  await page.keyboard.press('Enter');
  await addFiles(page, papers);
  await expect(page.getByRole('button', { name: 'Remove eyesight.jpg' })).toBeVisible();
  await page.setViewportSize(typing);
  await page.getByLabel('Subject').fill('Eight lines');
  await page.keyboard.press('Enter');
  const text = page.getByRole('textbox', { name: 'Text', exact: true });
  await expect(text).toBeFocused();
  await page.keyboard.insertText('A line of the letter. '.repeat(40));
  const seen = async (): Promise<number> => {
    const [letter, tools] = [await text.boundingBox(), await page.getByRole('list', { name: 'Files' }).boundingBox()];
    return (tools!.y - Math.max(0, letter!.y)) / LINE;
  };
  await expect.poll(seen).toBeGreaterThanOrEqual(8);
  await expect(page.getByRole('button', { name: 'Send under lock' })).toBeVisible();
  await expect(page.getByRole('navigation', { name: 'Places' })).toHaveCount(0);
  await expect(page.getByRole('heading', { name: 'Write', level: 1 })).toHaveCount(1);
  // What comes back when the typing is over takes no press away: the plan opens at the first.
  await page.getByRole('button', { name: /^Plan: / }).click();
  await expect(page.getByRole('dialog', { name: 'Before it goes' })).toBeVisible();
  await closePlan(page);
  await page.setViewportSize(phone);
  await expect(page.getByRole('navigation', { name: 'Places' })).toBeVisible();
  await expectAccessible(page);
  expect(complaints).toEqual([]);
});

test('Back closes the plan that lies over the letter, and leaves the letter as it was', async ({ page, house }) => {
  await page.setViewportSize(phone);
  await signIn(page, house);
  await page.getByRole('link', { name: 'Write', exact: true }).click();
  await page.getByLabel('Subject').fill('Tide tables');
  await openPlan(page);
  const address = page.url();
  // Playwright's own way back would wait for a page that never comes.
  await page.evaluate(() => history.back());
  await expect(page.getByRole('dialog', { name: 'Before it goes' })).toHaveCount(0);
  expect(page.url()).toBe(address);
  await expect(page.getByLabel('Subject')).toHaveValue('Tide tables');
});

for (const [size, viewport] of [
  ['a phone', phone],
  ['a desktop', desktop],
] as const)
  test(`on ${size} a message to a known person with a file, under another preset, takes eight presses at most besides typing`, async ({
    page,
    house,
  }) => {
    await page.setViewportSize(viewport);
    await signIn(page, house);
    await page.evaluate(() => {
      const counted = window as unknown as { presses: number };
      counted.presses = 0;
      document.addEventListener('click', ({ isTrusted }) => isTrusted && (counted.presses += 1), true);
    });
    await page.getByRole('link', { name: 'Write', exact: true }).click();
    await page.getByRole('combobox', { name: 'To' }).fill('pell');
    await page.getByRole('option', { name: /Pell Anders/ }).click();
    await page.getByLabel('Subject').click();
    await page.keyboard.type(`Presses on ${size}`);
    await page.keyboard.press('Enter');
    await page.keyboard.type('Please look at page two.');
    await addFiles(page, papers.slice(0, 1));
    await choosePreset(page, /Crew health/);
    await page.getByRole('button', { name: 'Send under lock' }).click();
    await expect(page.getByRole('heading', { name: `Presses on ${size}` })).toBeVisible();
    // Enter in the subject is one of them.
    expect(1 + (await page.evaluate(() => (window as unknown as { presses: number }).presses))).toBeLessThanOrEqual(8);
  });

test('what is missing comes first and is settled without losing one’s place; what is the same for many is said once', async ({
  page,
  house,
  complaints,
}) => {
  await page.setViewportSize(phone);
  await signIn(page, house);
  await page.getByRole('link', { name: 'Write', exact: true }).click();
  const crew = Array.from({ length: 6 }, (_, index) => `deck${index}@islandferry.example`);
  await page.getByRole('combobox', { name: 'To' }).fill(`${crew.join(', ')},`);
  await page.getByLabel('Subject').fill('Rota');
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.insertText('The rota.');
  await openPlan(page);
  const wanting = page.getByRole('list', { name: 'To settle' }).getByRole('listitem');
  const settled = page.getByRole('list', { name: 'Recipients' });
  await expect(wanting).toHaveCount(6);
  await expectAccessible(page);
  for (const [index, one] of crew.entries()) {
    await page.getByLabel(`Phone of ${one}`).fill(`07700 9007${index}0`);
    await page.getByRole('button', { name: 'Keep the number' }).first().click();
    // It stays, and has the focus, until the hand goes on.
    await expect(wanting.filter({ hasText: '● Settled: reading room' })).toBeFocused();
    await expect(wanting).toHaveCount(6 - index);
  }
  await page.getByRole('button', { name: 'As they see it' }).focus();
  await expect(wanting).toHaveCount(0);
  await expect(settled.getByRole('listitem')).toHaveCount(2);
  const more = settled.getByRole('button', { name: '5 more in the same way: reading room · passcode by text message' });
  await more.click();
  await expect(settled.getByRole('listitem')).toHaveCount(7);
  await settled.getByRole('button', { name: /^deck3/ }).click();
  await page.getByRole('radio', { name: 'Locked file', exact: true }).click();
  // Also what is missing now: it is asked for where the hand is.
  await expect(page.getByText('■ Password for the locked file missing')).toBeVisible();
  await expect(page.getByRole('radio', { name: 'Locked file', exact: true })).toBeFocused();
  await closePlan(page);
  await expect(page.getByRole('button', { name: /^Plan: .*1 to settle/ })).toBeFocused();
  await openPlan(page);
  await expect(wanting).toHaveCount(1);
  expect(complaints).toEqual([]);
});

test('a file that speaks of somebody who does not get it is asked about, until its writer speaks of them, too', async ({
  page,
  house,
  complaints,
}) => {
  await page.setViewportSize(desktop);
  await signIn(page, house);
  await beginLetter(page, 'claims@northquay.example', 'The papers you asked for', 'Good morning');
  await addFiles(page, [
    { name: 'offer.txt', mimeType: 'text/plain', buffer: Buffer.from('Offer 2611-17\n\nto Pell Anders, deckhand') },
  ]);
  const doubts = page.getByRole('list', { name: 'Is this right?' });
  await expect(doubts.getByText(/“offer\.txt” speaks of Pell Anders, who does not get it/)).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.insertText(', about Mr Anders: ');
  await expect(doubts).toHaveCount(0);
  expect(complaints).toEqual([]);
});

test('who was never written to together with the others is asked about, once', async ({ page, house, complaints }) => {
  await page.setViewportSize(desktop);
  await signIn(page, house);
  await page.getByRole('link', { name: 'Write', exact: true }).click();
  await page
    .getByRole('combobox', { name: 'To' })
    .fill('claims@northquay.example, records@harbourclinic.example, moved-away@northquay.example,');
  const doubts = page.getByRole('list', { name: 'Is this right?' });
  await expect(doubts.getByText(/was never written to together with the others\.$/)).toBeVisible();
  await expectAccessible(page);
  await doubts.getByRole('button', { name: /^It is right: Former agent was never/ }).click();
  await expect(doubts).toHaveCount(0);
  await page.getByLabel('Subject').fill('Fitness papers');
  await page.reload();
  await expect(page.getByLabel('Subject')).toHaveValue('Fitness papers');
  await expect(page.getByText('Former agent').first()).toBeVisible();
  await expect(doubts).toHaveCount(0);
  expect(complaints).toEqual([]);
});
