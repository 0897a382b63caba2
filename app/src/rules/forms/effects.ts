/** How each kind of effect is chosen and said. */
import {
  type Audience,
  AUDIENCES,
  type HandlingTerms,
  IDENTITY_CHECKS,
  type IdentityCheck,
  LOOSEST_TERMS,
  RIGHTS,
  rightsFrom,
} from '@under-lock/core/handling/handling';
import { KEEPING_LOCKS, type LockName } from '@under-lock/core/locks/index';
import { type Effect } from '@under-lock/core/rules/demand';
import { audienceWords, checkWords, rightWords } from '../../handling/words';
import { firstLower } from '@under-lock/core/first-letter';
import { type Container, type PasswordSource } from '@under-lock/core/ways/file-way';
import { lockWords } from '../../locks/lock-words';
import { containerWords } from '../../passwords/words';
import { termsAsk } from '../words';
import { type Form, labelled, optionsOf, type Part } from './part';

type Of<K extends Effect['kind']> = Extract<Effect, { kind: K }>;
type Floor = Of<'handling'>;

const flag = (
  label: string,
  get: (terms: HandlingTerms) => boolean,
  change: (on: boolean) => Partial<HandlingTerms>,
): Part<Floor> => ({
  as: 'check',
  label,
  get: ({ terms }) => get(terms),
  set: (value, on) => ({ ...value, terms: { ...value.terms, ...change(on) } }),
});

const handling: Form<Floor> = {
  label: 'handling',
  name: 'A handling, at least',
  fresh: { kind: 'handling', terms: { ...LOOSEST_TERMS, check: 'email' } },
  parts: [
    {
      as: 'one',
      label: 'Identity check, or a stronger one',
      options: () =>
        IDENTITY_CHECKS.map((value) => ({ value, label: value === 'question' ? 'any' : checkWords[value] })),
      get: ({ terms }) => terms.check,
      set: (value, check) => ({ ...value, terms: { ...value.terms, check: check as IdentityCheck } }),
    },
    flag(
      'A question besides the passcode',
      ({ question }) => question,
      (question) => ({ question }),
    ),
    {
      as: 'many',
      label: 'Readers may not',
      options: () => RIGHTS.map((value) => ({ value, label: rightWords[value] })),
      get: ({ terms }) => RIGHTS.filter((right) => !terms.rights[right]),
      set: (value, off) => ({
        ...value,
        terms: { ...value.terms, rights: rightsFrom((right) => !off.includes(right)) },
      }),
    },
    flag(
      'A watermark over it',
      ({ watermark }) => watermark,
      (watermark) => ({ watermark }),
    ),
    flag(
      'No copies of their own',
      ({ copies }) => !copies,
      (on) => ({ copies: !on }),
    ),
    flag(
      'Nothing leaves readable',
      ({ clear }) => !clear,
      (on) => ({ clear: !on }),
    ),
    flag(
      'The text is locked as well',
      ({ textOpen }) => !textOpen,
      (on) => ({ textOpen: !on }),
    ),
    {
      as: 'one',
      label: 'For whom',
      options: () =>
        AUDIENCES.filter((one) => one !== 'nobody').map((value) => ({ value, label: audienceWords[value] })),
      get: ({ terms }) => terms.audience,
      set: (value, audience) => ({ ...value, terms: { ...value.terms, audience: audience as Audience } }),
    },
  ],
  said: ({ terms }) => {
    const asked = termsAsk(terms);
    return asked.length === 0 ? ['asks nothing yet'] : asked;
  },
};

const preset: Form<Of<'preset'>> = {
  label: 'handling',
  name: 'A preset, at least',
  fresh: { kind: 'preset', presetId: '' },
  parts: [
    {
      as: 'one',
      label: 'Handling preset',
      options: ({ presets }) => presets,
      get: ({ presetId }) => presetId,
      set: (value, presetId) => ({ ...value, presetId }),
    },
  ],
  said: ({ presetId }, { presets }) => (presetId === '' ? [] : labelled(presets, [presetId])),
};

const onlyLocks: Form<Of<'only-locks'>> = {
  label: 'locks',
  name: 'Only some locks',
  fresh: { kind: 'only-locks', locks: ['room'] },
  parts: [
    {
      as: 'many',
      label: 'Only these',
      options: () => KEEPING_LOCKS.map((value) => ({ value, label: lockWords[value] })),
      get: ({ locks }) => locks,
      set: (value, locks) => ({ ...value, locks: locks as LockName[] }),
    },
  ],
  said: ({ locks }) => KEEPING_LOCKS.filter((one) => locks.includes(one)).map((one) => lockWords[one].toLowerCase()),
};

const noCopies: Form<Of<'no-copies'>> = {
  label: 'copies',
  name: 'No copies of their own',
  fresh: { kind: 'no-copies' },
  parts: [],
  said: () => ['none'],
};

const USUAL = 'usual';
const PASSWORDS: Record<PasswordSource, string> = {
  agreed: 'One they have already',
  new: 'A new one for each message',
};
const lockFiles: Form<Of<'lock-files'>> = {
  label: 'files',
  name: 'Files are locked',
  fresh: { kind: 'lock-files' },
  parts: [
    {
      as: 'one',
      label: 'Whoever gets a locked file gets it as a',
      options: () => [{ value: USUAL, label: 'What is usual for each recipient' }, ...optionsOf(containerWords)],
      get: ({ container = USUAL }) => container,
      set: ({ container: _, ...rest }, container) => ({
        ...rest,
        ...(container === USUAL ? {} : { container: container as Container }),
      }),
    },
    {
      as: 'one',
      label: 'Its password',
      options: () => [{ value: USUAL, label: 'As whoever writes it wants' }, ...optionsOf(PASSWORDS)],
      get: ({ password = USUAL }) => password,
      set: ({ password: _, ...rest }, password) => ({
        ...rest,
        ...(password === USUAL ? {} : { password: password as PasswordSource }),
      }),
    },
  ],
  said: ({ container, password }) => [
    'locked; the text may stay as it is',
    ...(container === undefined ? [] : [containerWords[container]]),
    ...(password === undefined ? [] : [firstLower(PASSWORDS[password])]),
  ],
};

