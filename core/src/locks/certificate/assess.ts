/** Whether somebody can get a copy encrypted to their certificate, and what such a copy can't do: nobody closes it, withdraws it or limits what is done with it. */
import { RIGHTS } from '../../handling/handling';
import { type Assessment, type HandlingPart, type Missing, type PlannedHandling, type Recipient, type Warning } from '../lock';

/** What the handling asks that a copy can't keep, where it doesn't allow copies. */
const broken = ({ rights, copies }: PlannedHandling): HandlingPart[] => (copies ? [] : ['closing', 'check', ...RIGHTS.filter((right) => !rights[right])]);

export function assessCertificate({ certificate, colleague }: Recipient, handling: PlannedHandling): Assessment {
  const missing: Missing[] = [];
  const warnings: Warning[] = [];
  if (certificate === undefined) missing.push({ code: 'certificate-missing' });
  else if (certificate.level === 'stop') missing.push({ code: 'certificate-unusable' });
  if (!handling.copies) missing.push({ code: 'copies-not-allowed' });
  if (handling.audience === 'staff' || handling.audience === 'nobody') missing.push({ code: 'staff-only' });
  if (certificate?.level === 'unchecked') warnings.push({ code: 'certificate-unchecked' });
  if (certificate?.level === 'valid' && certificate.runsOut !== undefined) warnings.push({ code: 'certificate-runs-out', at: certificate.runsOut });
  return {
    lock: 'certificate',
    // Colleagues read here, signed in; nobody else can be taken for them.
    available: missing.length === 0 && colleague === undefined,
    missing, warnings, cannotHonour: broken(handling),
    reasons: [{ code: 'opens-in-their-program' }, { code: 'stays-with-them' }],
  };
}
