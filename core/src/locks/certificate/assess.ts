/** Whether somebody can get a copy encrypted to their certificate. */
import { assessCopy } from '../copy';
import { type AssessmentContext, type PlannedHandling, type Recipient } from '../lock';

const words = {
  lock: 'certificate',
  missing: 'certificate-missing',
  unusable: 'certificate-unusable',
  ownMissing: 'own-certificate-missing',
  unchecked: 'certificate-unchecked',
  runsOut: 'certificate-runs-out',
} as const;

export const assessCertificate = (
  recipient: Recipient,
  handling: PlannedHandling,
  { sender, size }: AssessmentContext,
) => assessCopy(recipient, handling, { known: recipient.certificate, signs: sender.signs, size }, words);
