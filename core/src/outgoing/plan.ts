/**
 * The plan of a draft: the handling it goes under, and for everybody the lock it goes by. Derived from what is known,
 * kept nowhere.
 */
import { isChanged } from '../account/known-keys';
import { momentAhead } from '../handling/closing';
import {
  type HandlingTerms,
  type IdentityCheck,
  LOOSEST_TERMS,
  mergeTerms,
  passwordSuffices,
} from '../handling/handling';
import {
  type Applied,
  applyAnswered,
  applyPreset,
  presetFloor,
  termsOfPreset,
  tighten,
  type Tightened,
  type WantedTerms,
} from '../handling/preset';
import { knownFileWay } from '../locks/file/known';
import { lockKinds } from '../locks/list';
import { type Recipient } from '../locks/lock';
import { entryFor } from '../passwords/entry';
import { passwordFinder } from '../passwords/place';
import { addressKey } from '../people/address';
import { oneAt, personAt } from '../people/find';
import { isOwnAddress, ownAddresses } from '../people/own-addresses';
import { type DeliveryPlan, planDelivery } from './delivery-plan';
import { type Draft, plainTerms } from './draft';
import { type Known, type OutgoingPreset } from './known';

export interface Planned<Preset extends OutgoingPreset = OutgoingPreset> {
  plan: DeliveryPlan;
  preset: Preset | undefined;
  /** What the worker wants; the preset's own terms until they choose. */
  wanted: WantedTerms;
  applied: Applied;
  /** What the message it answers made stricter. */
  kept: Tightened[];
  /** What rules made stricter besides. */
  demanded: Tightened[];
  /** The weakest check that may be chosen for anybody. */
  leastCheck: IdentityCheck;
  /** When it is to leave, when that is not at once. */
  leavesAt: Date | undefined;
}

/**
 * The preset a draft goes under: the chosen one, else the office's default, else its first. One that leaves open is
 * never gone under without a reason.
 */
export function presetOf<Preset extends OutgoingPreset>(draft: Draft, presets: readonly Preset[]): Preset | undefined {
  const reasoned = (draft.openReason ?? '').trim() !== '';
  const offered = presets.filter(({ active, terms }) => active && (reasoned || !terms.clear));
  const locked = offered.filter(({ terms }) => !terms.clear);
  return offered.find(({ id }) => id === draft.presetId) ?? locked.find(({ isDefault }) => isDefault) ?? locked[0];
}

