/**
 * Whether somebody can get a copy encrypted to their certificate, and what such a copy can't do: nobody closes it, withdraws it or limits what is done with it. Under a handling for
 * what is no secret it is signed only, which asks nothing of them.
 */
import { RIGHTS } from '../../handling/handling';
import { type Assessment, type AssessmentContext, type HandlingPart, type Missing, type PlannedHandling, type Recipient, type Warning } from '../lock';

/** What the handling asks that a copy can't keep, where it doesn't allow copies. */
const broken = ({ rights, copies }: PlannedHandling): HandlingPart[] => (copies ? [] : ['closing', 'check', ...RIGHTS.filter((right) => !rights[right])]);

const forStaff = ({ audience }: PlannedHandling): Missing[] => (audience === 'staff' || audience === 'nobody' ? [{ code: 'staff-only' }] : []);

function assessSigned({ colleague }: Recipient, handling: PlannedHandling, { sender }: AssessmentContext): Assessment {
  const missing: Missing[] = [...(sender.signs ? [] : [{ code: 'own-certificate-missing' } as const]), ...forStaff(handling)];
  // The handling says that nothing is to be kept from anybody: it is never swapped for another because the worker can't sign yet.
  return { lock: 'certificate', clear: true, available: colleague === undefined, missing, warnings: [], cannotHonour: [], reasons: [{ code: 'signed-and-readable' }] };
}

export function assessCertificate(recipient: Recipient, handling: PlannedHandling, context: AssessmentContext): Assessment {
  if (handling.clear) return assessSigned(recipient, handling, context);
  const { certificate, colleague } = recipient;
  const missing: Missing[] = [];
  const warnings: Warning[] = [];
  if (certificate === undefined) missing.push({ code: 'certificate-missing' });
  else if (certificate.level === 'stop') missing.push({ code: 'certificate-unusable' });
  if (!handling.copies) missing.push({ code: 'copies-not-allowed' });
  missing.push(...forStaff(handling));
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
