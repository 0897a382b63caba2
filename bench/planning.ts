/** A draft to a thousand people planned under two hundred rules, against the same draft without any, turn by turn. */
import { randomUUID } from 'node:crypto';
import { emptyDraft, plainTerms } from '../core/src/outgoing/draft';
import { type Known } from '../core/src/outgoing/known';
import { makePlan } from '../core/src/outgoing/plan';
import { type Condition } from '../core/src/rules/conditions/index';
import { NO_POLICY } from '../core/src/rules/policy';
import { type Rule } from '../core/src/rules/rule';
import { knownOf } from '../core/test/outgoing/known';
import { median } from './measured';
import { type Row } from './row';

const TURNS = 15;
const PEOPLE = 1_000;
const RULES = 200;

const address = (index: number): string => `crew.${index}@island${index % 40}.example`;

/** One of each kind that has to look at everybody, or at what was found. */
const conditionOf = (index: number): Condition => {
  const kinds: Condition[] = [
    { kind: 'recipient-at', domains: [`elsewhere${index}.example`, `nowhere${index}.example`] },
    { kind: 'recipient-among', addresses: [`nobody.${index}@elsewhere.example`] },
    { kind: 'recipient-count', of: 'outsiders', least: PEOPLE + index },
    { kind: 'recipient-is', is: 'new' },
    { kind: 'finding-is', kinds: ['account'], sureOnly: true, least: 1 + index },
  ];
  return kinds[index % kinds.length]!;
};

const rules: Rule[] = Array.from({ length: RULES }, (_, index) => ({
  id: randomUUID(),
  name: `Rule ${index}`,
  sentence: 'Because the office says so.',
  state: 'on',
  when: { allOf: [conditionOf(index)], anyOf: [], noneOf: [{ kind: 'recipient-is', is: 'staff' }] },
  effects: [{ kind: 'wait', minutes: 1 }],
}));

const now = new Date();
const known: Known = {
  ...knownOf(now, PEOPLE),
  people: Array.from({ length: PEOPLE }, (_, index) => ({
    id: String(index),
    revision: 1,
    updatedAt: now,
    value: {
      name: `Deckhand ${index}`,
      address: address(index),
      phone: `+4477009${String(10_000 + index).padStart(5, '0')}`,
    },
  })) as unknown as Known['people'],
};
const draft = {
  ...emptyDraft,
  subject: 'Winter timetable',
  text: 'Page two.',
  terms: plainTerms,
  recipients: Array.from({ length: PEOPLE }, (_, index) => ({
    name: '',
    address: address(index),
    role: 'to' as const,
  })),
};

export async function planning(): Promise<Row[]> {
  const ruled: Known = {
    ...known,
    rules: {
      policy: { ...NO_POLICY, version: 1, rules },
      looked: { open: [], passed: [], files: new Map() },
      isLookedThrough: true,
      newTo: new Set(),
      departments: [],
    },
  };
  const times: { plain: number[]; ruled: number[] } = { plain: [], ruled: [] };
  for (let turn = 0; turn < TURNS; turn++)
    for (const which of ['plain', 'ruled'] as const) {
      const from = performance.now();
      makePlan(draft, which === 'plain' ? known : ruled);
      // The first warm the engine up.
      if (turn > 2) times[which].push(performance.now() - from);
    }
  return [
    {
      what: `Planning ${PEOPLE} recipients, under ${RULES} rules ÷ without rules`,
      value: (median(times.ruled) / median(times.plain)).toFixed(2),
      aim: '≤ 1.5',
    },
  ];
}
