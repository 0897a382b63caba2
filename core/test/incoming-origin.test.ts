/** What a domain's word about a mail comes to: never more than it said. */
import fc from 'fast-check';
import { type Found, isFrom, originDetails, originOf, originSchema, originSentence } from '../src/incoming/origin';

const CLINIC = 'harbourclinic.example';
const found = (over: Partial<Found>): Found => ({ isUnclear: false, domain: CLINIC, dkim: [], ...over });
const policy = 'reject';

test.each<[string, Partial<Found>, string]>([
  ['DMARC passed', { dmarc: { result: 'pass', policy } }, 'vouched'],
  [
    'DMARC failed',
    { dmarc: { result: 'fail', policy }, spf: { result: 'pass', domain: 'elsewhere.example' } },
    'contradicted',
  ],
  // The domain says by what it is to be judged; its own SPF passing for a relay is not that.
  [
    'DMARC failed though SPF passed',
    { dmarc: { result: 'fail', policy }, spf: { result: 'pass', domain: CLINIC } },
    'contradicted',
  ],
  ['signed by the domain', { dkim: [{ result: 'pass', domain: CLINIC }] }, 'vouched'],
  ['signed by a part of it', { dkim: [{ result: 'pass', domain: `mail.${CLINIC}` }] }, 'vouched'],
  ['signed by another one', { dkim: [{ result: 'pass', domain: 'bulk.example' }] }, 'nobody'],
  ['signed by one that ends alike', { dkim: [{ result: 'pass', domain: `not${CLINIC}` }] }, 'nobody'],
  ['a signature that is wrong', { dkim: [{ result: 'fail', domain: CLINIC }] }, 'nobody'],
  ['sent as the domain lets it', { spf: { result: 'pass', domain: CLINIC } }, 'vouched'],
  ['sent as it does not', { spf: { result: 'fail', domain: CLINIC } }, 'contradicted'],
  ['sent as it rather does not', { spf: { result: 'softfail', domain: CLINIC } }, 'contradicted'],
  ['sent for another one', { spf: { result: 'pass', domain: 'elsewhere.example' } }, 'nobody'],
  ['nothing said', { spf: { result: 'none', domain: CLINIC } }, 'nobody'],
  ['the DNS did not answer', { spf: { result: 'temperror', domain: CLINIC } }, 'unasked'],
  ['it did not about somebody else', { spf: { result: 'temperror', domain: 'elsewhere.example' } }, 'nobody'],
  ['several senders', { isUnclear: true, dmarc: { result: 'pass', policy } }, 'contradicted'],
])('%s', (_, over, is) => expect(originOf(found(over)).is).toBe(is));

test('it is vouched for by nothing but a pass of the domain’s own, whatever else is found', () => {
  const result = fc.constantFrom('pass', 'fail', 'softfail', 'neutral', 'none', 'temperror', 'permerror', 'policy');
  const domain = fc.constantFrom(CLINIC, `mail.${CLINIC}`, 'elsewhere.example', '');
  fc.assert(
    fc.property(
      fc.record({
        isUnclear: fc.boolean(),
        domain: fc.constant(CLINIC),
        spf: fc.option(fc.record({ result, domain }), { nil: undefined }),
        dkim: fc.array(fc.record({ result, domain }), { maxLength: 5 }),
        dmarc: fc.option(fc.record({ result, policy: fc.constantFrom('none', 'reject') }), { nil: undefined }),
      }),
      (one) => {
        const origin = originOf(one as Found);
        expect(originSchema.safeParse(JSON.parse(JSON.stringify(origin))).success).toBe(true);
        const passes = [one.spf, ...one.dkim].some(
          (each) => each?.result === 'pass' && (each.domain === CLINIC || each.domain === `mail.${CLINIC}`),
        );
        if (origin.is === 'vouched') expect(!one.isUnclear && (passes || one.dmarc?.result === 'pass')).toBe(true);
        if (one.dmarc?.result === 'fail') expect(origin.is).not.toBe('vouched');
        expect(originSentence(origin)).toMatch(/^[A-Z].*\.$|^harbourclinic/);
      },
    ),
  );
});

test('it says where it came from instead, and what that rests on', () => {
  const origin = originOf(
    found({
      spf: { result: 'pass', domain: 'elsewhere.example' },
      dmarc: { result: 'fail', policy },
      arc: 'pass',
    }),
  );
  expect(originSentence(origin)).toBe(
    'The address says harbourclinic.example, the mail came from elsewhere.example. harbourclinic.example does not say that it sent this.',
  );
  expect(originDetails(origin)).toEqual([
    'SPF: pass, for elsewhere.example',
    'DKIM: no signature',
    'DMARC: fail, policy reject',
    'ARC: pass',
  ]);
  expect(isFrom(origin, 'Records@HarbourClinic.example')).toBe(true);
  expect(isFrom(origin, 'harbourclinic.example@elsewhere.example')).toBe(false);
});
