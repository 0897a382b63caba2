/**
 * Whether somebody can get a copy that stays with them, by whichever lock, and what such a copy can't do: nobody
 * closes it, withdraws it or limits what is done with it. Under a
 * handling for what is no secret it is signed only, which asks nothing of them.
 */
import { RIGHTS } from '../handling/handling';
import {
  type Assessment,
  type CopyLock,
  type HandlingPart,
  type KnownMeans,
  type Missing,
  type PlannedHandling,
  type Recipient,
  type Warning,
} from './lock';

/** What one lock calls the same troubles. */
export interface CopyWords {
  lock: Exclude<CopyLock, 'file'>;
  missing: Missing['code'] & ('certificate-missing' | 'key-missing');
  unusable: Missing['code'] & ('certificate-unusable' | 'key-unusable');
  ownMissing: Missing['code'] & ('own-certificate-missing' | 'own-key-missing');
  unchecked: Warning['code'] & ('certificate-unchecked' | 'key-unchecked');
  runsOut: Warning['code'] & ('certificate-runs-out' | 'key-runs-out');
}

/** What the handling asks that a copy can't keep, where it doesn't allow copies. */
export const broken = ({ rights, copies }: PlannedHandling): HandlingPart[] =>
  copies ? [] : ['closing', 'check', ...RIGHTS.filter((right) => !rights[right])];

export const forStaff = ({ audience }: PlannedHandling): Missing[] =>
  audience === 'staff' || audience === 'nobody' ? [{ code: 'staff-only' }] : [];

function assessSigned(
  { colleague }: Recipient,
  handling: PlannedHandling,
  signs: boolean,
  words: CopyWords,
): Assessment {
  const missing: Missing[] = [...(signs ? [] : [{ code: words.ownMissing }]), ...forStaff(handling)];
  // The handling says that nothing is to be kept from anybody: it is never swapped for another because the worker can't
  // sign yet.
  return {
    lock: words.lock,
    clear: true,
    available: colleague === undefined,
    missing,
    warnings: [],
    cannotHonour: [],
    reasons: [{ code: 'signed-and-readable' }],
  };
}

export function assessCopy(
  recipient: Recipient,
  handling: PlannedHandling,
  { known, signs }: { known: KnownMeans | undefined; signs: boolean },
  words: CopyWords,
): Assessment {
  if (handling.clear) return assessSigned(recipient, handling, signs, words);
  const missing: Missing[] = [];
  const warnings: Warning[] = [];
  if (known === undefined) missing.push({ code: words.missing });
  else if (known.level === 'stop') missing.push({ code: words.unusable });
  if (!handling.copies) missing.push({ code: 'copies-not-allowed' });
  missing.push(...forStaff(handling));
  if (known?.level === 'unchecked') warnings.push({ code: words.unchecked });
  if (known !== undefined && known.level !== 'stop' && known.runsOut !== undefined)
    warnings.push({ code: words.runsOut, at: known.runsOut });
  // Whoever gets it can't tell who wrote it, and can't be sure that it is unchanged.
  if (known !== undefined && known.level !== 'stop' && !signs) warnings.push({ code: 'goes-unsigned' });
  return {
    lock: words.lock,
    // Colleagues read here, signed in; nobody else can be taken for them.
    available: missing.length === 0 && recipient.colleague === undefined,
    missing,
    warnings,
    cannotHonour: broken(handling),
    reasons: [{ code: 'opens-in-their-program' }, { code: 'stays-with-them' }],
  };
}
