/** The office says once what must happen: a rule is written, tried, switched on and acts; what it asks is settled in the plan. */
import { addFiles, desktop, expect, expectAccessible, latestMail, phone, signIn, test } from './house';
import { databaseDump, withDatabase } from './readers';
import { beginLetter, chooseLock, choosePreset, openPlan } from './writing';

test.use({ houseFor: 'rules' });

test('a rule is written, tried on examples, switched on, and acts on what somebody else writes', async ({
  house,
  page,
  complaints,
}) => {
  await page.setViewportSize(desktop);
  await signIn(page, house, 2);
  await page.getByRole('link', { name: 'Office', exact: true }).click();
  await page.getByRole('link', { name: /^Rules/ }).click();
  await page.getByRole('button', { name: 'New word list' }).click();
  await page.getByRole('button', { name: 'Keep it' }).click();
  await expect(page.getByText('Give it a name.')).toBeVisible();
  await page.getByLabel('Name', { exact: true }).fill('Hulls');
  await page.getByLabel('Words', { exact: true }).fill('teal hull\nkeel survey');
  await page.getByRole('button', { name: 'Keep it' }).click();
  await expect(page.getByRole('link', { name: 'Hulls, 2 words' })).toBeVisible();

  await page.getByRole('button', { name: 'New rule' }).click();
  await page.getByRole('button', { name: 'Keep the rule' }).click();
  await expect(page.getByText('Give it a name that says what it is about.')).toBeVisible();
  await page.getByLabel('Name', { exact: true }).fill('Hull reports');
  await page.getByLabel('Workers read').fill('What the yard found belongs to the owner first.');
  await page.getByRole('button', { name: 'Add a condition' }).click();
  await page.getByRole('button', { name: 'Words or patterns of the office' }).click();
  await page.getByRole('button', { name: 'Hulls', exact: true }).click();
  await page.getByRole('button', { name: 'Add what it asks' }).click();
  await page.getByRole('button', { name: 'A question that has to be answered with yes' }).click();
  await page.getByRole('button', { name: 'Keep the rule' }).click();
  await expect(page.getByText('■ Choose a value.')).toBeVisible();
  await page.getByLabel('Workers are asked').fill('Has the owner agreed?');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Keep the rule' }).click();
  await expect(page.getByRole('heading', { name: 'Hull reports', level: 1 })).toBeVisible();
  await expect(page.getByRole('link', { name: /^Hull reports, trying/ })).toBeVisible();

  await page.getByRole('button', { name: 'Add an example' }).click();
  await page.getByLabel('Name of the example').fill('A keel survey to the yard');
  await page.getByLabel('Its text').fill('Here is what the survey of the keel found.');
  await page.getByRole('button', { name: 'Keep the example' }).click();
  const example = page.getByRole('listitem', { name: 'A keel survey to the yard' });
  // It does not act: the words stand in another order.
  await expect(example.getByText('it does not act')).toBeVisible();
  await expect(example.getByText(/^Not acting, not so: words Hulls/)).toBeVisible();
  await example.getByRole('button', { name: /^Change/ }).click();
  await page.getByLabel('Its text').fill('Here are the keel surveys of autumn.');
  await page.getByRole('button', { name: 'Keep the example' }).click();
  await expect(example.getByText('as expected')).toBeVisible();
  await page.getByRole('radio', { name: 'On', exact: true }).click();
  await page.getByRole('button', { name: 'Keep as version 2' }).click();
  await expect(page.getByRole('link', { name: /^Hull reports, on/ })).toBeVisible();
  await expect(page.getByRole('button', { name: /^Version 2, by Ines Varga/ })).toBeVisible();
  await expectAccessible(page);

  await page.setViewportSize(phone);
  await signIn(page, house, 0);
  await beginLetter(page, 'pell.anders@postbox.example', 'The survey', 'Teal hull: frames 14 to 19.');
  await openPlan(page);
  const rules = page.getByRole('list', { name: 'Rules of the office' });
  await expect(rules.getByText('What the yard found belongs to the owner first.')).toBeVisible();
  const send = page.getByRole('button', { name: 'Send under lock' });
  await expect(send).toBeDisabled();
  await expectAccessible(page);
  await rules.getByRole('button', { name: /^Yes, send it/ }).click();
  await expect(rules.getByText('● Yes: Has the owner agreed?')).toBeVisible();
  await send.click();
  await expect(page.getByText('Rules of the office that acted: “Hull reports”.')).toBeVisible({ timeout: 60_000 });
  expect(complaints).toEqual([]);
});

