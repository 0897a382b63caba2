import { differing, isNearly, skeleton } from '../src/doubts/alike';
import { otherNamed } from '../src/doubts/named';
import { TextWords } from '../src/scan/text-words';
import { type Doubt, doubtKey, doubtsIn, type ToDoubt } from '../src/doubts/doubts';

const YARD = { name: 'Saltmarsh Yard', address: 'office@saltmarsh.example' };
const PELL = { name: 'Pell Anders', address: 'pell.anders@postbox.example' };
const MAREN = { name: 'Maren Oduya', address: 'maren.oduya@larkmoor.example' };
const draft = (over: Partial<ToDoubt> = {}): ToDoubt => ({
  recipients: [],
  known: [YARD, PELL],
  colleagues: [MAREN],
  mailDomain: 'larkmoor.example',
  subject: '',
  text: 'Good morning',
  files: [],
  isAnswer: false,
  together: undefined,
  ...over,
});
const about = (address: string, name = ''): Doubt[] => doubtsIn(draft({ recipients: [{ name, address }] }));

test.each([
  ['office@saltmarch.example', 'domain-alike', 'saltmarsh.example'],
  ['office@saltmarrsh.example', 'domain-alike', 'saltmarsh.example'],
  // A Cyrillic a, a figure for a letter, two letters for one.
  ['office@sаltmarsh.example', 'domain-alike', 'saltmarsh.example'],
  ['office@sa1tmarsh.example', 'domain-alike', 'saltmarsh.example'],
  ['office@saltrnarsh.example', 'domain-alike', 'saltmarsh.example'],
  ['office@saltmarsh.test', 'other-ending', 'saltmarsh.example'],
  ['tobias.quill@larkmoor.test', 'other-ending', 'larkmoor.example'],
  ['offise@saltmarsh.example', 'address-alike', 'office@saltmarsh.example'],
])('%s is asked about: %s', (address, code, known) => {
  expect(about(address)).toEqual([{ code, address, known }]);
});

test('a colleague’s name at a private mailbox is asked about; theirs at the office is not', () => {
  const address = 'maren.oduya@islandmail.example';
  expect(about(address)).toEqual([{ code: 'private-mailbox', address, colleague: 'Maren Oduya' }]);
  expect(about('m.o@islandmail.example', 'Oduya, Maren')).toMatchObject([{ code: 'private-mailbox' }]);
  expect(about(MAREN.address)).toEqual([]);
});

test('one who was never written to together with the others is asked about; a new circle, a pair and somebody new are not', () => {
  const LENE = { name: 'Lene Hjort', address: 'lene@pilots.example' };
  const MIRA = { name: 'Mira Sand', address: 'Mira@reef.example' };
  const known = [YARD, PELL, LENE, MIRA];
  const asked = (recipients: ToDoubt['recipients'], together?: string[]) =>
    doubtsIn(draft({ known, recipients, together: together && new Set(together) }));
  const circle = [YARD, PELL, MIRA];
  expect(asked(circle, [YARD.address, PELL.address])).toEqual([
    { code: 'never-together', address: MIRA.address, name: 'Mira Sand' },
  ]);
  expect(asked(circle, [YARD.address, PELL.address, 'mira@reef.example'])).toEqual([]);
  expect(asked(circle)).toEqual([]);
  expect(asked(circle, [])).toEqual([]);
  expect(asked([YARD, MIRA], [])).toEqual([]);
  expect(asked([YARD, PELL, LENE, MIRA], [YARD.address, PELL.address])).toEqual([]);
  const nobody = { name: '', address: 'somebody@elsewhere.example' };
  expect(asked([YARD, PELL, nobody], [YARD.address, PELL.address])).toEqual([]);
});

test('a file that speaks of somebody known, and of nobody who gets it, is asked about; not what its writer speaks of, too', () => {
  const words = (text: string): TextWords => {
    const made = new TextWords();
    made.add(text);
    return made;
  };
  const other = (text: string, ...recipients: ToDoubt['recipients']) =>
    otherNamed(words(text), [YARD, PELL, MAREN], recipients, 'larkmoor.example')?.address;
  const LENE = { name: 'Lene Hjort', address: 'lene@pilots.example' };
  // By the whole name, either way round, across the cells of a row, whatever its case; by the address.
  for (const text of [
    'Offer for Pell Anders',
    'ANDERS, Pell',
    'nr\tfirst\tlast\n1\tPell\tAnders\n',
    'to pell.anders@postbox.example',
    'Péll Ändérs',
  ])
    expect(other(text, LENE)).toBe(PELL.address);
  const surveyor = { name: 'Mira Talvik, Saltmarsh survey', address: 'mt@reef.example' };
  for (const text of ['Offer for Talvik, Mira', 'Mira Talvik', 'the Saltmarsh survey'])
    expect(otherNamed(words(text), [surveyor], [LENE], 'larkmoor.example')).toBe(surveyor);
  // A part of a name is anybody's, and words far apart are no name.
  for (const text of ['Dear Mr Anders', 'Pell went home. It was Anders who stayed', 'a yard of saltmarsh', ''])
    expect(other(text, LENE)).toBeUndefined();
  // Whoever gets it is meant, by whatever is theirs; colleagues stand in everything.
  expect(other('Offer for Pell Anders, by way of Lene Hjort', LENE)).toBeUndefined();
  expect(other('Pell Anders is brought by the pilots', LENE)).toBeUndefined();
  expect(other('Offer for Pell Anders', PELL)).toBeUndefined();
  expect(other('Written by Maren Oduya', LENE)).toBeUndefined();
  expect(other('Offer for Pell Anders')).toBeUndefined();

  const asked = (over: Partial<ToDoubt>) =>
    doubtsIn(
      draft({
        known: [YARD, PELL, LENE],
        recipients: [LENE],
        files: [{ name: 'offer.pdf', speaksOf: PELL }],
        ...over,
      }),
    );
  expect(asked({})).toEqual([{ code: 'speaks-of-another', file: 'offer.pdf', name: 'Pell Anders' }]);
  expect(asked({ subject: 'Pell’s papers, Anders' })).toEqual([]);
  expect(asked({ text: 'These are for you to hand to Mr Anders.' })).toEqual([]);
  expect(asked({ recipients: [LENE, PELL] })).toEqual([]);
  // What its name says already is not asked twice.
  expect(asked({ files: [{ name: 'anders.pdf', speaksOf: PELL }] })).toMatchObject([{ code: 'names-another' }]);
});

