/** What recipients chose, in plans: followed where it may be, and never in the place of a stronger check. */
import { type IdentityCheck, LOOSEST_TERMS } from '../../src/handling/handling';
import { emptyDraft } from '../../src/outgoing/draft';
import { type Known } from '../../src/outgoing/known';
import { makePlan } from '../../src/outgoing/plan';
import { type PlanLine } from '../../src/outgoing/delivery-plan';
import { type Person } from '../../src/people/kept-person';
import { USUAL_WAY } from '../../src/ways/file-way';
import { knownOf } from './known';

const now = new Date('2026-11-20T10:00:00Z');
const AT = '2026-11-10T10:00:00.000Z';
const address = 'lene@postbox.example';

interface About {
  made: IdentityCheck;
  asked: IdentityCheck;
  lock?: 'room' | 'file' | 'openpgp';
  copies?: boolean;
  since?: string;
  person?: Partial<Person>;
  drafted?: 'room' | 'file';
}

function line({ made, asked, lock = 'file', copies = true, since = AT, person = {}, drafted }: About): PlanLine {
  const lene: Person = {
    name: 'Lene Hjort',
    address,
    phone: '+447700900841',
    fileWay: { ...USUAL_WAY, container: 'pdf', telling: 'agreed' },
    chose: { lock, at: AT, check: made },
    ...person,
  };
  const known: Known = {
    ...knownOf(now),
    people: [{ id: '1', revision: 1, updatedAt: now, value: lene }],
    passwords: [
      {
        id: '2',
        revision: 1,
        updatedAt: now,
        value: {
          address,
          direction: 'out',
          password: 'seven lamps',
          guesses: 15,
          since,
          toldAt: since,
          before: [],
          note: '',
        },
      },
    ],
    keys: new Map(
      person.keys === undefined
        ? []
        : [[address, { verdict: { level: 'unchecked' as const, validUntil: undefined }, readsNewest: false } as never]],
    ),
  };
  const draft = {
    ...emptyDraft,
    subject: 'Berths',
    text: 'As agreed.',
    recipients: [{ name: '', address, role: 'to' as const, ...(drafted === undefined ? {} : { lock: drafted }) }],
    terms: { ...LOOSEST_TERMS, clear: false, copies, check: asked, closing: { kind: 'two-weeks' as const } },
  };
  return makePlan(draft, known).plan.lines[0]!;
}

test('followed where its check is as strong as the message’s, and said to be', () => {
  for (const [made, asked] of [
    ['text', 'text'],
    ['text', 'email'],
    ['email', 'told'],
  ] as const) {
    const planned = line({ made, asked });
    expect([planned.chosen.lock, planned.wish]).toEqual(['file', 'followed']);
  }
});

test('not followed after a lesser check, nor is the password it brought taken by another way', () => {
  const planned = line({ made: 'told', asked: 'text' });
  expect([planned.chosen.lock, planned.wish]).toEqual(['room', 'too-weak']);
  expect(planned.recipient.file?.password).toBeUndefined();
  // What a worker agreed with them since is another thing.
  expect(
    line({ made: 'told', asked: 'text', since: '2026-11-15T10:00:00.000Z' }).recipient.file?.password,
  ).toBeDefined();
});

test('a key that came by such a choice is not there until somebody has compared it', () => {
  const kept = { key: 'AA', fingerprint: 'aa', keyIds: [], addedAt: AT, from: 'choice' as const };
  const about = { made: 'told', asked: 'text', lock: 'openpgp' } as const;
  expect(line({ ...about, person: { keys: [kept] } }).recipient.openpgp).toBeUndefined();
  const compared = { ...kept, checked: { at: AT, by: 'Maren' } };
  expect(line({ ...about, person: { keys: [compared] } }).recipient.openpgp).toBeDefined();
  expect(line({ ...about, made: 'text', person: { keys: [kept] } }).recipient.openpgp).toBeDefined();
});

test('the handling decides, the worker decides, and the room can always be chosen', () => {
  expect(line({ made: 'text', asked: 'text', copies: false }).wish).toBe('barred');
  const own = line({ made: 'text', asked: 'text', drafted: 'room' });
  expect([own.chosen.lock, own.wish]).toEqual(['room', 'otherwise']);
  const room = line({ made: 'question', asked: 'text', lock: 'room' });
  expect([room.chosen.lock, room.wish]).toEqual(['room', 'followed']);
});