test('a rule says in what files are locked, and that the password has to be agreed; the plan asks for that one', async ({
  house,
  page,
  complaints,
}) => {
  await page.setViewportSize(desktop);
  await signIn(page, house, 2);
  await page.getByRole('link', { name: 'Office', exact: true }).click();
  await page.getByRole('link', { name: /^Rules/ }).click();
  await page.getByRole('button', { name: 'New rule' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Berth plans');
  await page.getByLabel('Workers read').fill('The harbour opens nothing but a PDF under the password on the card.');
  await page.getByRole('button', { name: 'Add a condition' }).click();
  await page.getByRole('button', { name: 'What a file is called' }).click();
  await page.getByLabel('Names').fill('berth*');
  await page.getByRole('button', { name: 'Add what it asks' }).click();
  await page.getByRole('button', { name: 'Files are locked', exact: true }).click();
  await page
    .getByRole('radiogroup', { name: 'Whoever gets a locked file gets it as a' })
    .getByRole('radio', { name: 'PDF', exact: true })
    .click();
  await page
    .getByRole('radiogroup', { name: 'Its password' })
    .getByRole('radio', { name: 'One they have already' })
    .click();
  await page.getByRole('radio', { name: 'On', exact: true }).click();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Keep the rule' }).click();
  await expect(page.getByRole('heading', { name: 'Berth plans', level: 1 })).toBeVisible();
  await expect(page.getByText('PDF', { exact: true })).toBeVisible();

  await page.setViewportSize(phone);
  await signIn(page, house, 0);
  await beginLetter(page, 'harbour.master@skerryport.example', 'Berths for May', 'Here they are.');
  await addFiles(page, [{ name: 'berths.csv', mimeType: 'text/csv', buffer: Buffer.from('1,2') }]);
  await choosePreset(page, /Everyday papers/);
  await chooseLock(page, 'Locked file');
  await expect(page.getByRole('list', { name: 'Rules of the office' })).toContainText(
    'Files are locked in a PDF with a password agreed before.',
  );
  await expect(page.getByText('■ A rule of the office asks for a password that they have already')).toBeVisible();
  await expect(page.getByRole('radio', { name: 'Make one' })).toHaveCount(0);
  await page.getByRole('textbox', { name: /^The password agreed with/ }).fill('card-of-the-northern-tide-9');
  await expectAccessible(page);
  await page.getByRole('button', { name: /^Use this password/ }).click();
  await expect(page.getByText('● Everything is settled')).toBeVisible();
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByText('Rules of the office that acted: “Berth plans”.')).toBeVisible({ timeout: 60_000 });
  const mail = await latestMail(house, 'harbour.master@skerryport.example', /./);
  expect(mail.files.map(({ name }) => name.split('.').at(-1))).toEqual(['pdf']);
  expect(complaints).toEqual([]);
});

test('an account number asks for its preset and a reference; a password goes to nobody; both are counted', async ({
  house,
  page,
  complaints,
}) => {
  await page.setViewportSize(desktop);
  await signIn(page, house, 0);
  await beginLetter(page, 'office@saltmarch.example', 'Your pay', 'We pay into IBAN DE89 3704 0044 0532 0130 00.');
  // The yard is Saltmarsh: one letter is another.
  const doubts = page.getByRole('list', { name: 'Is this right?' });
  await expect(doubts.getByText('office@saltmarch.example: you know saltmarsh.example.')).toBeVisible();
  await page.setViewportSize(phone);
  await expect(page.getByRole('button', { name: /^Plan: .*1 to look at/ })).toBeVisible();
  await page.setViewportSize(desktop);
  await doubts.getByRole('button', { name: /^It is right/ }).click();
  await expect(doubts).toHaveCount(0);
  const rules = page.getByRole('list', { name: 'Rules of the office' });
  await expect(rules.getByRole('listitem', { name: 'Bank details' })).toContainText(
    'At least “Pay and bank details”; a reference number; no copies of their own.',
  );
  const send = page.getByRole('button', { name: 'Send under lock' });
  await expect(send).toBeDisabled();
  await page.getByLabel('Reference number, as a rule asks').fill('PY-2611-040');
  await page.keyboard.press('Tab');
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.press('Control+End');
  await page.keyboard.insertText(' The password: Keel-Haul-77!x');
  await expect(rules.getByRole('listitem', { name: 'Credentials never leave' })).toContainText(
    'It can’t go like this: Take the password or key out, and tell it by phone.',
  );
  await expect(send).toBeDisabled();
  await expectAccessible(page);
  // What stops for longer than a moment is counted, once.
  await expect(async () => {
    const { rows } = await withDatabase(house, (database) =>
      database.query(
        `SELECT f.stopped FROM rule_figures f JOIN policy_changes c ON c.item_id = f.rule_id AND c.value->>'name' = 'Credentials never leave' WHERE f.day >= now()::date - 1`,
      ),
    );
    expect(rows).toEqual([{ stopped: 1 }]);
  }).toPass();
  expect(complaints).toEqual([]);
});

test('a tag is offered while it is typed, put right where it is nearly one, and does not leave', async ({
  house,
  page,
  complaints,
}) => {
  await page.setViewportSize(desktop);
  await signIn(page, house, 0);
  await beginLetter(
    page,
    'tobias.quill@larkmoor.example',
    'Papers of Anders (Crew heath)',
    'Page two, and pay into IBAN DE89 3704 0044 0532 0130 00.',
  );
  await expect(page.getByText('▲ “(Crew heath)” is nearly the tag “[crew health]”.')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Put it right: [crew health]' }).click();
  await expect(page.getByLabel('Subject')).toHaveValue('Papers of Anders [crew health]');
  await expect(page.getByRole('listitem', { name: 'Crew health' })).toBeVisible();
  await page.getByLabel('Subject').fill('Papers of Anders [cr');
  await page.getByRole('button', { name: 'Write the tag [crew health]' }).click();
  await expect(page.getByLabel('Subject')).toHaveValue('Papers of Anders [crew health] ');
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByRole('heading', { name: 'Papers of Anders', level: 1, exact: true })).toBeVisible({
    timeout: 60_000,
  });
  await expect(page.getByText('Rules of the office that acted: “Crew health”.')).toBeVisible();

  // Of what was found the database has the kind and how many, in no spelling what it was.
  const dump = databaseDump(house);
  expect(dump).toContain('"kind": "account"');
  for (const said of ['DE89 3704', 'DE89370400440532013000', '3704 0044', 'Papers of Anders'])
    for (const spelled of [said, Buffer.from(said).toString('hex'), Buffer.from(said).toString('base64').slice(0, -4)])
      expect(dump.includes(spelled)).toBe(false);
  expect(complaints).toEqual([]);
});

test('a rule lets a message leave open on purpose, to whom it says, and not where another rule asks for more', async ({
  house,
  page,
  complaints,
}) => {
  await page.setViewportSize(desktop);
  await signIn(page, house, 2);
  await page.goto(`${house.origin}/office/rules`);
  await page.getByRole('button', { name: 'New rule' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Timetables');
  await page.getByLabel('Workers read').fill('What the harbour hangs up may leave as it is.');
  await page.getByRole('button', { name: 'Add a condition' }).click();
  await page.getByRole('button', { name: 'Where they receive it: a domain' }).click();
  await page.getByLabel('Domains', { exact: true }).fill('saltmarsh.example');
  await page.getByRole('button', { name: 'Add what it asks' }).click();
  await page.getByRole('button', { name: 'It may leave open' }).click();
  await page.getByRole('radio', { name: 'On', exact: true }).click();
  await page.getByRole('button', { name: 'Keep the rule' }).click();
  await expect(page.getByRole('link', { name: /^Timetables, on/ })).toBeVisible();
  await expectAccessible(page);

  await signIn(page, house, 0);
  await beginLetter(page, 'office@saltmarsh.example', 'Winter times', 'The boat leaves at eight.');
  await addFiles(page, [{ name: 'times.csv', mimeType: 'text/csv', buffer: Buffer.from('boat;time\nTeal;8:00\n') }]);
  await expect(page.getByRole('list', { name: 'Rules of the office' }).getByText('It may leave open.')).toBeVisible();
  await page.getByRole('button', { name: 'Nothing in it is secret: send it open' }).click();
  const dialog = page.getByRole('dialog', { name: 'Send it open?' });
  await dialog.getByRole('radio', { name: /^Timetables/ }).click();
  const why = dialog.getByLabel('Why nothing in it is secret');
  await why.fill('It hangs on the');
  await expectAccessible(page);
  // Turned meanwhile, and turned back.
  await page.setViewportSize({ width: 800, height: 1100 });
  await expect(why).toHaveValue('It hangs on the');
  await why.click();
  await why.fill('It hangs on the pier');
  await page.setViewportSize(desktop);
  await expect(why).toHaveValue('It hangs on the pier');
  await dialog.getByRole('button', { name: 'Let it leave open' }).click();
  await expect(page.getByText(/It leaves open, as the rule “Timetables” allows.*“It hangs on the pier”/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Send packed' })).toBeEnabled();
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.press('Control+End');
  await page.keyboard.insertText(' Our sealed bid is lower.');
  await expect(page.getByText(/It leaves open, as the rule/)).toHaveCount(0);
  await expect(page.getByRole('button', { name: 'Send for release' })).toBeVisible();
  expect(complaints).toEqual([]);
});
