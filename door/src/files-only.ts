/** A mail whose files are locked and whose text stays as it was written, where the office lets that be. */
import { type Draft, type DraftRecipient } from '@under-lock/core/outgoing/draft';
import { type Known } from '@under-lock/core/outgoing/known';
import { makePlan, type Planned } from '@under-lock/core/outgoing/plan';
import { fileWayIn } from '@under-lock/core/locks/file/known';
import { type FileRules } from '@under-lock/core/locks/file/rules';
import { type DraftPassword } from '@under-lock/core/passwords/entry';
import { GUESSES_OF_NEW, newPassword } from '@under-lock/core/passwords/generate';
import { personAt } from '@under-lock/core/people/find';
import { type LockedFiles } from '@under-lock/core/rules/rule';
import { ALL_WAYS, type AllowedWays } from '@under-lock/core/ways/file-way';
import { type PasswordKind } from '@under-lock/core/ways/password-kind';
import { type Way } from './known';

/** As the office makes them, or longer where it asks for more. */
function madeNow(kind: PasswordKind, { leastGuesses }: FileRules): DraftPassword {
  const wanted = GUESSES_OF_NEW[kind] < leastGuesses ? 'characters' : kind;
  return { password: newPassword(wanted), guesses: GUESSES_OF_NEW[wanted], told: false, remember: true };
}

/**
 * A password that nobody has agreed on is made for this mail alone. It goes as a text message where a number is known;
 * else its writer tells it.
 */
function withLockedFiles(
  one: DraftRecipient,
  known: Known,
  { container, lockedStay }: LockedFiles,
  allowedWays: AllowedWays,
): DraftRecipient {
  const ruledWay = { lockedStay, ...(container === undefined ? {} : { container }) };
  const asked: DraftRecipient = { ...one, lock: 'file', scope: 'files', ruledWay };
  const { way, password } = fileWayIn({ ...known, settled: [asked], allowedWays }, one.address);
  // Where it has to be one that was agreed on, whoever wrote it is asked for it.
  if (password !== undefined || !allowedWays.passwords.includes('new')) return asked;
  const hasPhone = personAt(known.people, one.address)?.value.phone !== undefined;
  return {
    ...asked,
    password: madeNow(way.passwords, known.fileRules),
    ruledWay: { ...ruledWay, telling: hasPhone ? 'text' : 'phone' },
  };
}

/**
 * Who gets all of it locked without being asked for anything still gets that: colleagues, and whoever has a certificate
 * or a key.
 */
function isLockedAnyway({ recipient: { colleague }, chosen: { lock, missing } }: Planned['plan']['lines'][number]) {
  return colleague !== undefined || (['certificate', 'openpgp'].includes(lock) && missing.length === 0);
}

export function filesOnly(draft: Draft, before: Known, how: LockedFiles): Way {
  const known: Known = { ...before, textStays: true };
  const { plan, verdict } = makePlan(draft, known);
  const recipients = draft.recipients.map((one, index) =>
    isLockedAnyway(plan.lines[index]!) ? one : withLockedFiles(one, known, how, verdict?.demand.ways ?? ALL_WAYS),
  );
  const settled: Draft = { ...draft, recipients };
  return { draft: settled, known, plan: makePlan(settled, known) };
}
