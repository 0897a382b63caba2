/** How each kind of condition is chosen and said. */
import { type Condition } from '@under-lock/core/rules/conditions/index';
import { FILE_KINDS, type FileKind, type Part as MessagePart } from '@under-lock/core/rules/facts';
import { KIND_WORDS, type Kind } from '@under-lock/core/scan/finding';
import { sizeInWords } from '@under-lock/core/when';
import { type Form, labelled, optionsOf } from './part';

type Of<K extends Condition['kind']> = Extract<Condition, { kind: K }>;

const IS = {
  staff: 'a colleague',
  outsider: 'anybody outside',
  new: 'never written to before',
  'without-lock': 'without a lock of their own',
} as const;
const COUNTED = { all: 'people', outsiders: 'people outside' } as const;
const PARTS: Record<MessagePart, string> = { subject: 'subject', text: 'text', names: 'file names', files: 'files' };
const LOCKED = { any: 'locked or not', open: 'not locked', locked: 'locked already' } as const;
const AS = { reply: 'an answer', forward: 'passed on', either: 'either' } as const;
const FILES: Record<FileKind, string> = {
  picture: 'picture',
  pdf: 'PDF',
  office: 'office file',
  archive: 'archive',
  program: 'program',
  mail: 'mail',
  text: 'plain text',
  other: 'anything else',
};
const MEGABYTE = 1_000_000;

const recipientIs: Form<Of<'recipient-is'>> = {
  label: 'recipient',
  name: 'Who receives it',
  fresh: { kind: 'recipient-is', is: 'outsider' },
  parts: [
    {
      as: 'one',
      label: 'One of them is',
      options: () => optionsOf(IS),
      get: ({ is }) => is,
      set: (value, is) => ({ ...value, is: is as keyof typeof IS }),
    },
  ],
  said: ({ is }) => [IS[is]],
};

const recipientAt: Form<Of<'recipient-at'>> = {
  label: 'recipient',
  name: 'Where they receive it: a domain',
  fresh: { kind: 'recipient-at', domains: [] },
  parts: [
    {
      as: 'list',
      label: 'Domains',
      hint: 'One on each line, as isles-bank.example. What stands under it counts, too.',
      get: ({ domains }) => domains,
      set: (value, domains) => ({ ...value, domains: [...domains] }),
    },
  ],
  said: ({ domains }) => domains,
};

const recipientAmong: Form<Of<'recipient-among'>> = {
  label: 'recipient',
  name: 'One of these people',
  fresh: { kind: 'recipient-among', addresses: [] },
  parts: [
    {
      as: 'list',
      label: 'Addresses',
      hint: 'One on each line.',
      get: ({ addresses }) => addresses,
      set: (value, addresses) => ({ ...value, addresses: [...addresses] }),
    },
  ],
  said: ({ addresses }) => addresses,
};

const recipientCount: Form<Of<'recipient-count'>> = {
  label: 'recipients',
  name: 'How many receive it',
  fresh: { kind: 'recipient-count', of: 'outsiders', least: 20 },
  parts: [
    { as: 'number', label: 'At least', get: ({ least }) => least, set: (value, least) => ({ ...value, least }) },
    {
      as: 'one',
      label: 'Counted are',
      options: () => optionsOf(COUNTED),
      get: ({ of }) => of,
      set: (value, of) => ({ ...value, of: of as keyof typeof COUNTED }),
    },
  ],
  said: ({ of, least }) => [`${least} or more`, COUNTED[of]],
};

const senderIs: Form<Of<'sender-is'>> = {
  label: 'sender',
  name: 'Who sends it',
  fresh: { kind: 'sender-is', addresses: [], departments: [] },
  parts: [
    {
      as: 'many',
      label: 'Departments',
      none: 'No colleague has a department yet. Give them one under Office, Colleagues.',
      options: ({ departments }) => departments,
      get: ({ departments }) => departments,
      set: (value, departments) => ({ ...value, departments: [...departments] }),
    },
    {
      as: 'many',
      label: 'Colleagues',
      options: ({ colleagues }) => colleagues,
      get: ({ addresses }) => addresses,
      set: (value, addresses) => ({ ...value, addresses: [...addresses] }),
    },
  ],
  said: ({ addresses, departments }, { colleagues }) => [...departments, ...labelled(colleagues, addresses)],
};

