/**
 * Whether somebody can get a locked file, and what is missing for it. It stays with them: nobody closes it, withdraws
 * it, or limits what is done with it.
 */
import { type PasswordPlace } from '../../passwords/place';
import { type Barred, broken, forStaff, type TooLarge, tooLarge } from '../copy';
import { type AssessmentContext, type AssessmentOf, type PlannedHandling, type Recipient } from '../lock';

/** What must be put right before a locked file can go. */
export type FileMissing =
  | Barred
  | { code: 'lock-not-allowed' }
  | { code: 'password-missing' }
  | { code: 'password-weak' }
  /** A rule wants one that they have already. */
  | { code: 'password-not-agreed' }
  | { code: 'password-in-mail'; place: PasswordPlace }
  | { code: 'phone-missing' }
  | { code: 'nothing-to-lock' }
  | { code: 'text-may-not-stay-open' }
  | { code: 'legacy-not-allowed' }
  | TooLarge;

/** What the worker should look at, and may send all the same. */
export type FileWarning =
  | { code: 'text-stays-open' }
  | { code: 'legacy-cipher' }
  | { code: 'names-visible' }
  | { code: 'pdf-rights-discourage' }
  | { code: 'only-packed' };

export type FileReason = { code: 'opens-with-a-password' } | { code: 'packed-together' } | { code: 'stays-with-them' };

type FileAssessment = AssessmentOf<'file', FileMissing, FileWarning, FileReason>;

/** Nothing is secret: the files are packed together and locked by nothing. */
const assessPacked = (recipient: Recipient, handling: PlannedHandling, context: AssessmentContext): FileAssessment => ({
  lock: 'file',
  clear: true,
  available: recipient.colleague === undefined && context.fileCount > 0,
  missing: [
    ...(context.fileCount === 0 ? [{ code: 'nothing-to-lock' } as const] : []),
    ...forStaff(handling),
    ...tooLarge(recipient, context),
  ],
  warnings: [{ code: 'only-packed' }],
  cannotHonour: [],
  reasons: [{ code: 'packed-together' }],
});

export function assessFile(
  recipient: Recipient,
  handling: PlannedHandling,
  context: AssessmentContext,
): FileAssessment {
  if (handling.clear) return assessPacked(recipient, handling, context);
  const { file } = recipient;
  const barred: FileMissing[] = [
    ...(handling.copies ? [] : [{ code: 'copies-not-allowed' } as const]),
    ...(file?.barred === true ? [{ code: 'lock-not-allowed' } as const] : []),
    ...forStaff(handling),
  ];
  const missing: FileMissing[] = [...barred];
  const warnings: FileWarning[] = [];
  if (file === undefined) missing.push({ code: 'password-missing' });
  else {
    const { password, way, agreedOnly = false } = file;
    if (password === undefined) missing.push({ code: agreedOnly ? 'password-not-agreed' : 'password-missing' });
    else {
      if (agreedOnly && !password.told) missing.push({ code: 'password-not-agreed' });
      if (password.weak) missing.push({ code: 'password-weak' });
      if (password.standsIn !== undefined) missing.push({ code: 'password-in-mail', place: password.standsIn });
    }
    if (way.scope === 'files' && context.fileCount === 0) missing.push({ code: 'nothing-to-lock' });
    if (way.scope === 'files' && !handling.textOpen) missing.push({ code: 'text-may-not-stay-open' });
    if (way.container === 'zip' && way.cipher === 'legacy' && !file.legacyAllowed)
      missing.push({ code: 'legacy-not-allowed' });
    missing.push(...tooLarge(recipient, context));
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
