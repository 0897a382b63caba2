import { isProblem } from '@under-lock/contract/problem';
import { momentInWords } from '@under-lock/core/when';
import { language } from '../words/words';
import { listWords } from './words';
import { zone } from '../zone';

/** What went wrong on a registered reader's page; what was typed is kept. */
export function sayProblem(error: unknown): string {
  if (!isProblem(error)) return listWords.failed;
  const { code, details } = error;
  switch (code) {
    case 'unreachable':
      return listWords.offline;
    case 'too-many-tries':
    case 'passcode-paused':
      return listWords.waitUntil(momentInWords(new Date(details.until ?? Date.now()), new Date(), zone, language));
    case 'wrong-password':
      return listWords.wrongPassword;
    case 'wrong-code':
      return listWords.digitsWrong(details.triesLeft ?? 0);
    case 'passcode-expired':
      return listWords.digitsOver;
    case 'passcode-stopped':
      return listWords.digitsStopped;
    case 'conflict':
      return listWords.taken;
    default:
      return listWords.failed;
  }
}
