/** What is said beside a sender: the gravest first, never more than the signature covers. */
import { type Finding } from '@under-lock/core/certificate/verdict';
import { type CertificateView, type VerdictView } from '../src/keys/certificate-view';
import { findingWords, fingerprintInGroups, validityInWords, verdictWord } from '../src/keys/words';
import { type Origin } from '@under-lock/core/incoming/origin';
import { isVouchedFor, mailWords } from '../src/received/signer-words';
import { type OpenedMail, type SignerView } from '../src/threads/keys/opening';

const at = new Date('2026-11-25T12:00:00Z');
const certificate: CertificateView = {
  fingerprint: 'ab'.repeat(32),
  bytes: new Uint8Array(0),
  name: 'Ada Lund',
  organization: '',
  addresses: ['ada.lund@harbourclinic.example'],
  issuer: 'Isles Trust Mail',
  notBefore: at,
  notAfter: new Date('2027-11-25T12:00:00Z'),
  key: 'RSA 2048',
  uses: { sign: true, encrypt: true },
  serial: '1',
  authority: false,
};
const verdict = (findings: Finding[] = [], level: VerdictView['level'] = 'valid'): VerdictView => ({
  level,
  findings,
  path: [],
  personal: false,
  validUntil: at,
});
const signed = (over: Partial<VerdictView> = {}): SignerView => ({
  kind: 'signed',
  certificate,
  verdict: { ...verdict(), ...over },
  signingTime: at,
  capabilities: undefined,
  chain: [],
});
const mail = (over: Partial<OpenedMail> = {}): OpenedMail => ({
  outcome: 'opened',
  encrypted: undefined,
  signers: [signed()],
  headerProtected: true,
  changedOutside: [],
  severalSenders: false,
  partsOnTheirOwn: 0,
  keys: [],
  certificates: [],
  message: {
    messageId: '',
    from: { name: 'Ada Lund', address: 'ada.lund@harbourclinic.example' },
    to: [],
    cc: [],
    subject: 'x',
    date: at,
    reference: '',
    text: '',
    html: '',
    files: [],
  },
  ...over,
});
const texts = (one: OpenedMail): string[] => mailWords(one).map(({ tone, text }) => `${tone}: ${text}`);

test('a right signature is said once, and nothing else', () =>
  expect(texts(mail())).toEqual([
    'sea: Signed by Ada Lund, for ada.lund@harbourclinic.example, and unchanged since. Isles Trust Mail vouches for them.',
  ]));

test.each<[string, Partial<OpenedMail>, RegExp]>([
  ['nobody signed', { signers: [] }, /^amber: Not signed/],
  ['it was changed', { signers: [{ kind: 'changed', certificate }] }, /^brick: It has been changed since Ada Lund/],
  ['another’s key', { signers: [{ kind: 'wrong', certificate }] }, /^brick: The signature is not Ada Lund’s/],
  ['no certificate', { signers: [{ kind: 'no-certificate' }] }, /^amber: It is signed, but the certificate/],
  ['an old kind', { signers: [{ kind: 'unsupported' }] }, /^amber: .* can’t be relied on/],
  [
    'a signer not to be relied on',
    { signers: [signed({ level: 'stop', findings: [{ code: 'unknown-authority', issuer: 'Nobody' }] })] },
    /^brick: .*not to be relied on\. Issued by “Nobody”/,
  ],
  [
    'one nobody could check',
    { signers: [signed({ level: 'unchecked', findings: [{ code: 'not-checked' }] })] },
    /^amber: Signed by Ada Lund.*Nobody could be asked/,
  ],
  ['two senders', { severalSenders: true }, /^brick: It names several senders/],
  ['a changed head', { changedOutside: ['from', 'subject'] }, /^brick: On its way the from, subject outside/],
  ['parts on their own', { partsOnTheirOwn: 2 }, /^amber: 2 parts of it are signed or encrypted apart/],
  [
    'unsealed encryption without a signature',
    { signers: [], encrypted: { cipher: 'AES-256-CBC', authenticated: false, old: false } },
    /^amber: It was encrypted without a seal/,
  ],
  [
    'an old cipher',
    { encrypted: { cipher: '3DES-CBC', authenticated: false, old: true } },
    /^amber: Encrypted in an old way/,
  ],
])('%s is said', (_, over, said) => expect(texts(mail(over)).some((text) => said.test(text))).toBe(true));

