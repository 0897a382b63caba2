/** Where a rule says so, what mail programs hand in leaves with its files locked and its text as it was written. */
import { getSent, listSent } from '@under-lock/contract/outgoing';
import { setToldLeft } from '@under-lock/contract/submission';
import { type Summary } from '@under-lock/core/outgoing/draft';
import { openForOwner } from '@under-lock/core/submission/owner';
import { utf8 } from '@under-lock/core/bytes';
import { writeZip } from '@under-lock/core/zip/write';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import PostalMime from 'postal-mime';
import { eventually, type Worker } from '../../server/test/house';
import { tellFailures } from '../../server/src/outgoing/failures';
import { tellLeft } from '../../server/src/submission/left';
import { beginBook, person, type TestBook } from './book';
import {
  type Correspondent,
  correspondent,
  type DoorHouse,
  handIn,
  makeRule,
  openDoorHouse,
  papersPreset,
  whysOf,
} from './mail-programs';

const MAREN = 'maren.oduya@larkmoor.example';
const PELL = 'pell@postbox.example';
const WHARF = 'office@stonewharf.example';
const AGREED = 'tide-harbour-lantern-seven';
let house: DoorHouse;
let maren: Correspondent;
let admin: Worker;
let book: TestBook;

const mailTo = (
  addresses: readonly string[],
  subject: string,
  files: readonly { name: string; bytes: Uint8Array }[],
): string =>
  [
    `From: Maren Oduya <${MAREN}>`,
    `To: ${addresses.join(', ')}`,
    `Subject: ${subject}`,
    'MIME-Version: 1.0',
    'Content-Type: multipart/mixed; boundary=b',
    '',
    '--b',
    'Content-Type: text/html; charset=utf-8',
    '',
    '<p>The <b>roster</b> for June.</p>',
    ...files.flatMap(({ name, bytes }) => [
      '--b',
      `Content-Type: application/octet-stream; name="${name}"`,
      `Content-Disposition: attachment; filename="${name}"`,
      'Content-Transfer-Encoding: base64',
      '',
      Buffer.from(bytes).toString('base64'),
    ]),
    '--b--',
    '',
  ].join('\r\n');

const ROSTER = { name: 'roster.txt', bytes: utf8('Seven on the morning boat.') };
const BERTHS = { name: 'berths.csv', bytes: utf8('1,2') };

beforeAll(async () => {
  house = await openDoorHouse();
  maren = await correspondent(house, 'maren.oduya');
  admin = await house.worker('ines.varga', 'administrator');
  book = await beginBook(admin, maren);
  await book.letDoorIn();
  await papersPreset(admin, { copies: false });
  await book.put('book-person', person('Pell Anders', PELL, { phone: '+447700900417' }));
  await book.put(
    'book-person',
    person('Stonewharf', WHARF, {
      password: { password: AGREED, guesses: 20, since: '2026-01-01T09:00:00Z', toldAt: '2026-01-01T09:00:00Z' },
    }),
  );
  await makeRule(
    admin,
    'Rosters',
    [{ kind: 'header-is', name: 'importance', value: 'high' }],
    [{ kind: 'programs-lock-files', container: 'zip', lockedStay: true }],
  );
}, 120_000);
afterAll(() => house.stop());

const important = (raw: string): string => `Importance: high\r\n${raw}`;

async function mailIn(mailbox: string, subject: string) {
  const parsed = await eventually(async () => {
    const all = await Promise.all(
      house.world.store.mails
        .filter((mail) => mail.mailbox === mailbox)
        .map(({ raw }) => PostalMime.parse(Buffer.from(raw, 'base64'))),
    );
    return all.find((mail) => mail.subject?.includes(subject));
  });
  return {
    ...parsed,
    files: parsed.attachments.map(({ filename, content }) => ({
      name: filename!,
      bytes: new Uint8Array(content as ArrayBuffer),
    })),
  };
}

/** By 7-Zip. Resolves with the names inside, in their order, and with what the first holds. */
function unpacked(bytes: Uint8Array, password: string): { names: string[]; first: string } {
  const file = join(mkdtempSync(join(tmpdir(), 'under-lock-files-')), 'locked.zip');
  writeFileSync(file, bytes);
  const listing = execFileSync('7zz', ['l', '-slt', '-ba', `-p${password}`, file]).toString();
  const names = [...listing.matchAll(/^Path = (.+)$/gm)].map(([, name]) => name!);
  return { names, first: execFileSync('7zz', ['x', '-so', `-p${password}`, file, names[0]!]).toString() };
}