const presetIs: Form<Of<'preset-is'>> = {
  label: 'handling',
  name: 'The preset it goes under',
  fresh: { kind: 'preset-is', presets: [] },
  parts: [
    {
      as: 'many',
      label: 'Handling presets',
      none: 'There is no preset yet.',
      options: ({ presets }) => presets,
      get: ({ presets }) => presets,
      set: (value, presets) => ({ ...value, presets: [...presets] }),
    },
  ],
  said: ({ presets }, names) => labelled(names.presets, presets),
};

const taggedWith: Form<Of<'tagged-with'>> = {
  label: 'tag',
  name: 'A tag in its subject or first line',
  fresh: { kind: 'tagged-with', tags: [] },
  parts: [
    {
      as: 'many',
      label: 'Tags',
      none: 'There is no tag yet. Make one below the list of rules.',
      options: ({ tags }) => tags,
      get: ({ tags }) => tags,
      set: (value, tags) => ({ ...value, tags: [...tags] }),
    },
  ],
  said: ({ tags }, names) => labelled(names.tags, tags),
};

const saysWords: Form<Of<'says-words'>> = {
  label: 'words',
  name: 'Words or patterns of the office',
  fresh: { kind: 'says-words', lists: [], parts: ['subject', 'text', 'names', 'files'] },
  parts: [
    {
      as: 'many',
      label: 'Lists and patterns',
      none: 'There are none yet. Make one below the list of rules.',
      options: ({ lists }) => lists,
      get: ({ lists }) => lists,
      set: (value, lists) => ({ ...value, lists: [...lists] }),
    },
    {
      as: 'many',
      label: 'Looked for in',
      options: () => optionsOf(PARTS),
      get: ({ parts }) => parts,
      set: (value, parts) => ({ ...value, parts: parts as MessagePart[] }),
    },
  ],
  said: ({ lists, parts }, names) => [
    ...labelled(names.lists, lists),
    ...(parts.length === Object.keys(PARTS).length ? ['anywhere'] : parts.map((part) => PARTS[part])),
  ],
};

const findingIs: Form<Of<'finding-is'>> = {
  label: 'found',
  name: 'What is found in text and files',
  fresh: { kind: 'finding-is', kinds: [], sureOnly: false, least: 1 },
  parts: [
    {
      as: 'many',
      label: 'One of these',
      options: () => optionsOf(KIND_WORDS).filter(({ value }) => value !== 'word' && value !== 'pattern'),
      get: ({ kinds }) => kinds,
      set: (value, kinds) => ({ ...value, kinds: kinds as Kind[] }),
    },
    { as: 'number', label: 'At least', get: ({ least }) => least, set: (value, least) => ({ ...value, least }) },
    {
      as: 'check',
      label: 'Only what is beyond doubt',
      detail: 'Else what only looks like it counts, too',
      get: ({ sureOnly }) => sureOnly,
      set: (value, sureOnly) => ({ ...value, sureOnly }),
    },
  ],
  said: ({ kinds, least, sureOnly }) => [
    ...kinds.map((kind) => KIND_WORDS[kind]),
    `${least} or more`,
    sureOnly ? 'beyond doubt' : 'likely',
  ],
};

