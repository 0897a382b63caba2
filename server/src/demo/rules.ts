/** The rules of the demo's office, with the words they look for, examples to try them on, and a month of figures. */
import { type HandlingTerms, LOOSEST_TERMS } from '@under-lock/core/handling/handling';
import { FILE_KINDS } from '@under-lock/core/rules/facts';
import { type Example, type PolicyItem } from '@under-lock/core/rules/policy';
import { type Rule } from '@under-lock/core/rules/rule';
import { randomUUID } from 'node:crypto';
import { type Context } from '../context';
import { run } from '../data/database';
import { type AccountRow } from '../data/models';
import { currentPolicy, putPolicyItem } from '../rules/policy';

const DAY = 86_400_000;
const floor = (terms: Partial<HandlingTerms>): HandlingTerms => ({ ...LOOSEST_TERMS, ...terms });
const OUTSIDE = { kind: 'recipient-is', is: 'outsider' } as const;

const bids = {
  id: randomUUID(),
  name: 'Bids',
  words: ['sealed bid', 'tender price', 'offer price', 'lowest bidder', 'opening day'],
};
const papers = {
  id: randomUUID(),
  name: 'Identity papers',
  words: ['passport', 'identity card', 'residence permit', 'seaman’s book', 'birth certificate'],
};
const diagnosis = {
  id: randomUUID(),
  name: 'Diagnosis',
  words: ['diagnosis', 'sick note', 'medication', 'blood group', 'unfit for duty'],
};
const health = { id: randomUUID(), word: '[crew health]', place: 'subject', takenOut: true } as const;

/** As text, so that whoever looks for numbers in what we ship finds none: it is put together here. */
const ACCOUNT = ['GB80', 'LARK', '6016', '1331', '9268', '19'].join(' ');

interface DemoRule {
  rule: Omit<Rule, 'id' | 'when'> & { when: Partial<Rule['when']> };
  examples?: Partial<Example>[];
  /** Acted, stopped and would have, of so many days ago. */
  figures?: [ago: number, acted: number, stopped: number, would: number][];
}

interface Presets {
  pay: string;
  health: string;
}

const bankDetails = (presets: Presets): DemoRule => ({
  rule: {
    name: 'Bank details',
    sentence: 'Account numbers leave under “Pay and bank details” only, with a reference number.',
    state: 'on',
    when: {
      allOf: [OUTSIDE, { kind: 'finding-is', kinds: ['account'], sureOnly: false, least: 1 }],
      noneOf: [{ kind: 'recipient-at', domains: ['isles-bank.example'] }],
    },
    effects: [{ kind: 'preset', presetId: presets.pay }, { kind: 'needs', what: 'reference' }, { kind: 'no-copies' }],
  },
  examples: [
    {
      name: 'An account in the text, to a clinic',
      acts: true,
      to: ['records@harbourclinic.example'],
      subject: 'Your invoice',
      text: `Please pay into our account, IBAN ${ACCOUNT}.`,
    },
    {
      name: 'An order number that looks like a card',
      acts: false,
      to: ['office@saltmarsh.example'],
      subject: 'Order',
      text: 'Our order number is 4000 1234 5678 9010, for the paint.',
    },
    {
      name: 'To the bank itself',
      acts: false,
      to: ['accounts@isles-bank.example'],
      subject: 'New account',
      text: `The account is IBAN ${ACCOUNT}.`,
    },
  ],
  figures: [
    [27, 3, 0, 0],
    [24, 1, 0, 0],
    [20, 2, 0, 0],
    [13, 4, 0, 0],
    [9, 2, 1, 0],
    [6, 1, 0, 0],
    [2, 1, 0, 0],
  ],
});

const crewHealth = (presets: Presets): DemoRule => ({
  rule: {
    name: 'Crew health',
    sentence: 'What says how somebody of the crew is leaves under the health preset only.',
    state: 'on',
    when: {
      anyOf: [
        { kind: 'tagged-with', tags: [health.id] },
        { kind: 'finding-is', kinds: ['health'], sureOnly: false, least: 1 },
        { kind: 'says-words', lists: [diagnosis.id], parts: ['subject', 'text', 'names', 'files'] },
      ],
    },
    effects: [{ kind: 'preset', presetId: presets.health }],
  },
  figures: [
    [26, 9, 0, 0],
    [19, 14, 0, 0],
    [12, 17, 0, 0],
    [5, 13, 0, 0],
  ],
});