test('words of a file are kept up to a number, in time that grows with its length', () => {
  const words = new TextWords();
  words.add(Array.from({ length: 200_000 }, (_, index) => `w${index}`).join(' '));
  expect(words.has(['w0', 'w1', 'w2'])).toBe(true);
  expect(words.has(['w199999'])).toBe(false);
  const long = new TextWords();
  long.add('a'.repeat(2_000_000));
  expect(long.has(['a'.repeat(60)])).toBe(false);
});

test('another address of somebody known by name is asked about', () => {
  const address = 'p.anders@newpost.example';
  expect(about(address, 'Pell Anders')).toEqual([{ code: 'address-alike', address, known: PELL.address }]);
});

test.each(['office@saltmarsh.example', 'somebody@elsewhere.example', 'records@harbourclinic.example', 'a@b.example'])(
  '%s is not asked about',
  (address) => expect(about(address)).toEqual([]),
);

test('a file called after somebody else who is known is asked about', () => {
  const to = (files: string[], recipients = [PELL]) =>
    doubtsIn(draft({ recipients, files: files.map((name) => ({ name })) })).map(doubtKey);
  expect(to(['Saltmarsh offer 2026.pdf'])).toEqual(['doubt names-another Saltmarsh offer 2026.pdf Saltmarsh Yard']);
  expect(to(['anders-fitness.pdf'], [YARD])).toEqual(['doubt names-another anders-fitness.pdf Pell Anders']);
  expect(to(['anders-fitness.pdf', 'winter.pdf'])).toEqual([]);
  expect(to(['saltmarsh.pdf'], [PELL, YARD])).toEqual([]);
});

test.each([
  ['Please find attached the papers.', 'Please find attached'],
  ['The papers are enclosed.', 'are enclosed'],
  ['Anbei die Unterlagen.', 'Anbei'],
  ['Die Liste finden Sie im Anhang.', 'im Anhang'],
  ['Segue em anexo a lista.', 'em anexo'],
  ['Vous trouverez ci-jointe la liste.', 'ci-jointe'],
  ['W załączeniu lista.', 'W załączeniu'],
])('“%s” without a file is asked about', (text, word) => {
  expect(doubtsIn(draft({ text }))).toEqual([{ code: 'nothing-attached', word }]);
  expect(doubtsIn(draft({ text, files: [{ name: 'list.pdf' }] }))).toEqual([]);
  expect(doubtsIn(draft({ text: `> ${text}\nThank you.` }))).toEqual([]);
});

test('whatever is attached to whatever, it is asked about; what is to follow is not', () => {
  expect(doubtsIn(draft({ text: 'He is attached to the second crew. The rope was attached.' }))).toMatchObject([
    { code: 'nothing-attached', word: 'is attached' },
  ]);
  expect(doubtsIn(draft({ text: 'The rope came loose; attachments follow on Monday.' }))).toEqual([]);
});

test('answering many at once is asked about, writing to them is not', () => {
  const recipients = Array.from({ length: 10 }, (_, index) => ({ name: '', address: `crew.${index}@else.example` }));
  expect(doubtsIn(draft({ recipients, isAnswer: true }))).toEqual([{ code: 'many-answered', count: 10 }]);
  expect(doubtsIn(draft({ recipients }))).toEqual([]);
});

test('what looks the same has one skeleton, and the difference is marked', () => {
  expect(skeleton('sаltmarsh')).toBe(skeleton('saltmarsh'));
  expect(isNearly('yard', 'card')).toBe(false);
  expect(isNearly('saltmarsh.example', 'saltmarsh.example')).toBe(false);
  const marked = (one: string, other: string): string =>
    differing(one, other)
      .map(({ text, differs }) => (differs ? `[${text}]` : text))
      .join('');
  expect(marked('saltmarch', 'saltmarsh')).toBe('saltmar[c]h');
  expect(marked('saltmarrsh', 'saltmarsh')).toBe('saltmar[r]sh');
  expect(marked('saltmrsh', 'saltmarsh')).toBe('saltm[r]sh');
  expect(marked('saltmarsh.test', 'saltmarsh.example')).toBe('saltmarsh.[test]');
});
