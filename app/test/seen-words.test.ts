/** What the scan saw, as it is said. */
import { type Seen, type Where } from '@under-lock/core/scan/message';
import { pictureWords, seenWords, unreadSentences, whereWords } from '../src/write/seen/words';

const seen = (over: Partial<Seen>): Seen => ({
  kind: 'card',
  of: 'card',
  from: 0,
  to: 1,
  confidence: 'sure',
  excerpt: '',
  count: 1,
  id: 'x',
  where: { in: 'text' },
  around: { before: '', value: '', after: '' },
  ...over,
});

test('what it is', () => {
  expect(seenWords(seen({}), () => undefined)).toBe('Payment card');
  expect(seenWords(seen({ kind: 'word', of: 'w' }), () => 'Bids')).toBe('“Bids”');
  expect(seenWords(seen({ kind: 'list', of: 'phones', count: 31 }), () => undefined)).toBe(
    'List: 31 telephone numbers',
  );
});

test.each<[Where, string]>([
  [{ in: 'subject' }, 'in the subject'],
  [{ in: 'name', file: 'x' }, 'in a file’s name'],
  [{ in: 'file', files: ['all.zip', 'pay.csv'], line: 14 }, 'in all.zip › pay.csv, line 14'],
  [{ in: 'file', files: ['note.txt'], line: 1 }, 'in note.txt'],
  [{ in: 'file', files: ['pay.xlsx'], sheet: 'Old', part: 'hidden', cell: 'B7' }, 'in pay.xlsx, hidden sheet Old, B7'],
  [{ in: 'file', files: ['form.pdf'], page: 3, part: 'form', line: 9 }, 'in form.pdf, form, page 3'],
  [{ in: 'file', files: ['letter.docx'], part: 'deleted', line: 1 }, 'in letter.docx, deleted text'],
])('%j', (where, words) => {
  expect(whereWords(where)).toBe(words);
});

test('what could not be looked into, a sentence for each file and reason', () => {
  const page = (number: number) => ({ place: { files: ['scan.pdf'], page: number }, unread: 'picture' as const });
  expect(
    unreadSentences([
      { place: { files: ['all.zip', 'inner.zip'] }, unread: 'locked' },
      page(1),
      page(2),
      { place: { files: ['photo.jpg'] }, unread: 'picture' },
    ]),
  ).toEqual([
    'all.zip › inner.zip is locked: not looked into.',
    'scan.pdf, 2 pages, are pictures: not looked into.',
    'photo.jpg is a picture: not looked into.',
  ]);
  expect(unreadSentences([page(4)])).toEqual(['scan.pdf, page 4, is a picture: not looked into.']);
});

test('what a press reads', () => {
  const picture = { place: { files: ['a.png'] }, unread: 'picture' as const };
  const page = (number: number) => ({ place: { files: ['scan.pdf'], page: number }, unread: 'picture' as const });
  expect(pictureWords([{ place: { files: ['a.7z'] }, unread: 'locked' }])).toBeUndefined();
  expect(pictureWords([picture])).toBe('Read this picture');
  expect(pictureWords([page(1)])).toBe('Read this page');
  expect(pictureWords([page(1), page(4)])).toBe('Read these 2 pages');
  expect(pictureWords([page(1), picture])).toBe('Read these 2 pictures');
});
