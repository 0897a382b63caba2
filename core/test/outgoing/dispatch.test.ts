/** What is handed to the server says of the message what its accesses hold. */
import { randomBytes, toBase64Url } from '../../src/bytes';
import { grantHolds } from '../../src/access/holds';
import { type IdentityCheck, LOOSEST_TERMS } from '../../src/handling/handling';
import { dispatchBody } from '../../src/outgoing/dispatch';
import { type Attempt, emptyDraft, type KeptGrant, plainTerms } from '../../src/outgoing/draft';
import { knownOf } from './known';

const some = (length: number): string => toBase64Url(randomBytes(length));
const byLink = (check: IdentityCheck): KeptGrant => ({
  id: crypto.randomUUID(),
  address: `${check}@postbox.example`,
  name: '',
  role: 'to',
  readerShare: some(32),
  houseShare: some(32),
  wrappedKey: some(61),
  reader: {
    kind: 'link',
    check,
    ...(check === 'question' ? {} : { target: '+447700900417' }),
    question: { sealed: some(40), answerProof: some(32) },
  },
});

const attemptOf = (grants: KeptGrant[]): Attempt => ({
  messageId: crypto.randomUUID(),
  contentBlobId: crypto.randomUUID(),
  key: { key: some(32), salt: some(32) },
  fingerprint: '',
  mailId: 'x@larkmoor.example',
  date: '2026-11-24T10:00:00Z',
  closesAt: '2026-12-08T17:00:00Z',
  grants,
  copies: [],
});

const bodyOf = (grants: KeptGrant[]) =>
  dispatchBody({
    draft: emptyDraft,
    planned: {
      preset: undefined,
      applied: { terms: { ...plainTerms, check: 'text' }, closing: { ok: true, closesAt: new Date() }, tightened: [] },
      leavesAt: undefined,
      closingChoice: undefined,
    } as never,
    attempt: attemptOf(grants),
    message: { reference: '' },
    copies: [],
    summary: randomBytes(29),
    words: randomBytes(29),
    known: knownOf(new Date('2026-11-24T10:00:00Z')),
    forRelease: undefined,
  });

test.each<[string, IdentityCheck[], IdentityCheck]>([
  ['as the handling has it', ['text', 'text'], 'text'],
  ['less, where less was chosen for one of them', ['text', 'question'], 'question'],
  ['no more, where more was', ['text'], 'text'],
])('what is asked of everybody is %s, and every access holds it', (_, checks, asked) => {
  const { handling } = bodyOf(checks.map(byLink));
  expect(handling.check).toBe(asked);
  for (const check of checks)
    expect(grantHolds(handling, LOOSEST_TERMS, { kind: 'link', check, question: true })).toBeUndefined();
});