test('the gravest comes first; with a right signature unsealed encryption is nothing to warn of', () => {
  expect(
    texts(mail({ signers: [signed(), { kind: 'changed', certificate }] })).map((text) => text.split(':')[0]),
  ).toEqual(['brick', 'sea']);
  expect(texts(mail({ encrypted: { cipher: 'AES-256-CBC', authenticated: false, old: false } }))).toHaveLength(1);
  expect(isVouchedFor(mail({ signers: [signed({ level: 'stop' })] }))).toBe(false);
});

test.each<[Finding, RegExp]>([
  [
    { code: 'revoked', at, reason: 'keyCompromise', authority: false },
    /^Revoked on Wed 25 Nov 2026: its key may be in other hands/,
  ],
  [{ code: 'revoked', at, reason: 'cACompromise', authority: true }, /^The authority that issued it was revoked/],
  [{ code: 'path-broken', problem: 'signature-wrong' }, /forged or damaged/],
  [{ code: 'too-weak', what: 'key', detail: 'RSA 1024' }, /too weak \(RSA 1024\)/],
  [{ code: 'too-weak', what: 'hash', detail: 'SHA-1' }, /hash that can be forged \(SHA-1\)/],
  [{ code: 'not-for-mail' }, /something other than mail/],
  [{ code: 'not-for-use', use: 'encrypt' }, /not made for encrypting/],
  [{ code: 'address-differs', address: 'x@y.example', issuedFor: [] }, /names no address/],
  [{ code: 'expired', at }, /^Expired on Wed 25 Nov 2026/],
  [{ code: 'not-yet-valid', at }, /^Not valid before/],
  [{ code: 'expired-since', at }, /it was valid then/],
  [{ code: 'revoked-since', at, reason: 'superseded' }, /a newer one has taken its place/],
])('%j has a sentence', (finding, said) => expect(findingWords(finding)).toMatch(said));

test('short states, validity and fingerprints in words', () => {
  expect(verdictWord(verdict())).toEqual({ tone: 'done', word: 'valid' });
  expect(verdictWord(verdict([{ code: 'expired', at }], 'stop'))).toEqual({ tone: 'stopped', word: 'expired' });
  expect(validityInWords(certificate, at)).toBe('valid until Thu 25 Nov 2027, for another 52 weeks');
  expect(validityInWords({ ...certificate, notAfter: new Date('2046-11-26T12:00:00Z') }, at)).toBe(
    'valid until Mon 26 Nov 2046, for another 20 years',
  );
  expect(validityInWords(certificate, new Date('2028-01-01'))).toMatch(/^expired Thu 25 Nov 2027/);
  expect(fingerprintInGroups('ab12cd34')).toBe('AB12 CD34');
});

describe('what the sender’s domain says of a mail that nobody signed', () => {
  const origin = (is: Origin['is'], domain = 'harbourclinic.example'): Origin => ({ is, domain, dkim: [] });
  const said = (one: Origin, over: Partial<OpenedMail> = { signers: [] }): string[] =>
    mailWords(mail(over), { origin: one }).map(({ tone, text }) => `${tone}: ${text}`);
  test('that it sent it is enough, and stands beside the sender', () => expect(said(origin('vouched'))).toEqual([]));
  test.each<[string, Origin, RegExp]>([
    [
      'it did not',
      origin('contradicted'),
      /^brick: The address says harbourclinic.example, the mail came from elsewhere/,
    ],
    ['nothing', origin('nobody'), /^amber: Nobody vouches for this address: .* Not signed: anybody/],
    [
      'it could not be asked',
      origin('unasked'),
      /^amber: Whether harbourclinic.example sent this .* Not signed: anybody/,
    ],
    [
      'it is of another one',
      origin('vouched', 'bulk.example'),
      /^brick: It says it is from ada.lund@.*, and bulk.example says/,
    ],
  ])('%s', (_, one, sentence) => expect(said(one)).toEqual([expect.stringMatching(sentence)]));
  test('a signature that is right needs no host’s word', () =>
    expect(said(origin('contradicted'), {})).toHaveLength(1));
});
