/**
 * The office's own words: every place they name is known, and a notice made from them has one link, whatever they say.
 */
import fc from 'fast-check';
import PostalMime from 'postal-mime';
import {
  fillText,
  isReadableColour,
  lookProblem,
  NOTICE_PARTS,
  type NoticeLook,
  OUR_COLOUR,
  OUR_LOOK,
  PART_RULES,
  PLACEHOLDERS,
  textProblem,
} from '../src/notice/look';
import { buildNotice } from '../src/locks/carried/notice';
import { type Notice, noticeText, ourTexts } from '../src/notice/notice';
import { LANGUAGES } from '../src/language';

const texts = {
  subject: '{sender} wrote to you',
  greeting: 'Hello {recipient}',
  opening: '{sender} ({address}) left a message.\nIt waits for you.',
  doubt: 'Odd? Ring the pier office.',
  foot: '{office}\nPier 3, Larkmoor',
  outer: 'Sealed mail from {office}',
};
const look: NoticeLook = { colour: '#123456', texts: { en: texts } };
const notice = (over: Partial<Notice> = {}): Notice => ({
  messageId: 'n1@larkmoor.example',
  date: new Date('2026-11-24T10:00:00Z'),
  officeName: 'Larkmoor Ferries',
  sender: { name: 'Maren Oduya', address: 'maren.oduya@larkmoor.example' },
  recipient: { name: 'Pell Anders', address: 'pell.anders@postbox.example' },
  closesAt: new Date('2026-12-03T17:00:00Z'),
  zone: 'Europe/Lisbon',
  check: { kind: 'text', hint: '417', question: false },
  link: 'https://room.larkmoor.example/room/1#share',
  language: 'en',
  look,
  ...over,
});

test.each([
  ['subject', '', 'empty'],
  ['subject', 'x'.repeat(121), 'too-long'],
  ['subject', '{sender}\nBcc: x', 'several-lines'],
  ['subject', 'A message for {recipient}', 'placeholder-elsewhere'],
  ['subject', 'A message', 'placeholder-missing'],
  ['opening', '{sender} ({adress}) wrote', 'unknown-placeholder'],
  ['opening', '{sender} wrote', 'placeholder-missing'],
  ['opening', '{sender} {address} {', 'loose-brace'],
  ['opening', '{sender} {address} } x', 'loose-brace'],
  ['doubt', 'See https://elsewhere.example/help', 'link'],
  ['doubt', 'See www.elsewhere', 'link'],
  ['doubt', 'See larkmoor.example', 'link'],
  ['doubt', 'a \u202e b', 'several-lines'],
  ['foot', 'Pier 3', 'placeholder-missing'],
  ['doubt', 'Write to help@larkmoor.example', undefined],
  ['greeting', 'Hello {recipient},', undefined],
  ['opening', texts.opening, undefined],
] as const)('%s: %j is %s', (part, text, code) => expect(textProblem(part, text)?.code).toBe(code));

test('our own words keep to the rules in every language', () => {
  for (const language of LANGUAGES)
    for (const part of NOTICE_PARTS)
      expect([language, part, textProblem(part, ourTexts(language)[part])]).toEqual([language, part, undefined]);
  expect(lookProblem(OUR_LOOK)).toBeUndefined();
});

test('worded with our own words, a notice is what it is without any', () => {
  for (const language of LANGUAGES) {
    const worded = noticeText(
      notice({ language, look: { colour: OUR_COLOUR, texts: { [language]: ourTexts(language) } } }),
    );
    expect(worded).toEqual(noticeText(notice({ language, look: OUR_LOOK })));
  }
});

test('what is filled in is never read again', () => {
  const name = fc.string({ unit: fc.constantFrom('{', '}', 'sender', 'office', ' ', 'x') });
  fc.assert(
    fc.property(name, name, (sender, office) =>
      expect(fillText('{sender}|{office}', { sender, office, address: '', recipient: '' })).toBe(`${sender}|${office}`),
    ),
  );
});

test.each([
  ['#0E5A4C', true],
  ['#123456', true],
  ['#767676', true],
  ['#777777', false],
  ['#FFFFFF', false],
  ['#F4EFE6', false],
  ['#7A4E00', true],
])('white on %s can be read: %s', (colour, readable) => expect(isReadableColour(colour)).toBe(readable));

test('the first thing wrong is named with its part and language', () => {
  expect(lookProblem({ colour: '#FFFFFF', texts: {} })).toMatchObject({ part: 'colour' });
  expect(lookProblem({ colour: OUR_COLOUR, texts: { en: texts, pt: { ...texts, opening: 'x' } } })).toMatchObject({
    part: 'opening',
    language: 'pt',
    problem: { code: 'placeholder-missing' },
  });
});

test('the office’s words stand in both parts of the mail, beside the date, the check and the one link', async () => {
  const mail = await PostalMime.parse(buildNotice(notice()));
  expect(mail.subject).toBe('Maren Oduya wrote to you');
  for (const body of [mail.text!, mail.html!]) {
    expect(body).toContain('Hello Pell Anders');
    expect(body).toContain('Thu 3 December 2026, 17:00');
    expect(body).toContain('phone ending in 417');
    expect(body).toContain('Odd? Ring the pier office.');
    expect(body.match(/https?:/g)).toHaveLength(1);
  }
  expect(mail.html).toContain('It waits for you.');
  expect(mail.html).toContain('background:#123456');
  expect(mail.text).toContain('Larkmoor Ferries\nPier 3, Larkmoor');
});

test('another language, a reader without a name, a reply and what was passed on speak our words where the office’s would not fit', () => {
  expect(noticeText(notice({ language: 'de' })).subject).toBe('Maren Oduya hat eine Nachricht für Sie hinterlegt');
  expect(noticeText(notice({ recipient: { name: '', address: 'x@postbox.example' } })).text).toMatch(/^Good day,/);
  expect(noticeText(notice({ from: { name: 'Larkmoor', address: 'reading-room@larkmoor.example' } })).text).toContain(
    'has replied to all',
  );
  expect(noticeText(notice({ passedOnBy: { name: 'Pell', address: 'pell@postbox.example' } })).text).toContain(
    'has passed on to you',
  );
});

test('whatever an office and a sender are called, the HTML holds no markup of theirs and one link', () => {
  const hostile = fc.constantFrom(
    '<img src=x onerror=alert(1)>',
    '"><script>1</script>',
    '{office}',
    '&amp;',
    "'><a href=//x>",
    'Maren',
  );
  fc.assert(
    fc.property(hostile, hostile, fc.constantFrom('<b>', '&', '"', 'plain'), (sender, office, extra) => {
      const { html } = noticeText(
        notice({
          sender: { name: sender, address: 'm@larkmoor.example' },
          officeName: office,
          look: { colour: OUR_COLOUR, texts: { en: { ...texts, doubt: `Odd? ${extra}` } } },
        }),
      );
      expect(html.match(/<(?:img|script|b|a)\b/g)).toEqual(['<a']);
      expect(html.match(/<[^>]*href=/g)).toHaveLength(1);
    }),
  );
});

test('every placeholder that is allowed somewhere can be filled', () => {
  expect(new Set(Object.values(PART_RULES).flatMap(({ may }) => may))).toEqual(new Set(PLACEHOLDERS));
});
