/** One recipient of a draft with all that locks may know of them. */
import { isChanged } from '../account/known-keys';
import { defined } from '../defined';
import { passwordSuffices } from '../handling/handling';
import { type Applied } from '../handling/preset';
import { knownFileWay } from '../locks/file/known';
import { largestFor } from '../locks/file/rules';
import { type Recipient } from '../locks/lock';
import { entryFor } from '../passwords/entry';
import { type PasswordPlace } from '../passwords/place';
import { addressKey, hostOf } from '../people/address';
import { oneAt, accountAt, personAt } from '../people/find';
import { inUse } from '../people/in-use';
import { type Person } from '../people/kept-person';
import { type Chose, choiceSuffices } from '../ways/chose';
import { type AllowedWays } from '../ways/file-way';
import { type Draft, type DraftRecipient } from './draft';
import { type Known } from './known';

type Among = Pick<
  Known,
  'people' | 'colleagues' | 'knownKeys' | 'registered' | 'certificates' | 'keys' | 'passwords' | 'fileRules' | 'firms'
>;

interface Given {
  draft: Pick<Draft, 'eachAlone'>;
  applied: Applied;
  /** Where a password stands in what is about to be mailed. */
  standsIn: (password: string) => PasswordPlace | undefined;
  /** How rules let files be locked. */
  allowed: AllowedWays;
}

/** Their certificate and key as they were judged, with when they run out before the closing date. */
function meansOf(
  address: string,
  { certificates, keys }: Among,
  { closing }: Applied,
): Pick<Recipient, 'certificate' | 'openpgp'> {
  const runsOut = (at: Date | undefined): { runsOut?: Date } =>
    closing.ok && at !== undefined && at < closing.closesAt ? { runsOut: at } : {};
  const certificate = certificates.get(addressKey(address))?.verdict;
  const key = keys.get(addressKey(address));
  return defined({
    certificate:
      certificate === undefined ? undefined : { level: certificate.level, ...runsOut(certificate.validUntil) },
    openpgp:
      key === undefined
        ? undefined
        : { level: key.verdict.level, readsNewest: key.readsNewest, ...runsOut(key.verdict.validUntil) },
  });
}

const wishOf = (chose: Chose | undefined, { terms }: Applied): Recipient['chose'] =>
  chose === undefined ? undefined : { lock: chose.lock, at: chose.at, tooWeak: !choiceSuffices(chose, terms.check) };

/** Whether what is in use is theirs by nothing but a choice that nobody has compared. */
function isOnlyChosen(all: Person['certificates'] | Person['keys']): boolean {
  const one = inUse<NonNullable<typeof all>[number]>(all);
  return one?.from === 'choice' && one.checked === undefined;
}

/**
 * What a choice brought along after a lesser check than this message asks is not there for it: a password, certificate
 * or key of whoever has the mailbox would otherwise take the place of the check.
 */
function withoutTooWeak(
  means: Pick<Recipient, 'certificate' | 'openpgp'>,
  { certificates, keys }: Pick<Person, 'certificates' | 'keys'>,
): Pick<Recipient, 'certificate' | 'openpgp'> {
  return defined({
    certificate: isOnlyChosen(certificates) ? undefined : means.certificate,
    openpgp: isOnlyChosen(keys) ? undefined : means.openpgp,
  });
}

/** Who they are here: a colleague, a registered reader, or neither. */
function knownAs(
  address: string,
  { colleagues, knownKeys, registered }: Among,
): Pick<Recipient, 'colleague' | 'registered'> & { name: string | undefined } {
  const colleague = accountAt(colleagues, address);
  const reader = oneAt(registered, address);
  return {
    name: colleague?.name,
    ...defined({
      colleague:
        colleague === undefined
          ? undefined
          : { ready: colleague.key !== undefined, ...(isChanged(knownKeys, colleague) ? { changed: true } : {}) },
      registered: reader === undefined ? undefined : defined({ knownBy: reader.knownBy }),
    }),
  };
}

export function recipientOf(
  { name, address, role, check: chosen, question, answer, told, lock, scope, password, ruledWay }: DraftRecipient,
  among: Among,
  { draft, applied, standsIn, allowed }: Given,
): Recipient {
  const person: Person | undefined = personAt(among.people, address)?.value;
  const { name: ownName, ...here } = knownAs(address, among);
  // A password that is enough comes before what was remembered from before they had one.
  const suffices = passwordSuffices(here.registered?.knownBy, applied.terms);
  const chose = wishOf(person?.chose, applied);
  const agreed = entryFor(among.passwords, address, 'out')?.value;
  const entry = chose?.tooWeak === true && agreed?.since === chose.at ? undefined : agreed;
  const means = meansOf(address, among, applied);
  const wish = chose?.tooWeak === false ? chose.lock : undefined;
  return {
    name: name || (person?.name ?? ownName ?? ''),
    address,
    role: draft.eachAlone === true ? 'bcc' : role,
    file: knownFileWay({ person, scope, password, entry, address, ruledWay, allowed }, among.fileRules, standsIn),
    ...(chose?.tooWeak === true ? withoutTooWeak(means, person ?? {}) : means),
    ...here,
    ...defined({
      largest: largestFor(among.fileRules, address),
      chose,
      lock: lock ?? wish ?? person?.lock ?? among.firms?.get(hostOf(addressKey(address))),
      phone: person?.phone,
      secondAddress: person?.secondAddress,
      check: chosen ?? (suffices ? ('password' as const) : person?.check),
      language: person?.language,
      question,
      answer,
      told,
    }),
  };
}
