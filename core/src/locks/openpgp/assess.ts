/** Whether somebody can get a copy encrypted to their OpenPGP key. */
import { assessCopy, type CopyWords } from '../copy';
import { type Assessment, type AssessmentContext, type PlannedHandling, type Recipient } from '../lock';

const words: CopyWords = {
  lock: 'openpgp',
  missing: 'key-missing',
  unusable: 'key-unusable',
  ownMissing: 'own-key-missing',
  unchecked: 'key-unchecked',
  runsOut: 'key-runs-out',
};

export function assessOpenPgp(
  recipient: Recipient,
  handling: PlannedHandling,
  { sender, mixedOpenPgp = false }: AssessmentContext,
): Assessment {
  const assessed = assessCopy(recipient, handling, { known: recipient.openpgp, signs: sender.signsOpenPgp }, words);
  const lowers = mixedOpenPgp && assessed.clear !== true && recipient.openpgp?.readsNewest === false;
  return lowers ? { ...assessed, warnings: [...assessed.warnings, { code: 'older-format' }] } : assessed;
}