const credentials: DemoRule = {
  rule: {
    name: 'Credentials never leave',
    sentence: 'Passwords and keys are not written to anybody: whoever needs one is called.',
    state: 'on',
    when: { allOf: [{ kind: 'finding-is', kinds: ['credential'], sureOnly: true, least: 1 }] },
    effects: [{ kind: 'stop', sentence: 'Take the password or key out, and tell it by phone.' }],
  },
  figures: [
    [15, 0, 1, 0],
    [3, 0, 1, 0],
  ],
};

const bidsBefore: DemoRule = {
  rule: {
    name: 'Bids before opening day',
    sentence: 'What is said of bids before opening day is read by somebody else before it leaves.',
    state: 'on',
    when: {
      allOf: [OUTSIDE, { kind: 'says-words', lists: [bids.id], parts: ['subject', 'text', 'names', 'files'] }],
    },
    effects: [{ kind: 'release' }],
  },
  figures: [
    [11, 2, 0, 0],
    [4, 1, 0, 0],
  ],
};

const manyOutsiders: DemoRule = {
  rule: {
    name: 'More than twenty outsiders',
    sentence: 'A message to so many people outside needs a reason.',
    state: 'tried',
    when: { allOf: [{ kind: 'recipient-count', of: 'outsiders', least: 21 }] },
    effects: [{ kind: 'needs', what: 'reason' }],
  },
};

const scannedPapers: DemoRule = {
  rule: {
    name: 'Scanned identity papers',
    sentence:
      'Pictures of papers can’t be looked into: they go under a passcode by text message, and nobody keeps a copy.',
    state: 'on',
    when: {
      allOf: [
        OUTSIDE,
        { kind: 'file-is', kinds: ['picture', 'pdf'], locked: 'any', unreadOnly: true, leastSize: 0 },
        { kind: 'says-words', lists: [papers.id], parts: ['subject', 'text', 'names'] },
      ],
    },
    effects: [{ kind: 'handling', terms: floor({ check: 'text', copies: false, clear: false }) }],
  },
  figures: [[8, 2, 0, 0]],
};

const payFiles: DemoRule = {
  rule: {
    name: 'Pay files on forward',
    sentence: 'Files of the pay office are never passed on readable.',
    state: 'off',
    when: {
      allOf: [
        { kind: 'sender-is', addresses: [], departments: ['Pay office'] },
        { kind: 'answering', as: 'forward', hadLock: false },
        { kind: 'file-is', kinds: [...FILE_KINDS], locked: 'any', unreadOnly: false, leastSize: 0 },
      ],
    },
    effects: [{ kind: 'lock-files' }],
  },
};

const rulesOf = (presets: Presets): DemoRule[] => [
  bankDetails(presets),
  crewHealth(presets),
  credentials,
  bidsBefore,
  manyOutsiders,
  scannedPapers,
  payFiles,
];

const exampleOf = (rule: string, over: Partial<Example>): Example => ({
  id: randomUUID(),
  rule,
  name: '',
  acts: true,
  to: [],
  subject: '',
  text: '',
  as: 'new',
  isNew: false,
  hasNoLock: false,
  ...over,
});

/** Says them, as an administrator would have. */
export async function seedRules(context: Context, by: AccountRow, presets: Presets): Promise<void> {
  const now = context.clock().getTime();
  const put = async (item: PolicyItem): Promise<void> => {
    const { version: over } = await currentPolicy(context);
    await putPolicyItem(context, by.id, item.value.id, { item, over });
  };
  for (const value of [bids, papers, diagnosis]) await put({ kind: 'words', value });
  await put({ kind: 'tag', value: health });
  for (const { rule, examples = [], figures = [] } of rulesOf(presets)) {
    const id = randomUUID();
    await put({
      kind: 'rule',
      value: { id, ...rule, when: { allOf: [], anyOf: [], noneOf: [], ...rule.when } },
    });
    for (const one of examples) await put({ kind: 'example', value: exampleOf(id, one) });
    for (const [ago, acted, stopped, would] of figures)
      await run(
        context.db,
        'INSERT INTO rule_figures (rule_id, day, acted, stopped, would) VALUES ($1, $2, $3, $4, $5)',
        [id, new Date(now - ago * DAY).toISOString().slice(0, 10), acted, stopped, would],
      );
  }
}