const NEEDS = { reference: 'a reference number', reason: 'a reason' } as const;
const needs: Form<Of<'needs'>> = {
  label: 'needs',
  name: 'A reference number or a reason',
  fresh: { kind: 'needs', what: 'reference' },
  parts: [
    {
      as: 'one',
      label: 'It needs',
      options: () => optionsOf(NEEDS),
      get: ({ what }) => what,
      set: (value, what) => ({ ...value, what: what as keyof typeof NEEDS }),
    },
  ],
  said: ({ what }) => [NEEDS[what]],
};

const wait: Form<Of<'wait'>> = {
  label: 'waits',
  name: 'It waits before it leaves',
  fresh: { kind: 'wait', minutes: 10 },
  parts: [
    {
      as: 'number',
      label: 'Minutes',
      hint: 'As long can it be taken back.',
      get: ({ minutes }) => minutes,
      set: (value, minutes) => ({ ...value, minutes }),
    },
  ],
  said: ({ minutes }) => [minutes === 1 ? 'a minute' : `${minutes} minutes`],
};

const stop: Form<Of<'stop'>> = {
  label: 'stops',
  name: 'It does not go',
  fresh: { kind: 'stop', sentence: '' },
  parts: [
    {
      as: 'text',
      label: 'Workers are told',
      hint: 'Say what to do instead: “Use the bank’s own form.”',
      get: ({ sentence }) => sentence,
      set: (value, sentence) => ({ ...value, sentence }),
    },
  ],
  said: ({ sentence }) => [sentence],
};

const ask: Form<Of<'ask'>> = {
  label: 'asks',
  name: 'A question that has to be answered with yes',
  fresh: { kind: 'ask', sentence: '' },
  parts: [
    {
      as: 'text',
      label: 'Workers are asked',
      hint: 'A question: “Did they ask for it by phone?”',
      get: ({ sentence }) => sentence,
      set: (value, sentence) => ({ ...value, sentence }),
    },
  ],
  said: ({ sentence }) => [sentence],
};

const tell: Form<Of<'tell'>> = {
  label: 'tells',
  name: 'Somebody of the office is told by mail',
  fresh: { kind: 'tell', addresses: [] },
  parts: [
    {
      as: 'many',
      label: 'Told are',
      options: ({ colleagues }) => colleagues,
      get: ({ addresses }) => addresses,
      set: (value, addresses) => ({ ...value, addresses: [...addresses] }),
    },
  ],
  said: ({ addresses }, { colleagues }) => labelled(colleagues, addresses),
};

const release: Form<Of<'release'>> = {
  label: 'waits',
  name: 'Somebody else releases it',
  fresh: { kind: 'release' },
  parts: [],
  said: () => ['until somebody else releases it'],
};

const mayLeaveOpen: Form<Of<'may-leave-open'>> = {
  label: 'allows',
  name: 'It may leave open',
  fresh: { kind: 'may-leave-open' },
  parts: [],
  said: () => ['leaving open, with a reason'],
};

const programsLeaveOpen: Form<Of<'programs-leave-open'>> = {
  label: 'lets through',
  name: 'From mail programs it leaves open, as it was written',
  fresh: { kind: 'programs-leave-open' },
  parts: [],
  said: () => ['open, as it was written, where a mail program hands it in'],
};

const programsLockFiles: Form<Of<'programs-lock-files'>> = {
  label: 'locks the files',
  name: 'From mail programs its files are locked, its text stays open',
  fresh: { kind: 'programs-lock-files', lockedStay: true },
  parts: [
    {
      as: 'one',
      label: 'They are locked in a',
      options: () => [{ value: USUAL, label: 'What is usual for each recipient' }, ...optionsOf(containerWords)],
      get: ({ container = USUAL }) => container,
      set: ({ kind, lockedStay }, container) => ({
        kind,
        lockedStay,
        ...(container === USUAL ? {} : { container: container as Container }),
      }),
    },
    {
      as: 'check',
      label: 'What is locked already goes along as it is',
      detail: 'Otherwise it is packed and locked once more.',
      get: ({ lockedStay }) => lockedStay,
      set: (value, lockedStay) => ({ ...value, lockedStay }),
    },
  ],
  said: ({ container, lockedStay }) => [
    container === undefined ? 'as is usual for each recipient' : containerWords[container],
    'from mail programs, the text open',
    ...(lockedStay ? ['what is locked already stays as it is'] : []),
    'without files it leaves open',
  ],
};

const EFFECT_FORMS: { [K in Effect['kind']]: Form<Of<K>> } = {
  preset,
  handling,
  'only-locks': onlyLocks,
  'no-copies': noCopies,
  'lock-files': lockFiles,
  needs,
  wait,
  ask,
  stop,
  release,
  tell,
  'may-leave-open': mayLeaveOpen,
  'programs-leave-open': programsLeaveOpen,
  'programs-lock-files': programsLockFiles,
};

/** What can be chosen. */
export const EFFECT_KINDS = Object.keys(EFFECT_FORMS) as Effect['kind'][];

export const effectForm = ({ kind }: Pick<Effect, 'kind'>): Form<Effect> =>
  EFFECT_FORMS[kind] as unknown as Form<Effect>;
