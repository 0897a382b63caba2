/** The same message, written in Write or handed in by a mail program, is planned alike under any rules. */
import { utf8 } from '@under-lock/core/bytes';
import { buildMessage } from '@under-lock/core/message/build';
import { htmlOfText } from '@under-lock/core/message/text-forms';
import { messageOf } from '@under-lock/core/outgoing/content';
import { type Draft, emptyDraft } from '@under-lock/core/outgoing/draft';
import { type Known } from '@under-lock/core/outgoing/known';
import { makePlan, type Planned } from '@under-lock/core/outgoing/plan';
import { makeKey } from '@under-lock/core/outgoing/split';
import { NO_POLICY, type Policy } from '@under-lock/core/rules/policy';
import { type Rule } from '@under-lock/core/rules/rule';
import { draftOfMail } from '@under-lock/core/submission/draft';
import fc from 'fast-check';
import { knownOf } from '../../core/test/outgoing/known';
import { effect, rule } from '../../core/test/rules/arbitrary';
import { lookThrough } from '../src/look';

const now = new Date('2026-11-26T10:00:00Z');
const SENDER = 'ada@ferry.example';

const policyOf = (rules: readonly Rule[]): Policy => ({
  ...NO_POLICY,
  version: 1,
  rules: [...rules],
  tags: [{ id: 'a', word: 'payroll', place: 'subject', takenOut: false }],
  words: [{ id: 'b', name: 'Bids', words: ['tender', 'berth nine'] }],
});

interface Written {
  draft: Draft;
  files: Map<string, Uint8Array<ArrayBuffer>>;
}

const pieces = fc.constantFrom(
  'Pay to GB29 NWBK 6016 1331 9268 19.',
  'The tender for berth nine.',
  'See the papers.',
  'Zwei Zeilen:\nGrüße',
  'a < b & c',
);
const subjects = fc.constantFrom('Tides', 'Payroll: June', '[payroll] Tender', 'Prüfung der Fähren');
const contents = fc.constantFrom('Ada;GB29 NWBK 6016 1331 9268 19', 'tender', '%PDF-1.4\n%%EOF', '');

const written: fc.Arbitrary<Written> = fc
  .record({
    subject: subjects,
    text: fc.array(pieces, { minLength: 1, maxLength: 3 }).map((all) => all.join('\n\n')),
    to: fc.uniqueArray(
      fc.record({
        address: fc.constantFrom('bo@pay.ferry.example', 'cy@yard.example', 'di@ferry.example', 'ed@else.example'),
        role: fc.constantFrom('to' as const, 'cc' as const),
      }),
      { minLength: 1, maxLength: 3, selector: ({ address }) => address },
    ),
    files: fc.array(fc.record({ name: fc.constantFrom('pay.csv', 'note.txt', 'plan.pdf'), content: contents }), {
      maxLength: 2,
    }),
  })
  .map(({ subject, text, to, files }) => {
    const kept = files.map(({ name, content }, index) => ({ id: String(index), name, bytes: utf8(content) }));
    return {
      files: new Map(kept.map(({ id, bytes }) => [id, bytes])),
      draft: {
        ...emptyDraft,
        subject,
        text,
        html: htmlOfText(text),
        recipients: to.map((one) => ({ name: '', ...one })),
        files: kept.map(({ id, name, bytes }) => ({
          blobId: id,
          name,
          type: 'application/octet-stream',
          size: bytes.length,
          key: makeKey(),
        })),
      },
    };
  });

async function planned({ draft, files }: Written, policy: Policy, onlyPlain = ''): Promise<Planned> {
  const looked = await lookThrough(draft, { files, isLocked: false, onlyPlain }, policy, now);
  const known: Known = {
    ...knownOf(now),
    account: { name: 'Ada', address: SENDER, further: [] },
    rules: { policy, looked, isLookedThrough: true, newTo: new Set(['ed@else.example']), departments: ['a'] },
  };
  return makePlan(draft, known);
}

/** As a mail program would have written it, and as the door takes it. */
async function handedIn({ draft, files }: Written): Promise<Written & { onlyPlain: string }> {
  const message = messageOf(
    draft,
    await planned({ draft, files }, NO_POLICY).then(({ plan }) => plan),
    { name: 'Ada', address: SENDER, further: [] },
    { mailId: 'a@ferry.example', date: now.toISOString() },
  );
  const raw = buildMessage({
    ...message,
    files: message.files.map(({ name, type, blobId }) => ({ name, type, bytes: files.get(blobId)! })),
  });
  const taken = new Map<string, Uint8Array<ArrayBuffer>>();
  const envelope = draft.recipients.map(({ address }) => address);
  const made = await draftOfMail(
    raw,
    { envelope, account: { address: SENDER, further: [] } },
    async ({ name, type, bytes }) => {
      const blobId = String(taken.size);
      taken.set(blobId, bytes);
      return { blobId, name, type, size: bytes.length, key: makeKey() };
    },
  );
  return { draft: made.draft, files: taken, onlyPlain: made.onlyPlain };
}

const shown = ({ plan, applied, verdict, demanded, leastCheck }: Planned) => ({
  lines: plan.lines.map(({ recipient: { address, role }, chosen, alternatives }) => ({
    address,
    role,
    chosen,
    alternatives,
  })),
  missing: plan.missing,
  applied,
  demanded,
  leastCheck,
  acted: verdict?.acted.map(({ rule: { id } }) => id),
  demand: verdict?.demand,
});

test('plan, handling and rules are the same', async () => {
  let acted = 0;
  await fc.assert(
    fc.asyncProperty(written, fc.array(rule, { maxLength: 4 }), async (one, rules) => {
      const policy = policyOf(rules);
      const other = await handedIn(one);
      const [here, there] = [await planned(one, policy), await planned(other, policy, other.onlyPlain)];
      expect(shown(there)).toEqual(shown(here));
      acted += here.verdict?.acted.length ?? 0;
    }),
    { numRuns: 150 },
  );
  // It has been asked something: of what is drawn, rules act on nine to twenty-five in a run.
  expect(acted).toBeGreaterThan(0);
});

test('so it is for each effect that acts on everything', async () => {
  await fc.assert(
    fc.asyncProperty(written, effect, async (one, only) => {
      const always = {
        id: '6f2c1b30-0000-4000-8000-00000000000a',
        name: 'Everything',
        sentence: 'As the office says.',
        state: 'on' as const,
        when: { allOf: [], anyOf: [], noneOf: [] },
        effects: [only],
      };
      const other = await handedIn(one);
      const policy = policyOf([always]);
      expect(shown(await planned(other, policy, other.onlyPlain))).toEqual(shown(await planned(one, policy)));
    }),
    { numRuns: 60 },
  );
});