const summaryOf = async (id: string): Promise<Summary> =>
  (await openForOwner(
    maren.key.privateKey,
    'sent',
    id,
    (await maren.client(getSent, { params: { id } })).summary,
  )) as Summary;

const textsTo = (number: string): string[] =>
  house.world.store.texts.filter((text) => text.number === number).map(({ text }) => text);

test('its files are locked in their order under the agreed password, its text and subject stay as they were written', async () => {
  await handIn(house, maren, important(mailTo([WHARF], 'Rosters for June', [ROSTER, BERTHS])), [WHARF]);
  const mail = await mailIn(WHARF, 'Rosters for June');
  expect(mail.html).toContain('The <b>roster</b> for June.');
  expect(mail.text).toContain('roster');
  expect(mail.files).toHaveLength(1);
  expect(unpacked(mail.files[0]!.bytes, AGREED)).toEqual({
    names: ['roster.txt', 'berths.csv'],
    first: 'Seven on the morning boat.',
  });
  const [sent] = (await maren.client(listSent)).messages;
  expect(sent).toMatchObject({ handling: { textOpen: true, clear: false }, rules: { acted: ['Rosters'] } });
});

test('without an agreed password one is made: it goes to them as a text message, and stands with the message', async () => {
  await handIn(house, maren, important(mailTo([PELL], 'Roster for July', [ROSTER])), [PELL]);
  const mail = await mailIn(PELL, 'Roster for July');
  const text = await eventually(() => textsTo('+447700900417').at(-1));
  const [sent] = (await maren.client(listSent)).messages;
  const [kept] = Object.values((await summaryOf(sent!.id)).passwords!);
  expect(kept).toMatchObject({ telling: 'text', told: true });
  expect(text).toContain(kept!.password);
  expect(mail.text).not.toContain(kept!.password);
  expect(unpacked(mail.files[0]!.bytes, kept!.password).first).toBe('Seven on the morning boat.');
});

test('where no number is known, its writer is asked by mail to tell the password; the mail does not hold it', async () => {
  const wren = 'wren.ashby@postbox.example';
  await handIn(house, maren, important(mailTo([wren], 'Roster for August', [ROSTER])), [wren]);
  const mail = await mailIn(wren, 'Roster for August');
  const told = await mailIn(MAREN, 'a password is to be told');
  expect(told.text).toContain(`as a locked file: ${wren}`);
  expect(told.text).toContain(`Tell them the password: ${wren}`);
  const [sent] = (await maren.client(listSent)).messages;
  expect(told.text).toContain(`/mail/${sent!.id}`);
  const [kept] = Object.values((await summaryOf(sent!.id)).passwords!);
  expect(kept).toMatchObject({ telling: 'phone', told: false });
  expect(told.text).not.toContain(kept!.password);
  expect(unpacked(mail.files[0]!.bytes, kept!.password).first).toBe('Seven on the morning boat.');
});

test('what is locked already goes along as it is; where nothing else is there, the mail leaves as it was written', async () => {
  const before = await writeZip({
    files: [{ name: 'inside.txt', bytes: utf8('Theirs.') }],
    lock: { cipher: 'aes-256', password: 'pearl-otter-meadow-nine' },
    date: new Date(),
    isPacked: () => false,
  });
  const locked = { name: 'theirs.zip', bytes: before };
  await handIn(house, maren, important(mailTo([WHARF], 'Both of them', [locked, ROSTER])), [WHARF]);
  const both = await mailIn(WHARF, 'Both of them');
  expect(both.files.map(({ name }) => name).at(-1)).toBe('theirs.zip');
  expect(Buffer.from(both.files[1]!.bytes).equals(before)).toBe(true);
  expect(unpacked(both.files[0]!.bytes, AGREED).names).toEqual(['roster.txt']);

  const alone = important(mailTo([WHARF], 'Only that one', [locked]));
  await handIn(house, maren, alone, [WHARF]);
  const only = await mailIn(WHARF, 'Only that one');
  expect(only.files.map(({ name }) => name)).toEqual(['theirs.zip']);
  const [sent] = (await maren.client(listSent)).messages;
  expect(sent!.copies).toMatchObject([{ lock: 'open' }]);
});