const fileIs: Form<Of<'file-is'>> = {
  label: 'file',
  name: 'What kind of file is with it',
  fresh: { kind: 'file-is', kinds: [...FILE_KINDS], locked: 'any', unreadOnly: false, leastSize: 0 },
  parts: [
    {
      as: 'many',
      label: 'By what is in it, not by its ending',
      options: () => optionsOf(FILES),
      get: ({ kinds }) => kinds,
      set: (value, kinds) => ({ ...value, kinds: kinds as FileKind[] }),
    },
    {
      as: 'one',
      label: 'Locked',
      options: () => optionsOf(LOCKED),
      get: ({ locked }) => locked,
      set: (value, locked) => ({ ...value, locked: locked as keyof typeof LOCKED }),
    },
    {
      as: 'check',
      label: 'Only what can’t be looked into',
      detail: 'A picture, a locked or damaged file, one too large to look through',
      get: ({ unreadOnly }) => unreadOnly,
      set: (value, unreadOnly) => ({ ...value, unreadOnly }),
    },
    {
      as: 'number',
      label: 'Megabytes at least',
      hint: '0 for any size.',
      get: ({ leastSize }) => leastSize / MEGABYTE,
      set: (value, megabytes) => ({ ...value, leastSize: Math.round(megabytes * MEGABYTE) }),
    },
  ],
  said: ({ kinds, locked, unreadOnly, leastSize }) => [
    ...(kinds.length === FILE_KINDS.length ? ['any'] : kinds.map((kind) => FILES[kind])),
    ...(locked === 'any' ? [] : [LOCKED[locked]]),
    ...(unreadOnly ? ['can’t be looked into'] : []),
    ...(leastSize === 0 ? [] : [`${sizeInWords(leastSize)} or more`]),
  ],
};

const fileNamed: Form<Of<'file-named'>> = {
  label: 'file name',
  name: 'What a file is called',
  fresh: { kind: 'file-named', patterns: [] },
  parts: [
    {
      as: 'list',
      label: 'Names',
      hint: 'One on each line. * stands for anything, ? for one sign: pay*.xlsx',
      get: ({ patterns }) => patterns,
      set: (value, patterns) => ({ ...value, patterns: [...patterns] }),
    },
  ],
  said: ({ patterns }) => patterns,
};

const fileCount: Form<Of<'file-count'>> = {
  label: 'files',
  name: 'How many files are with it',
  fresh: { kind: 'file-count', least: 1 },
  parts: [{ as: 'number', label: 'At least', get: ({ least }) => least, set: (value, least) => ({ ...value, least }) }],
  said: ({ least }) => [`${least} or more`],
};

const answering: Form<Of<'answering'>> = {
  label: 'answers',
  name: 'Whether it answers or passes on',
  fresh: { kind: 'answering', as: 'forward', hadLock: false },
  parts: [
    {
      as: 'one',
      label: 'It is',
      options: () => optionsOf(AS),
      get: ({ as }) => as,
      set: (value, as) => ({ ...value, as: as as keyof typeof AS }),
    },
    {
      as: 'check',
      label: 'Only of what was under lock',
      get: ({ hadLock }) => hadLock,
      set: (value, hadLock) => ({ ...value, hadLock }),
    },
  ],
  said: ({ as, hadLock }) => [
    as === 'either' ? 'an answer or passed on' : AS[as],
    ...(hadLock ? ['was under lock'] : []),
  ],
};

const headerIs: Form<Of<'header-is'>> = {
  label: 'header',
  name: 'A header field of a mail program',
  fresh: { kind: 'header-is', name: '' },
  parts: [
    {
      as: 'text',
      label: 'Field',
      hint: 'As “Sensitivity” or “Importance”. What is written here has none: it acts on what comes from mail programs.',
      get: ({ name }) => name,
      set: (value, name) => ({ ...value, name }),
    },
    {
      as: 'text',
      label: 'Value',
      hint: 'As “Company-Confidential” or “high”; left empty, any value.',
      get: ({ value = '' }) => value,
      set: ({ kind, name }, value) => ({ kind, name, ...(value.trim() === '' ? {} : { value }) }),
    },
  ],
  said: ({ name, value }) => [name, ...(value === undefined ? [] : [value])],
};

export const CONDITION_FORMS: { [K in Condition['kind']]: Form<Of<K>> } = {
  'finding-is': findingIs,
  'says-words': saysWords,
  'tagged-with': taggedWith,
  'recipient-is': recipientIs,
  'recipient-at': recipientAt,
  'recipient-among': recipientAmong,
  'recipient-count': recipientCount,
  'sender-is': senderIs,
  'preset-is': presetIs,
  'file-is': fileIs,
  'file-named': fileNamed,
  'file-count': fileCount,
  answering,
  'header-is': headerIs,
};

export const CONDITION_KINDS = Object.keys(CONDITION_FORMS) as Condition['kind'][];

export const conditionForm = ({ kind }: Pick<Condition, 'kind'>): Form<Condition> =>
  CONDITION_FORMS[kind] as unknown as Form<Condition>;
