/** The password book as the pages keep it: history, what is tried for whom, how somebody gets locked files. */
import { OUR_RULES } from '@under-lock/core/locks/file/rules';
import { ALL_WAYS, type FileWay, USUAL_WAY } from '@under-lock/core/ways/file-way';
import { GUESSES } from '@under-lock/core/passwords/minimum';
import { type PasswordEntry } from '@under-lock/core/passwords/entry';
import { passwordsToTry } from '../src/passwords/to-try';
import { type Book, entryFor, withPassword } from '@under-lock/core/passwords/entry';
import { strengthWords, waySentence } from '../src/passwords/words';
import { fileWayOf } from '@under-lock/core/locks/file/known';

const now = new Date('2026-11-25T10:00:00Z');
const entry = (over: Partial<PasswordEntry> = {}): PasswordEntry => ({
  address: 'pell@postbox.example',
  direction: 'out',
  password: 'one-two-three',
  guesses: 14,
  since: now.toISOString(),
  before: [],
  note: '',
  ...over,
});
const book = (...entries: PasswordEntry[]): Book =>
  entries.map((value, index) => ({ id: String(index), revision: 1, updatedAt: now, value }));

test('another password takes its place, and the one before is kept with its end', () => {
  const next = withPassword(
    entry({ note: 'by phone', toldAt: now.toISOString() }),
    { address: 'pell@postbox.example', direction: 'out', password: 'four-five-six', guesses: 15 },
    now,
  );
  expect(next).toEqual({
    address: 'pell@postbox.example',
    direction: 'out',
    password: 'four-five-six',
    guesses: 15,
    since: now.toISOString(),
    note: 'by phone',
    before: [{ password: 'one-two-three', until: now.toISOString() }],
  });
  // The old one again: it leaves the history, and the other goes there.
  expect(
    withPassword(
      next,
      { address: next.address, direction: 'out', password: 'one-two-three', guesses: 14 },
      now,
    ).before.map(({ password }) => password),
  ).toEqual(['four-five-six']);
});

test('the same password again changes nothing but what is now known of it', () => {
  const told = withPassword(
    entry(),
    {
      address: 'pell@postbox.example',
      direction: 'out',
      password: 'one-two-three',
      guesses: 14,
      toldAt: '2026-11-26T10:00:00Z',
    },
    now,
  );
  expect(told).toMatchObject({ before: [], toldAt: '2026-11-26T10:00:00Z' });
  expect(
    withPassword(told, { address: told.address, direction: 'out', password: 'one-two-three', guesses: 14 }, now).toldAt,
  ).toBe('2026-11-26T10:00:00Z');
});

test('the history is bounded', () => {
  let kept = entry();
  for (let index = 0; index < 80; index++)
    kept = withPassword(kept, { address: kept.address, direction: 'out', password: `p${index}`, guesses: 1 }, now);
  expect(kept.before).toHaveLength(50);
});

test('directions are apart, addresses are compared without capitals', () => {
  const both = book(entry(), entry({ direction: 'in', password: 'theirs' }));
  expect(entryFor(both, 'PELL@postbox.example', 'in')?.value.password).toBe('theirs');
  expect(entryFor(both, 'una@postbox.example', 'in')).toBeUndefined();
});

test('for what somebody sends theirs is tried first, then the old ones and ours; for a file without a sender everybody’s', () => {
  const both = book(
    entry({ before: [{ password: 'old', until: now.toISOString() }] }),
    entry({ direction: 'in', password: 'theirs' }),
    entry({ address: 'una@postbox.example', password: 'una' }),
  );
  expect(passwordsToTry(both, 'pell@postbox.example')).toEqual(['theirs', 'one-two-three', 'old']);
  expect(passwordsToTry(both, undefined)).toEqual(['theirs', 'one-two-three', 'old', 'una']);
});

describe('how somebody gets locked files', () => {
  const about = {
    address: 'pell@postbox.example',
    person: undefined,
    scope: undefined,
    password: undefined,
    entry: undefined,
    allowed: ALL_WAYS,
  };
  const person = (way: Partial<FileWay>) => ({
    name: 'Pell',
    address: 'pell@postbox.example',
    fileWay: { ...USUAL_WAY, ...way },
  });
  test('the book’s password serves, unless each message has one of its own', () => {
    expect(fileWayOf({ ...about, entry: entry({ toldAt: now.toISOString() }) }, OUR_RULES).password).toEqual({
      password: 'one-two-three',
      guesses: 14,
      told: true,
    });
    expect(
      fileWayOf({ ...about, person: person({ eachTime: true }), entry: entry() }, OUR_RULES).password,
    ).toBeUndefined();
    expect(
      fileWayOf(
        { ...about, entry: entry(), password: { password: 'mine', guesses: 13, told: false, remember: false } },
        OUR_RULES,
      ).password,
    ).toMatchObject({ password: 'mine' });
  });
  test('this message may lock less', () =>
    expect(fileWayOf({ ...about, scope: 'files' }, OUR_RULES).way.scope).toBe('files'));
  test.each<[Partial<FileWay>, string]>([
    [{}, 'ZIP, AES-256; text and files; one password, told on the phone'],
    [
      { container: 'page', scope: 'files', eachTime: true, telling: 'agreed' },
      'Self-opening page; only the files; a new password each time, agreed before',
    ],
    [{ cipher: 'legacy' }, 'ZIP, Legacy cipher (weak); text and files; one password, told on the phone'],
  ])('%o: %s', (way, sentence) => expect(waySentence({ ...USUAL_WAY, ...way })).toBe(sentence));
});

test.each([
  [GUESSES.least - 1, 'amber'],
  [GUESSES.usual - 1, 'amber'],
  [GUESSES.usual, 'sea'],
  [GUESSES.usual + 5, 'sea'],
] as const)('10^%d guesses: %s', (guesses, tone) => expect(strengthWords(guesses, GUESSES.usual).tone).toBe(tone));
