import { nearTags, offeredTags, type Tag, tagsIn, withOffered, withTag, withoutTags } from '../../src/rules/tags';

const tag = (word: string, over: Partial<Tag> = {}): Tag => ({
  id: `6f2c1b30-0000-4000-8000-0000000000${String(word.length).padStart(2, '0')}`,
  word,
  place: 'subject',
  takenOut: true,
  ...over,
});
const HEALTH = tag('[health]');
const SEALED = tag('sealed bid');
const TAGS = [HEALTH, SEALED];
const words = (subject: string): string[] => tagsIn(TAGS, { subject, text: '' }).map(({ word }) => word);
const near = (subject: string): string[] => nearTags(TAGS, { subject, text: '' }).map(({ written }) => written);

test('a tag counts as it is written, as a whole word and in its place', () => {
  expect(words('[health] Fitness papers')).toEqual(['[health]']);
  expect(words('Papers [health]')).toEqual(['[health]']);
  expect(words('Our sealed bid for berth 3')).toEqual(['sealed bid']);
  expect(words('Unsealed bidding')).toEqual([]);
  expect(words('[Health] Fitness papers')).toEqual([]);
  expect(tagsIn([HEALTH], { subject: '', text: '[health]\nDear all' })).toEqual([]);
  const line = { ...HEALTH, place: 'first-line' as const };
  expect(tagsIn([line], { subject: '', text: '\n[health]\nDear all' })).toEqual([line]);
  expect(tagsIn([line], { subject: '', text: 'Dear all\n[health]' })).toEqual([]);
});

test.each([
  ['[Health] Fitness papers', '[Health]'],
  ['(health) Fitness papers', '(health)'],
  ['[ health ] Fitness papers', '[ health ]'],
  ['[helth] Fitness papers', '[helth]'],
  ['[heallth] Fitness papers', '[heallth]'],
  ['health: Fitness papers', 'health:'],
  ['Our Sealed Bid', 'Sealed Bid'],
  ['Our saeled bid', undefined],
  ['Our sealed  bid', 'sealed  bid'],
  ['sealed bids for berth 3', 'sealed bids'],
])('“%s” is nearly a tag: %s', (subject, written) => {
  expect(near(subject)).toEqual(written === undefined ? [] : [written]);
});

test.each(['Health of the crew', '[wealth] Nothing', '[health] Fitness papers', 'Sealed', '[hall] plan', ''])(
  '“%s” is near to none',
  (subject) => expect(near(subject)).toEqual([]),
);

test('what was nearly one is put right, and what is for the office alone does not leave', () => {
  const [one] = nearTags(TAGS, { subject: 'Papers (Helth) for Pell', text: '' });
  expect(withTag('Papers (Helth) for Pell', one!)).toBe('Papers [health] for Pell');
  const leaving = (tags: readonly Tag[], subject: string, text = '', html = '') =>
    withoutTags(tags, { subject, text, html });
  expect(leaving(TAGS, 'Papers [health] for Pell', '[health]').subject).toBe('Papers for Pell');
  expect(leaving([{ ...HEALTH, takenOut: false }], '[health] Papers').subject).toBe('[health] Papers');
  const line = leaving(
    [{ ...HEALTH, place: 'first-line' }],
    '[health]',
    '[health] Dear all,\nthe [health] papers',
    '<p>[health] Dear all,</p><p>the [health] papers</p>',
  );
  expect(line).toEqual({
    subject: '[health]',
    text: 'Dear all,\nthe [health] papers',
    html: '<p> Dear all,</p><p>the [health] papers</p>',
  });
});

test('a tag is offered as soon as two signs of it are there', () => {
  const offered = (subject: string): string[] => offeredTags(TAGS, subject).map(({ word }) => word);
  expect(offered('Papers [h')).toEqual(['[health]']);
  expect(offered('Papers he')).toEqual(['[health]']);
  expect(offered('Papers h')).toEqual([]);
  expect(offered('Papers [health]')).toEqual([]);
  expect(offered('Papers ')).toEqual([]);
  expect(withOffered('Papers he', HEALTH)).toBe('Papers [health] ');
});
