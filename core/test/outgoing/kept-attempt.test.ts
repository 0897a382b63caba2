/** Attempts lie in vaults for as long as their drafts do: those from before are read as they are kept today. */
import { attemptSchema } from '../../src/outgoing/draft';
import { USUAL_WAY } from '../../src/ways/file-way';

const recipients = [{ id: 'r', address: 'pell@postbox.example', name: 'Pell', role: 'to' }];
const kept = (copies: unknown[]) => ({
  messageId: 'm',
  contentBlobId: 'b',
  key: { key: 'k', salt: 's' },
  fingerprint: 'f',
  mailId: 'i@larkmoor.example',
  date: '2026-11-24T10:00:00.000Z',
  closesAt: '2026-12-08T17:00:00.000Z',
  grants: [],
  copies,
});

test.each([
  [
    'a certificate copy, which had no name yet',
    { id: 'c', form: 'mime', clear: false, recipients },
    { id: 'c', lock: 'certificate', clear: false, recipients },
  ],
  [
    'an OpenPGP copy',
    { id: 'c', lock: 'openpgp', form: 'attachments', clear: false, recipients },
    { id: 'c', lock: 'openpgp', clear: false, how: { form: 'attachments' }, recipients },
  ],
  [
    'a locked file',
    { id: 'c', lock: 'file', form: 'mime', clear: false, file: { way: USUAL_WAY, password: 'p' }, recipients },
    { id: 'c', lock: 'file', clear: false, how: { way: USUAL_WAY, password: 'p' }, recipients },
  ],
  [
    'a copy as it is kept today',
    { id: 'c', lock: 'openpgp', clear: true, how: { form: 'mime' }, recipients },
    { id: 'c', lock: 'openpgp', clear: true, how: { form: 'mime' }, recipients },
  ],
])('%s', (_, before, now) => expect(attemptSchema.parse(kept([before])).copies).toEqual([now]));

test('a copy under no lock we know is refused', () =>
  expect(attemptSchema.safeParse(kept([{ id: 'c', lock: 'wax', clear: false, recipients }])).success).toBe(false));
