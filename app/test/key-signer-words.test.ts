/**
 * What is said of an OpenPGP signature: never more than it covers, and a key that came with the mail proves nothing of
 * who wrote it.
 */
import { type OpenPgpVerdictView, type OpenPgpView } from '../src/keys/openpgp/view';
import { findingWords, verdictWord } from '../src/keys/words';
import { isVouchedFor, mailWords } from '../src/received/signer-words';
import { type OpenedMail, type SignerView } from '../src/threads/keys/opening';

const at = new Date('2026-11-25T12:00:00Z');
const key: OpenPgpView = {
  fingerprint: 'ab'.repeat(20),
  words: [],
  uri: '',
  keyIds: [],
  bytes: new Uint8Array(0),
  name: 'Nils Rook',
  addresses: ['nils@northquay.example'],
  retired: [],
  version: 4,
  createdAt: at,
  expiresAt: undefined,
  revocation: undefined,
  parts: [],
  readsNewest: false,
  uses: { sign: true, encrypt: true },
};
const verdict = (over: Partial<OpenPgpVerdictView> = {}): OpenPgpVerdictView => ({
  level: 'valid',
  findings: [],
  vouchedBy: [],
  validUntil: undefined,
  ...over,
});
type KeySigned = Extract<SignerView, { kind: 'key-signed' }>;
const signed = (over: Partial<OpenPgpVerdictView> = {}, signer: Partial<KeySigned> = {}): KeySigned => ({
  kind: 'key-signed',
  key,
  verdict: verdict(over),
  signingTime: at,
  along: false,
  apart: false,
  ...signer,
});
const mail = (...signers: SignerView[]): OpenedMail => ({
  outcome: 'opened',
  encrypted: undefined,
  signers,
  headerProtected: true,
  changedOutside: [],
  severalSenders: false,
  partsOnTheirOwn: 0,
  keys: [],
  certificates: [],
  message: {
    messageId: '',
    from: { name: 'Nils', address: 'nils@northquay.example' },
    to: [],
    cc: [],
    subject: 'x',
    date: at,
    reference: '',
    text: '',
    html: '',
    files: [],
  },
});
const said = (...signers: SignerView[]): string[] =>
  mailWords(mail(...signers)).map(({ tone, text }) => `${tone}: ${text}`);
const UNCHECKED = { level: 'unchecked', findings: [{ code: 'not-vouched-for' }] } as const;

test('a right one, with who vouches for the key', () => {
  expect(said(signed())).toEqual(['sea: Signed by Nils Rook, for nils@northquay.example, and unchanged since.']);
  expect(
    said(
      signed({
        vouchedBy: [
          { name: 'Northquay', fingerprint: '' },
          { name: 'Larkmoor', fingerprint: '' },
        ],
      }),
    ),
  ).toEqual([
    'sea: Signed by Nils Rook, for nils@northquay.example, and unchanged since. Northquay and Larkmoor vouch for the key.',
  ]);
});

test.each<[string, SignerView, RegExp, boolean]>([
  [
    'a known key that nobody compared',
    signed(UNCHECKED),
    /^amber: Signed by Nils Rook.*Compare the fingerprint by phone/,
    true,
  ],
  [
    'one that came along',
    signed(UNCHECKED, { along: true }),
    /^amber: It is signed with a key that came with it.*says nothing of who wrote it/,
    false,
  ],
  [
    'one that came along and is vouched for',
    signed({ vouchedBy: [{ name: 'Northquay', fingerprint: '' }] }, { along: true }),
    /^sea: Signed by/,
    true,
  ],
  [
    'one not to be relied on',
    signed({ level: 'stop', findings: [{ code: 'revoked', at, reason: 'keyCompromise', authority: false }] }),
    /^brick: .*not to be relied on. Revoked on/,
    false,
  ],
  ['text and files each by itself', signed({}, { apart: true }), /^amber: .*signed each by itself/, true],
  ['a changed text', { kind: 'key-changed', key }, /^brick: It has been changed since Nils Rook signed it/, false],
  [
    'an unknown key',
    { kind: 'key-missing', keyId: '0123456789abcdef' },
    /^amber: .*0123 4567 89AB CDEF.*nobody can say by whom/,
    false,
  ],
  ['an old kind', { kind: 'key-unsupported' }, /^amber: .*can’t be relied on/, false],
])('%s', (_, signer, words, vouched) => {
  expect(said(signer)).toEqual([expect.stringMatching(words)]);
  expect(isVouchedFor(mail(signer))).toBe(vouched);
});

test('findings of keys have their sentences and their short words', () => {
  expect(verdictWord({ level: 'stop', findings: [{ code: 'not-self-signed' }] })).toEqual({
    tone: 'stopped',
    word: 'not its holder’s',
  });
  expect(verdictWord({ level: 'unchecked', findings: [{ code: 'not-vouched-for' }] })).toEqual({
    tone: 'wants',
    word: 'valid, not checked yet',
  });
  expect(findingWords({ code: 'not-self-signed' })).toMatch(/anybody could have put it together/);
});
