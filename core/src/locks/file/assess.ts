/**
 * Whether somebody can get a locked file, and what is missing for it. It stays with them: nobody closes it, withdraws
 * it, or limits what is done with it.
 */
import { broken, forStaff } from '../copy';
import {
  type Assessment,
  type AssessmentContext,
  type Missing,
  type PlannedHandling,
  type Recipient,
  type Warning,
} from '../lock';

/** Nothing is secret: the files are packed together and locked by nothing. */
const assessPacked = (
  { colleague }: Recipient,
  handling: PlannedHandling,
  { fileCount }: AssessmentContext,
): Assessment => ({
  lock: 'file',
  clear: true,
  available: colleague === undefined && fileCount > 0,
  missing: [...(fileCount === 0 ? [{ code: 'nothing-to-lock' } as const] : []), ...forStaff(handling)],
  warnings: [{ code: 'only-packed' }],
  cannotHonour: [],
  reasons: [{ code: 'packed-together' }],
});

export function assessFile(recipient: Recipient, handling: PlannedHandling, context: AssessmentContext): Assessment {
  if (handling.clear) return assessPacked(recipient, handling, context);
  const barred: Missing[] = [
    ...(handling.copies ? [] : [{ code: 'copies-not-allowed' } as const]),
    ...forStaff(handling),
  ];
  const missing: Missing[] = [...barred];
  const warnings: Warning[] = [];
  const { file } = recipient;
  if (file === undefined) missing.push({ code: 'password-missing' });
  else {
    const { password, way, largest } = file;
    if (password === undefined) missing.push({ code: 'password-missing' });
    else {
      if (password.weak) missing.push({ code: 'password-weak' });
      if (password.standsIn !== undefined) missing.push({ code: 'password-in-mail', place: password.standsIn });
    }
    if (way.scope === 'files' && context.fileCount === 0) missing.push({ code: 'nothing-to-lock' });
    if (way.scope === 'files' && !handling.textOpen) missing.push({ code: 'text-may-not-stay-open' });
    if (way.container === 'zip' && way.cipher === 'legacy' && !file.legacyAllowed)
      missing.push({ code: 'legacy-not-allowed' });
    if (largest !== undefined && context.size > largest) missing.push({ code: 'file-too-large', limit: largest });
    if (way.telling === 'text' && recipient.phone === undefined && password?.told !== true)
      missing.push({ code: 'phone-missing' });
    if (way.scope === 'files') warnings.push({ code: 'text-stays-open' });
    if (way.container === 'zip' && way.cipher === 'legacy') warnings.push({ code: 'legacy-cipher' });
    // What only discourages is said where it stands in for a limit.
    if (way.container === 'pdf' && !(handling.rights.print && handling.rights.copy))
      warnings.push({ code: 'pdf-rights-discourage' });
    if (way.container === 'zip' && !way.hideNames && context.fileCount > 0) warnings.push({ code: 'names-visible' });
  }
  return {
    lock: 'file',
    // A password can be agreed on the spot, so it is no reason against; what the handling forbids is.
    available: barred.length === 0 && recipient.colleague === undefined,
    ...(file?.password === undefined ? { onRequest: true as const } : {}),
    missing,
    warnings,
    cannotHonour: broken(handling),
    reasons: [{ code: 'opens-with-a-password' }, { code: 'stays-with-them' }],
  };
}
