/** Whether somebody can get a copy encrypted to their OpenPGP key. */
import { assessCopy } from '../copy';
import { type AssessmentContext, type PlannedHandling, type Recipient } from '../lock';

const words = {
  lock: 'openpgp',
  missing: 'key-missing',
  unusable: 'key-unusable',
  ownMissing: 'own-key-missing',
  unchecked: 'key-unchecked',
  runsOut: 'key-runs-out',
} as const;

type Copied = ReturnType<
  typeof assessCopy<'openpgp', 'key-missing' | 'key-unusable' | 'own-key-missing', 'key-unchecked', 'key-runs-out'>
>;
export type OpenPgpAssessment = Omit<Copied, 'warnings'> & {
  warnings: (Copied['warnings'][number] | { code: 'older-format' })[];
};

export function assessOpenPgp(
  recipient: Recipient,
  handling: PlannedHandling,
  { sender, size, mixedOpenPgp = false }: AssessmentContext,
): OpenPgpAssessment {
  const assessed = assessCopy(
    recipient,
    handling,
    { known: recipient.openpgp, signs: sender.signsOpenPgp, size },
    words,
  );
  const lowers = mixedOpenPgp && assessed.clear !== true && recipient.openpgp?.readsNewest === false;
  return lowers ? { ...assessed, warnings: [...assessed.warnings, { code: 'older-format' }] } : assessed;
}
