/** Release by a second person: who may, what they get to decide by, and what its closing date is counted by. */
import { makeKeyPair } from '../../src/account/key-pair';
import { keyFingerprint } from '../../src/account/key-fingerprint';
import { randomBytes } from '../../src/bytes';
import { LOOSEST_TERMS } from '../../src/handling/handling';
import { type Draft, emptyDraft, plainTerms } from '../../src/outgoing/draft';
import { type Known } from '../../src/outgoing/known';
import { makePlan } from '../../src/outgoing/plan';
import { paperOf } from '../../src/outgoing/release';
import { makeKey } from '../../src/outgoing/split';
import {
  openPaper,
  openReleaseKey,
  openSentence,
  paperSchema,
  sealForRelease,
  sealSentence,
} from '../../src/release/paper';
import { NO_POLICY } from '../../src/rules/policy';
import { type Rule } from '../../src/rules/rule';
import { type Seen } from '../../src/scan/message';
import { knownOf } from './known';

const now = new Date('2026-11-24T10:00:00Z');
const ID = '6f2c1b30-0000-4000-8000-0000000000aa';
const key = { suite: 1, publicKey: randomBytes(1216) };
const rule: Rule = {
  id: '6f2c1b30-0000-4000-8000-00000000000a',
  name: 'Pay lists',
  sentence: 'Two see what people earn before it leaves.',
  state: 'on',
  when: { allOf: [], anyOf: [], noneOf: [] },
  effects: [{ kind: 'release' }],
};
const colleague = (id: string, over: Partial<Known['colleagues'][number]> = {}): Known['colleagues'][number] => ({
  id,
  name: id,
  address: `${id}@larkmoor.example`,
  further: [],
  key,
  mayRelease: true,
  ...over,
});
const seen: Seen = {
  id: 'iban:1',
  kind: 'account',
  of: 'iban',
  confidence: 'sure',
  excerpt: 'DE•• ••30',
  from: 4,
  to: 20,
  count: 1,
  where: { in: 'file', files: ['pay.zip', 'list.xlsx'], sheet: 'June', cell: 'B7' },
  around: { before: 'to ', value: 'DE89 3704', after: ', before noon' },
};
const known = (over: Partial<Known> = {}): Known => ({
  ...knownOf(now),
  colleagues: [colleague('ines')],
  rules: {
    policy: { ...NO_POLICY, version: 1, rules: [rule] },
    looked: { open: [seen], passed: [], files: new Map() },
    isLookedThrough: true,
    newTo: new Set(),
    departments: [],
  },
  ...over,
});
const draft: Draft = {
  ...emptyDraft,
  subject: 'Pay in June',
  text: 'As agreed.',
  releaseNote: ' The bank asked for it. ',
  terms: { ...plainTerms, closing: { kind: 'end-of-week' }, check: 'email' },
  recipients: [{ name: 'Pell', address: 'pell.anders@postbox.example', role: 'to', check: 'email' }],
};
const codes = (given: Known) => makePlan(draft, given).plan.missing.map(({ code }) => code);

test.each<[string, Known['colleagues'][number], Partial<Known>]>([
  ['has no permission', colleague('a', { mayRelease: false }), {}],
  ['has never signed in', colleague('a', { key: undefined }), {}],
  ['has another key than before', colleague('a'), { knownKeys: { a: keyFingerprint(randomBytes(1216)) } }],
  ['wrote it', colleague('a', { address: 'Maren.Oduya@larkmoor.example' }), {}],
  ['wrote it from a further address', colleague('a', { further: ['maren.oduya@larkmoor.example'] }), {}],
])('who %s does not let it go', (_, one, over) => {
  expect(makePlan(draft, known({ colleagues: [one], ...over })).releasers).toEqual([]);
  expect(codes(known({ colleagues: [one], ...over }))).toEqual(['nobody-releases']);
  expect(codes(known({ colleagues: [one, colleague('b')], ...over }))).toEqual([]);
});

test('where no rule asks for it, nobody is asked', () => {
  const { rules } = known();
  const planned = makePlan(draft, known({ colleagues: [], rules: { ...rules!, policy: NO_POLICY } }));
  expect(planned.releasers).toBeUndefined();
  expect(planned.plan.missing).toEqual([]);
});

