/** What is seen in a message, with its place; harmless once is harmless wherever the same stands. */
import { utf8 } from '../../src/bytes';
import { seenInFile, seenInMessage } from '../../src/scan/message';

const CARD = '4111 1111 1111 1111';

test('subject, text and names of files each say where', async () => {
  const seen = await seenInMessage(
    {
      subject: `Card ${CARD}`,
      text: 'Visa 4111-1111-1111-1111\npassword: Fähre#77',
      fileNames: ['card_4111111111111111.pdf'],
    },
    { thisYear: 2026 },
  );
  expect(seen.map(({ of, where, excerpt }) => [of, where, excerpt])).toEqual([
    ['card', { in: 'subject' }, '41•• •••• •••• ••11'],
    ['card', { in: 'text' }, '41••-••••-••••-••11'],
    ['password', { in: 'text' }, expect.stringContaining('password:')],
    ['card', { in: 'name', file: 'card_4111111111111111.pdf' }, '41••••••••••••11'],
  ]);
  expect(new Set(seen.filter(({ of }) => of === 'card').map(({ id }) => id)).size).toBe(1);
  expect(seen[1]!.around).toEqual({ before: 'Visa ', value: '4111-1111-1111-1111', after: ' password: Fähre#77' });
});

test.each([
  [
    'a word is not cut',
    `${'the ferry leaves '.repeat(9)}${CARD}${' the ferry leaves'.repeat(9)}`,
    '… leaves the ferry leaves the ferry leaves the ferry leaves ',
    ' the ferry leaves the ferry leaves the ferry leaves the …',
  ],
  [
    'nor is what has no words',
    `${'x'.repeat(90)};${CARD};${'y'.repeat(90)}`,
    `… ${'x'.repeat(59)};`,
    `;${'y'.repeat(59)} …`,
  ],
])('what stands around: %s', async (_, text, before, after) => {
  const [seen] = await seenInMessage({ subject: '', text, fileNames: [] }, { thisYear: 2026 });
  expect(seen!.around).toEqual({ before, value: CARD, after });
});

test('a file’s findings have their line, are counted up to two hundred, and stop when nobody wants them any more', async () => {
  const bytes = utf8(`Name;Card\n${Array.from({ length: 300 }, () => `Ada;${CARD}\n`).join('')}`);
  const whole = await seenInFile({ name: 'cards.csv', bytes }, { thisYear: 2026 });
  expect([whole.seen.length, whole.more, whole.unread]).toEqual([200, true, []]);
  expect(whole.seen[1]!.where).toEqual({ in: 'file', files: ['cards.csv'], line: 3 });
  const control = new AbortController();
  control.abort();
  expect((await seenInFile({ name: 'cards.csv', bytes }, { thisYear: 2026 }, { signal: control.signal })).seen).toEqual(
    [],
  );
  const { unread } = await seenInFile(
    { name: 'photo.jpg', bytes: new Uint8Array([0xff, 0xd8, 0xff, 0xe0]) },
    { thisYear: 2026 },
  );
  expect(unread).toEqual([{ place: { files: ['photo.jpg'] }, unread: 'picture' }]);
});
