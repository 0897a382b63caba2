/** Whether somebody can get a copy encrypted to their certificate. */
import { assessCopy, type CopyWords } from '../copy';
import { type Assessment, type AssessmentContext, type PlannedHandling, type Recipient } from '../lock';

const words: CopyWords = {
  lock: 'certificate',
  missing: 'certificate-missing',
  unusable: 'certificate-unusable',
  ownMissing: 'own-certificate-missing',
  unchecked: 'certificate-unchecked',
  runsOut: 'certificate-runs-out',
};

export const assessCertificate = (
  recipient: Recipient,
  handling: PlannedHandling,
  { sender }: AssessmentContext,
): Assessment => assessCopy(recipient, handling, { known: recipient.certificate, signs: sender.signs }, words);
