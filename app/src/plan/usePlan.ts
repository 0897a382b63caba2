/** The plan for a draft: derived on every change, kept nowhere. */
import { type Account, type listColleagues } from '@under-lock/contract/account';
import { type Reply } from '@under-lock/contract/client';
import { type Office } from '@under-lock/contract/office';
import { type Preset } from '@under-lock/contract/preset';
import { type Registered } from '@under-lock/contract/registered';
import {
  type Applied,
  applyAnswered,
  applyPreset,
  presetFloor,
  termsOfPreset,
  type Tightened,
  type WantedTerms,
} from '@under-lock/core/handling/preset';
import { type IdentityCheck, LOOSEST_TERMS, mergeTerms, passwordSuffices } from '@under-lock/core/handling/handling';
import { momentAhead } from '@under-lock/core/handling/closing';
import { lockKinds } from '@under-lock/core/locks/index';
import { type FileRules, wayFor } from '@under-lock/core/locks/file/rules';
import { type FileWay } from '@under-lock/core/locks/file/way';
import { type KnownFileWay, type Recipient } from '@under-lock/core/locks/lock';
import { passwordFinder, type PasswordPlace } from '@under-lock/core/passwords/place';
import { addressKey } from '@under-lock/core/people/address';
import { type DeliveryPlan, type PlanLine, planDelivery } from '@under-lock/core/plan/plan';
import { useDeferredValue, useEffect, useMemo, useState } from 'react';
import { zone } from '../clock';
import { calendarHere } from '../handling/HandlingForm';
import { type Draft, type DraftPassword, plainTerms } from '@under-lock/core/outgoing/draft';
import { type PasswordEntry } from '@under-lock/core/passwords/entry';
import { type Book, entryFor } from '../passwords/usePasswords';
import { type Person, personAt } from '../people/person';
import { type RecipientCertificates } from '../people/certificates';
import { type RecipientKeys } from '../people/keys';
import { isChanged, type KnownKeys } from '../people/known-keys';
import { registeredAt } from '../people/useRegistered';
import { isOwnAddress, ownAddresses } from '../session/own-addresses';
import { type Kept } from '../vault/useVault';

export type Colleague = Reply<typeof listColleagues>['colleagues'][number];

export interface PlanContext {
  office: Office;
  account: Account;
  people: Kept<Person>[];
  colleagues: readonly Colleague[];
  /** Their keys when they were first written to. */
  knownKeys: KnownKeys;
  registered: readonly Registered[];
  presets: readonly Preset[];
  certificates: RecipientCertificates;
  keys: RecipientKeys;
  /** What the worker can sign with. Asked only where the handling needs it. */
  signs: { certificate: boolean; openpgp: boolean };
  /** The worker's password book, and what the office says about locked files. */
  passwords: Book;
  fileRules: FileRules;
  now: Date;
}

export interface Planned {
  plan: DeliveryPlan;
  preset: Preset | undefined;
  /** What the worker wants; the preset's own terms until they choose. */
  wanted: WantedTerms;
  applied: Applied;
  /** What the message it answers made stricter. */
  kept: Tightened[];
  /** The weakest check that may be chosen for anybody. */
  leastCheck: IdentityCheck;
  /** When it is to leave, when that is not at once. */
  leavesAt: Date | undefined;
}

interface AboutFiles {
  address: string;
  person: Person | undefined;
  scope: Draft['recipients'][number]['scope'];
  password: DraftPassword | undefined;
  entry: PasswordEntry | undefined;
}

/** How they get locked files, with what is to be said of the password: this message's own, or the one in the book. */
export function fileWayOf(
  { address, person, scope, password, entry }: AboutFiles,
  rules: FileRules,
): {
  way: FileWay;
  largest: number | undefined;
  password: { password: string; guesses: number; told: boolean } | undefined;
} {
  const { way, largest } = wayFor(rules, address, person?.fileWay);
  const agreed =
    entry === undefined || way.eachTime
      ? undefined
      : { password: entry.password, guesses: entry.guesses, told: entry.toldAt !== undefined };
  return { way: scope === undefined ? way : { ...way, scope }, largest, password: password ?? agreed };
}

function knownFileWay(
  about: AboutFiles,
  rules: FileRules,
  standsIn: (password: string) => PasswordPlace | undefined,
): KnownFileWay {
  const { way, largest, password } = fileWayOf(about, rules);
  const place = password === undefined ? undefined : standsIn(password.password);
  return {
    way,
    legacyAllowed: rules.legacyAllowed,
    ...(largest === undefined ? {} : { largest }),
    ...(password === undefined
      ? {}
      : {
          password: {
            weak: password.guesses < rules.leastGuesses,
            told: password.told,
            ...(place === undefined ? {} : { standsIn: place }),
          },
        }),
  };
}