test('the paper says the plan, the findings with their place, what could not be looked into, and the note', () => {
  const given = known();
  const withFile: Draft = {
    ...draft,
    files: [{ blobId: 'f', name: 'scan.tif', type: 'image/tiff', size: 10, key: makeKey() }],
  };
  const planned = makePlan(withFile, given);
  const paper = paperOf(withFile, planned, given.rules!, now);
  expect(paper).toMatchObject({
    recipients: [{ address: 'pell.anders@postbox.example', lock: 'room', check: { kind: 'email' } }],
    closing: { kind: 'end-of-week' },
    seen: [{ kind: 'account', where: { in: 'file', files: ['pay.zip', 'list.xlsx'], cell: 'B7' } }],
    unread: ['scan.tif'],
    note: 'The bank asked for it.',
    more: false,
  });
});

test('however long names are and however many files, the paper opens', () => {
  const given = known();
  const long = 'x'.repeat(500);
  const deep: Seen = { ...seen, where: { in: 'file', files: Array.from({ length: 30 }, () => long) } };
  const many: Draft = {
    ...draft,
    files: Array.from({ length: 300 }, (_, index) => ({
      blobId: String(index),
      name: long,
      type: 'image/tiff',
      size: 1,
      key: { key: '', salt: '' },
    })),
  };
  const rules = { ...given.rules!, looked: { ...given.rules!.looked, open: [deep] } };
  expect(paperSchema.safeParse(paperOf(many, makePlan(many, given), rules, now)).success).toBe(true);
});

test('a date that was made earlier by the preset is counted as the preset counts; a fixed one is not counted', () => {
  const preset = {
    id: 'p',
    active: true,
    isDefault: true,
    terms: {
      ...plainTerms,
      closing: { kind: 'end-of-today' as const },
      audience: 'anyone' as const,
      receipt: false,
      remindHours: 0,
      mayLoosen: { closing: false, identity: false, rights: false },
    },
  };
  const choice = (terms: Draft['terms'], presets: Known['presets'] = []) =>
    makePlan({ ...draft, terms }, known({ presets })).closingChoice;
  expect(choice(draft.terms, [preset])).toEqual({ kind: 'end-of-today' });
  const exact = { kind: 'exact', local: '2026-11-27T09:00' } as const;
  expect(choice({ ...draft.terms!, closing: exact })).toEqual(exact);
  expect(
    makePlan({ ...draft, answered: LOOSEST_TERMS, passedOnUntil: '2026-11-25T10:00:00Z' }, known()).closingChoice,
  ).toBeUndefined();
});

test('opens for each it was sealed for, and for nobody else; a changed paper does not open', async () => {
  const [ines, tobias, other] = [await makeKeyPair(), await makeKeyPair(), await makeKeyPair()];
  const given = known();
  const paper = paperOf(draft, makePlan(draft, given), given.rules!, now);
  const content = makeKey();
  const sealed = await sealForRelease(ID, content, paper, [
    { id: 'ines', key: ines },
    { id: 'tobias', key: tobias },
  ]);
  for (const [index, pair] of [ines, tobias].entries()) {
    const opened = await openReleaseKey(pair.privateKey, sealed.keys[index]!.sealedKey, ID);
    expect(await openPaper(sealed.paper, opened, ID)).toEqual(paper);
  }
  const [{ sealedKey }] = sealed.keys as [(typeof sealed.keys)[0]];
  await expect(openReleaseKey(other.privateKey, sealedKey, ID)).rejects.toMatchObject({ code: 'not-opened' });
  await expect(openReleaseKey(ines.privateKey, sealedKey, ID.replace('aa', 'ab'))).rejects.toMatchObject({
    code: 'not-opened',
  });
  const opened = await openReleaseKey(ines.privateKey, sealedKey, ID);
  const changed = sealed.paper.slice();
  changed[changed.length - 1]! ^= 1;
  await expect(openPaper(changed, opened, ID)).rejects.toMatchObject({ code: 'not-opened' });
  const sentence = await sealSentence(ines, 'Leave out the list.', ID);
  expect(await openSentence(ines.privateKey, sentence, ID)).toBe('Leave out the list.');
  expect(sealed.paper.length).toBeGreaterThan(200);
});