export function makePlan<Preset extends OutgoingPreset>(
  draft: Draft,
  {
    office,
    account,
    people,
    colleagues,
    knownKeys,
    registered,
    presets,
    demands = [],
    certificates,
    keys,
    signs,
    passwords,
    fileRules,
    now,
    zone,
  }: Known<Preset>,
): Planned<Preset> {
  const preset = presetOf(draft, presets);
  const wanted = draft.terms ?? (preset === undefined ? plainTerms : termsOfPreset(preset.terms));
  const leavesAt = draft.sendAt === undefined ? undefined : momentAhead(draft.sendAt, now, zone);
  // The closing date counts from when it leaves.
  const answered = applyAnswered(
    applyPreset(wanted, preset?.terms, leavesAt ?? now, { ...office.calendar, zone }),
    draft.answered,
    draft.passedOnUntil === undefined ? undefined : new Date(draft.passedOnUntil),
  );
  const { kept } = answered;
  const asked = demands.reduce(mergeTerms, LOOSEST_TERMS);
  const { applied, by: demanded } = tighten(answered.applied, asked);
  const leastCheck = [preset === undefined ? LOOSEST_TERMS : presetFloor(preset.terms), draft.answered, asked].reduce(
    (least: HandlingTerms, terms = LOOSEST_TERMS) => mergeTerms(least, terms),
    LOOSEST_TERMS,
  ).check;
  const standsIn = passwordFinder({
    subject: draft.subject,
    text: draft.text,
    fileNames: draft.files.map((file) => file.name),
  });
  const recipients = draft.recipients.map(
    ({ name, address, role, check: chosen, question, answer, lock: chosenLock, scope, password }): Recipient => {
      const person = personAt(people, address)?.value;
      const colleague = colleagues.find((one) => isOwnAddress(one, address));
      const reader = oneAt(registered, address);
      // A password that is enough comes before what was remembered from before they had one.
      const check = chosen ?? (passwordSuffices(reader?.knownBy, applied.terms) ? 'password' : person?.check);
      const certificate = certificates.get(addressKey(address))?.verdict;
      const key = keys.get(addressKey(address));
      const runsOut = (at: Date | undefined) =>
        applied.closing.ok && at !== undefined && at < applied.closing.closesAt ? { runsOut: at } : {};
      const lock = chosenLock ?? person?.lock;
      return {
        address,
        role: draft.eachAlone === true ? 'bcc' : role,
        ...(certificate === undefined
          ? {}
          : { certificate: { level: certificate.level, ...runsOut(certificate.validUntil) } }),
        ...(key === undefined
          ? {}
          : {
              openpgp: { level: key.verdict.level, readsNewest: key.readsNewest, ...runsOut(key.verdict.validUntil) },
            }),
        file: knownFileWay(
          { person, scope, password, entry: entryFor(passwords, address, 'out')?.value, address },
          fileRules,
          standsIn,
        ),
        ...(lock === undefined ? {} : { lock }),
        name: name || (person?.name ?? colleague?.name ?? ''),
        ...(person?.phone === undefined ? {} : { phone: person.phone }),
        ...(person?.secondAddress === undefined ? {} : { secondAddress: person.secondAddress }),
        ...(check === undefined ? {} : { check }),
        ...(person?.language === undefined ? {} : { language: person.language }),
        ...(question === undefined ? {} : { question }),
        ...(answer === undefined ? {} : { answer }),
        ...(colleague === undefined
          ? {}
          : {
              colleague: {
                ready: colleague.key !== undefined,
                ...(isChanged(knownKeys, colleague) ? { changed: true } : {}),
              },
            }),
        ...(reader === undefined
          ? {}
          : { registered: reader.knownBy === undefined ? {} : { knownBy: reader.knownBy } }),
      };
    },
  );
  const plan = planDelivery(
    {
      recipients,
      handling: { ...applied.terms, closing: applied.closing, leastCheck },
      subject: draft.subject,
      text: draft.text,
      fileSizes: draft.files.map(({ size }) => size),
      limits: office.limits,
      leavingPassed: draft.sendAt !== undefined && leavesAt === undefined,
      context: {
        message: `${draft.subject} ${draft.text} ${draft.files.map(({ name }) => name).join(' ')}`,
        fileCount: draft.files.length,
        size: draft.files.reduce((sum, { size }) => sum + size, 0),
        sender: {
          address: draft.from ?? account.address,
          signs: signs.certificate,
          signsOpenPgp: signs.openpgp,
          addresses: ownAddresses(account),
          phones: account.phone === undefined ? [] : [account.phone],
        },
        mixedOpenPgp:
          new Set(
            recipients.flatMap(({ openpgp }) =>
              openpgp === undefined || openpgp.level === 'stop' ? [] : [openpgp.readsNewest],
            ),
          ).size > 1,
        others: [
          ...people.map(({ value }) => ({
            name: value.name,
            address: value.address,
            ...(value.phone === undefined ? {} : { phone: value.phone }),
            ...(value.secondAddress === undefined ? {} : { secondAddress: value.secondAddress }),
          })),
          ...colleagues
            .filter((one) => addressKey(one.address) !== addressKey(account.address))
            .map(({ name, address, phone }) => ({ name, address, ...(phone === undefined ? {} : { phone }) })),
        ],
      },
    },
    lockKinds,
  );
  return { plan, preset, wanted, applied, kept, demanded, leastCheck, leavesAt };
}