test('where a rule asks for a password that was agreed on before, none is made: the mail waits, and its writer is told why', async () => {
  await makeRule(
    admin,
    'Pay lists',
    [{ kind: 'file-named', patterns: ['wages*'] }],
    [{ kind: 'lock-files', password: 'agreed' }],
  );
  const orrin = 'orrin.vale@postbox.example';
  const wages = { name: 'wages.txt', bytes: utf8('As agreed.') };
  await handIn(house, maren, important(mailTo([orrin], 'Wages for June', [wages])), [orrin]);
  const why = (await whysOf(maren)).find(({ subject }) => subject === 'Wages for June');
  expect(JSON.stringify(why)).toContain('asks for a password that they have already');
  await handIn(house, maren, important(mailTo([WHARF], 'Wages for May', [wages])), [WHARF]);
  const mail = await mailIn(WHARF, 'Wages for May');
  expect(unpacked(mail.files[0]!.bytes, AGREED).first).toBe('As agreed.');
});

test('a colleague gets all of it in the reading room', async () => {
  const tobias = await correspondent(house, 'tobias.reyes');
  const { address } = tobias.account;
  await handIn(house, maren, important(mailTo([address, WHARF], 'For both', [ROSTER])), [address, WHARF]);
  await mailIn(WHARF, 'For both');
  const [sent] = (await maren.client(listSent)).messages;
  expect(sent!.grants.map((grant) => grant.address)).toEqual([address]);
  expect(sent!.copies.map((copy) => [copy.address, copy.lock])).toEqual([[WHARF, 'file']]);
});

test('without the rule, and where another one asks for more, its text does not leave open', async () => {
  await handIn(house, maren, mailTo(['sedge@postbox.example'], 'Not important', [ROSTER]), ['sedge@postbox.example']);
  await makeRule(
    admin,
    'Wharves',
    [{ kind: 'recipient-at', domains: ['stonewharf.example'] }],
    [{ kind: 'no-copies' }],
  );
  await handIn(house, maren, important(mailTo([WHARF], 'Not to the wharf', [ROSTER])), [WHARF]);
  expect((await whysOf(maren)).map(({ subject }) => subject).sort()).toEqual([
    'Not important',
    'Not to the wharf',
    'Wages for June',
  ]);
  expect(house.world.store.mails.some(({ raw }) => Buffer.from(raw, 'base64').includes('Not to the wharf'))).toBe(
    false,
  );
});

test('a notice that is refused comes back to its writer, too', async () => {
  const nobody = 'no-such-person@postbox.example';
  await book.put('book-person', person('Nobody', nobody, { phone: '+447700900418' }));
  await handIn(house, maren, mailTo([nobody], 'Into the room', [ROSTER]), [nobody]);
  await eventually(async () => {
    const [sent] = (await maren.client(listSent)).messages;
    return sent!.grants.find(({ notice }) => notice.state === 'refused');
  });
  await tellFailures(house.server.context);
  const report = await mailIn(MAREN, `Not delivered: your mail to ${nobody}`);
  expect(report.text).toContain(`did not reach ${nobody}: it was refused.`);
});

describe('what left is told as its writer chose', () => {
  const aboutLeft = (): Promise<string[]> =>
    Promise.all(
      house.world.store.mails
        .filter(({ mailbox }) => mailbox === MAREN)
        .map(async ({ raw }) => (await PostalMime.parse(Buffer.from(raw, 'base64'))).subject ?? ''),
    ).then((subjects) => subjects.filter((one) => /has left$|left by your mail programs$/.test(one)));

  test('at once, only where something was changed, or not at all', async () => {
    const before = (await aboutLeft()).length;
    const send = (subject: string, files: readonly (typeof ROSTER)[]): Promise<void> =>
      handIn(house, maren, important(mailTo([PELL], subject, files)), [PELL]);
    await maren.client(setToldLeft, { body: { when: 'never' } });
    await send('Told of nothing', [ROSTER]);
    await maren.client(setToldLeft, { body: { when: 'changed' } });
    await send('As it was written', []);
    expect((await aboutLeft()).length).toBe(before);
    await send('Locked', [ROSTER]);
    expect((await aboutLeft()).length).toBe(before + 1);
    await maren.client(setToldLeft, { body: { when: 'always' } });
    await send('As it was written, too', []);
    expect((await aboutLeft()).length).toBe(before + 2);
  });

  test('once a day, in one mail, and not again', async () => {
    await maren.client(setToldLeft, { body: { when: 'daily' } });
    const before = (await aboutLeft()).length;
    house.clock.real = false;
    house.clock.now = new Date(new Date(Date.now() + 86_400_000).setUTCHours(17, 30));
    await tellLeft(house.server.context);
    await tellLeft(house.server.context);
    const subjects = await aboutLeft();
    expect(subjects).toHaveLength(before + 1);
    expect(subjects.at(-1)).toMatch(/^\d+ mails left by your mail programs$/);
  });
});
