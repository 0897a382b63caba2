/** What went wrong, in a sentence: what happened, what was kept, what to do. */
import { isProblem, type ProblemCode } from '@under-lock/contract/problem';
import { momentInWords } from '@under-lock/core/when';
import { zone } from './clock';
import { TookTooLongError } from './threads/keys/took-too-long';

const sentences: Partial<Record<ProblemCode, string>> = {
  unreachable: 'The server can’t be reached. Nothing is lost: check the connection and try again.',
  'not-signed-in': 'You have been signed out. Sign in again; your drafts are kept.',
  'not-allowed': 'Your account may not do this. Ask an administrator.',
  'not-found': 'This is not there any more. Somebody may have removed it.',
  conflict: 'This was changed elsewhere in the meantime. Load the page again to see it.',
  'too-large': 'This is larger than the office allows. Remove a file and try again.',
  'storage-full': 'The server has no room left. Your draft is kept; tell the administrator.',
  'too-slow': 'The line was too slow for this. Nothing is lost; try again.',
  busy: 'The server has too much to do just now. Nothing is lost; try again in a minute.',
  'upload-incomplete': 'Not everything had arrived. Send again: only what is missing goes.',
  'grant-closed': 'This access is closed already. Give it again if it is still needed.',
  'grant-withdrawn': 'This access has been withdrawn already.',
  'closing-out-of-range': 'The closing date is past or later than the office allows. Choose another one.',
  'own-number': 'That is your own number: the passcode would come to you. Ask for the recipient’s.',
  'invalid-input': 'The server did not accept something in this. Look at the addresses and numbers.',
  'server-error': 'Something went wrong on the server. Nothing was sent twice; try again.',
};

export function problemWords(error: unknown): string {
  if (error instanceof TookTooLongError)
    return 'Reading this file takes too long, so it was stopped; nothing else was touched. Ask for it to be sent again, by another program if you can.';
  if (error instanceof Error && error.name === 'VaultOldError')
    return 'Not shown while what the server gives out is older than it was left.';
  if (!isProblem(error)) return 'Something went wrong on this page. Your draft is kept; load the page again.';
  const { code, details } = error;
  if (code === 'too-many-tries')
    return `Too many tries. Please wait until ${momentInWords(new Date(details.until ?? Date.now()), new Date(), zone)}.`;
  return details.detail ?? sentences[code] ?? details.title;
}