/**
 * The preset a draft goes under: the chosen one, else the office's default, else its first. One that leaves open is
 * never gone under without a reason.
 */
export function presetOf(draft: Draft, presets: readonly Preset[]): Preset | undefined {
  const reasoned = (draft.openReason ?? '').trim() !== '';
  const offered = presets.filter(({ active, terms }) => active && (reasoned || !terms.clear));
  const locked = offered.filter(({ terms }) => !terms.clear);
  return offered.find(({ id }) => id === draft.presetId) ?? locked.find(({ isDefault }) => isDefault) ?? locked[0];
}

export function makePlan(
  draft: Draft,
  {
    office,
    account,
    people,
    colleagues,
    knownKeys,
    registered,
    presets,
    certificates,
    keys,
    signs,
    passwords,
    fileRules,
    now,
  }: PlanContext,
): Planned {
  const preset = presetOf(draft, presets);
  const wanted = draft.terms ?? (preset === undefined ? plainTerms : termsOfPreset(preset.terms));
  const leavesAt = draft.sendAt === undefined ? undefined : momentAhead(draft.sendAt, now, zone);
  // The closing date counts from when it leaves.
  const { applied, kept } = applyAnswered(
    applyPreset(wanted, preset?.terms, leavesAt ?? now, calendarHere(office)),
    draft.answered,
    draft.passedOnUntil === undefined ? undefined : new Date(draft.passedOnUntil),
  );
  const leastCheck = mergeTerms(
    preset === undefined ? LOOSEST_TERMS : presetFloor(preset.terms),
    draft.answered ?? LOOSEST_TERMS,
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
      const reader = registeredAt(registered, address);
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
  return { plan, preset, wanted, applied, kept, leastCheck, leavesAt };
}

/** Lines that say the same as before stay the same objects: only those that changed are drawn again. */
function withKeptLines(plan: DeliveryPlan, before: readonly PlanLine[]): DeliveryPlan {
  const known = new Map(before.map((line) => [line.recipient.address, line]));
  const lines = plan.lines.map((line) => {
    const old = known.get(line.recipient.address);
    return old !== undefined && JSON.stringify(old) === JSON.stringify(line) ? old : line;
  });
  return { ...plan, lines };
}

type Offered = { [Key in keyof PlanContext]: PlanContext[Key] | undefined };

function planFrom(
  draft: Draft,
  {
    office,
    account,
    people,
    colleagues,
    knownKeys,
    registered,
    presets,
    certificates,
    keys,
    signs,
    passwords,
    fileRules,
    now,
  }: Offered,
): Planned | undefined {
  if (
    office === undefined ||
    account === undefined ||
    people === undefined ||
    colleagues === undefined ||
    knownKeys === undefined ||
    registered === undefined ||
    presets === undefined ||
    certificates === undefined ||
    keys === undefined ||
    signs === undefined ||
    passwords === undefined ||
    fileRules === undefined ||
    now === undefined
  )
    return undefined;
  return makePlan(draft, {
    office,
    account,
    people,
    colleagues,
    knownKeys,
    registered,
    presets,
    certificates,
    keys,
    signs,
    passwords,
    fileRules,
    now,
  });
}

/**
 * Planned off the key press: while somebody writes, what they see may be the plan of a moment ago; `planNow` makes
 * that of this very draft. With sixty recipients a plan and
 * its drawing take longer than a key may.
 */
export function usePlan(
  draft: Draft,
  context: Offered,
): { planned: Planned | undefined; planNow: () => Planned | undefined } {
  const {
    office,
    account,
    people,
    colleagues,
    knownKeys,
    registered,
    presets,
    certificates,
    keys,
    signs,
    passwords,
    fileRules,
    now,
  } = context;
  const settled = useDeferredValue(draft);
  const [shown] = useState<{ lines: readonly PlanLine[] }>(() => ({ lines: [] }));
  const planned = useMemo(() => {
    const made = planFrom(settled, {
      office,
      account,
      people,
      colleagues,
      knownKeys,
      registered,
      presets,
      certificates,
      keys,
      signs,
      passwords,
      fileRules,
      now,
    });
    return made === undefined ? undefined : { ...made, plan: withKeptLines(made.plan, shown.lines) };
  }, [
    settled,
    office,
    account,
    people,
    colleagues,
    knownKeys,
    registered,
    presets,
    certificates,
    keys,
    signs,
    passwords,
    fileRules,
    now,
    shown,
  ]);
  useEffect(() => {
    if (planned !== undefined) Object.assign(shown, { lines: planned.plan.lines });
  }, [planned, shown]);
  return { planned, planNow: () => planFrom(draft, { ...context, now: new Date() }) };
}
