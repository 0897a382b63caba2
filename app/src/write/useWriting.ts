/** What both widths of Write show and do: the draft with all the page knows beside it, its plan, and its sending. */
import { type Account } from '@under-lock/contract/account';
import { presetOf } from '@under-lock/core/outgoing/handling';
import { type Draft } from '@under-lock/core/outgoing/draft';
import { type PlanLine } from '@under-lock/core/outgoing/delivery-plan';
import { addressKey, type Correspondent } from '@under-lock/core/people/address';
import { ownAddresses } from '@under-lock/core/people/own-addresses';
import { unsettled } from '@under-lock/core/outgoing/missing-words';
import { useMemo, useState } from 'react';
import { useNow, zone } from '../clock';
import { usePresets } from '../handling/usePresets';
import { type OpenAsked } from '../handling/SendOpen';
import { tightenedWords } from '../handling/words';
import { useSigns } from '../keys/useKeys';
import { useColleagues, useOffice } from '../session/useOffice';
import { useFileRules } from '../passwords/useFileRules';
import { usePasswords } from '../passwords/usePasswords';
import { useRecipientCertificates } from '../people/certificates';
import { useRecipientKeys } from '../people/keys';
import { useReach } from '../office-book/useReach';
import { useKnownKeys } from '../people/known-keys';
import { usePeople } from '../people/person';
import { useRegistered } from '../people/useRegistered';
import { useWrittenTo } from '../people/useWrittenTo';
import { useOpenSession } from '../session/session';
import { useFiles } from './letter/useFiles';
import { usePlanActions } from './plan/usePlanActions';
import { useDoubts } from './doubts/useDoubts';
import { recipientEdits } from './plan/recipient-edits';
import { usePolicy } from '../rules/usePolicy';
import { useRuled } from './rules/useRuled';
import { useSendingWhenLooked } from './rules/useSendingWhenLooked';
import { useTellStopped } from './rules/useTellStopped';
import { type DraftDesk } from './useDraft';
import { type PlanContext, type Planned, usePlan } from './usePlan';
import { useRested } from './useRested';
import { useSame } from './useSame';
import { useSending } from './useSending';
import { useSteady } from './useSteady';

const SMALLEST_LIMIT = 25_000_000; // bytes, until the office's own is known

/** Whom a letter may be for: the persons written to before, those of late first, and colleagues. */
function suggested(
  account: Account,
  people: PlanContext['people'] | undefined,
  colleagues: PlanContext['colleagues'] | undefined,
  writtenTo: ReadonlyMap<string, Date>,
): Correspondent[] {
  const known = (people ?? []).map(({ value: { name, address } }) => ({ name, address }));
  const others = (colleagues ?? []).filter(({ id }) => id !== account.id);
  const all = [...known, ...others.flatMap((one) => ownAddresses(one).map((address) => ({ name: one.name, address })))];
  const last = ({ address }: Correspondent): number => writtenTo.get(addressKey(address))?.getTime() ?? 0;
  return all.sort((one, other) => last(other) - last(one));
}

/** Why the handling is stricter than what was chosen. */
function reasonsOf(planned: Planned | undefined, now: Date): readonly string[] {
  if (planned === undefined) return [];
  const {
    preset,
    applied: { terms, closing, tightened },
    kept,
    demanded,
  } = planned;
  const closesAt = closing.ok ? closing.closesAt : undefined;
  return [
    ...(preset === undefined
      ? []
      : tightenedWords(tightened, terms, closesAt, `because the preset “${preset.name}” says so`, now, zone)),
    ...tightenedWords(kept, terms, closesAt, 'as in the message that this answers', now, zone),
    ...tightenedWords(demanded, terms, closesAt, 'as the office’s rules ask', now, zone),
  ];
}

/** What the page knows beside the draft, each part undefined until it has come; and what could not be had. */
function useKnown(draft: Draft) {
  const { account } = useOpenSession();
  const office = useOffice();
  const people = usePeople();
  const colleagues = useColleagues();
  const presets = usePresets();
  const passwords = usePasswords();
  const reach = useReach(people.data, passwords.data);
  const fileRules = useFileRules();
  const now = useNow();
  const addresses = useMemo(() => draft.recipients.map(({ address }) => address), [draft.recipients]);
  const registered = useRegistered(addresses);
  const certificates = useRecipientCertificates(reach?.people, addresses);
  const keys = useRecipientKeys(reach?.people, addresses);
  const signsNeeded =
    certificates.judged.size + keys.judged.size > 0 ||
    (presets.data !== undefined && presetOf(draft, presets.data)?.terms.clear === true);
  const own = useSigns(draft.from ?? account.address, signsNeeded);
  const knownKeys = useKnownKeys();
  const policy = usePolicy();
  const ruled = useRuled(draft, { policy: policy.data, addresses, departments: account.departments });
  return {
    seen: ruled.seen,
    known: {
      office: office.data,
      account,
      people: reach?.people,
      ownPeople: people.data,
      fromBook: reach?.fromBook,
      firms: reach?.firms,
      colleagues: colleagues.data,
      knownKeys,
      registered: registered.readers,
      presets: presets.data,
      certificates: certificates.judged,
      keys: keys.judged,
      signs: own.signs,
      passwords: reach?.passwords,
      ownPasswords: passwords.data,
      fileRules: fileRules.data,
      rules: ruled.rules,
      now,
    },
    asking: reach?.isLooking === true || [ruled, registered, certificates, keys, own].some(({ asking }) => asking),
    failed: [office, people, colleagues, presets, passwords, fileRules, policy].find(({ error }) => error !== undefined)
      ?.error as unknown,
  };
}

const NOBODY: readonly PlanLine[] = [];

/** By address. A line that says the same as before is the same object: chips are drawn again only with theirs. */
const useMarks = (planned: Planned | undefined): Readonly<Record<string, PlanLine>> =>
  useSame<Record<string, PlanLine>>(
    Object.fromEntries((planned?.plan.lines ?? NOBODY).map((line) => [line.recipient.address, line])),
  );

/** What still has to be settled, in words. */
const openIn = (planned: Planned | undefined, now: Date, isKeeping: boolean, isAsking: boolean): string[] => [
  ...(planned === undefined ? [] : unsettled(planned.plan, now, zone)),
  ...(isKeeping ? ['files still being kept'] : []),
  ...(isAsking ? ['how they can get it is still being looked up'] : []),
];

/** What the plan says of itself. */
function useSaid(
  planned: Planned | undefined,
  { now, isKeeping, isAsking }: { now: Date; isKeeping: boolean; isAsking: boolean },
) {
  const because = useMemo(() => reasonsOf(planned, now), [planned, now]);
  const open = useMemo(() => openIn(planned, now, isKeeping, isAsking), [planned, now, isKeeping, isAsking]);
  return { because, open, marks: useMarks(planned) };
}

function useSends(given: Parameters<typeof useSending>[0], isTextSeen: boolean, planned: Planned | undefined) {
  const { sending, failed, send: sendNow, stop: stopNow } = useSending(given);
  const { asked: sendingSoon, send: sendWhenLooked } = useSendingWhenLooked(isTextSeen, sendNow);
  useTellStopped(given.desk.id, planned?.verdict);
  const { send, stop } = useSteady({ send: sendWhenLooked, stop: stopNow });
  return {
    sending,
    /** It was asked for, and begins as soon as what was written last is looked through. */
    sendingSoon,
    failed,
    send,
    stop,
  };
}

type Known = ReturnType<typeof useKnown>['known'];

/** What changes the draft. */
function useChanges(desk: DraftDesk, draft: Draft, known: Known, planned: Planned | undefined) {
  const limit = known.office?.limits.maxBytes ?? SMALLEST_LIMIT;
  const files = useFiles(draft.files, limit, (edit) =>
    desk.change((before) => ({ ...before, files: edit(before.files) })),
  );
  const { set } = useSteady({
    set: (change: Partial<Draft>): void => desk.change((before) => ({ ...before, ...change })),
  });
  const actions = usePlanActions({ desk, draft, ...known, verdict: planned?.verdict });
  return { desk: useSteady(desk), edits: useSteady(recipientEdits(desk)), actions, set, files, limit };
}

function useSuggestions(
  { account, people, colleagues }: Pick<Known, 'account' | 'people' | 'colleagues'>,
  writtenTo: ReadonlyMap<string, Date>,
): Correspondent[] {
  return useMemo(() => suggested(account, people, colleagues, writtenTo), [account, people, colleagues, writtenTo]);
}

const NEEDED = ['office', 'presets', 'policy', 'planned', 'fromBook'] as const;
type Beside = ReturnType<typeof useBesideText>['writing'];
type Ready = Beside & { [Key in (typeof NEEDED)[number]]: NonNullable<Beside[Key]> };

/** Whether all of it has come. */
const isReady = (writing: Beside): writing is Ready => NEEDED.every((name) => writing[name] !== undefined);

/**
 * The draft as it rests, with all that the page knows beside it, each part the same object for as long as it says the
 * same: what is drawn from it is not drawn again at every key.
 */
function useBesideText(desk: DraftDesk, draft: Draft) {
  const { known, seen, asking, failed: missing } = useKnown(draft);
  const rested = useRested(draft);
  const { planned, planNow } = usePlan(rested, draft, known);
  const sends = useSends({ desk, draft, context: known, planNow }, seen.isTextSeen, planned);
  const changes = useChanges(desk, draft, known, planned);
  const { account, now, office, presets, fromBook } = known;
  const writtenTo = useWrittenTo();
  const [openAsked, askOpen] = useState<OpenAsked | undefined>();
  const writing = useSame({
    draft: rested,
    account,
    office,
    presets,
    policy: known.rules?.policy,
    now,
    planned,
    ...useSaid(planned, { now, isKeeping: changes.files.coming.length > 0, isAsking: asking }),
    doubts: useDoubts(rested, known, writtenTo, seen),
    suggestions: useSuggestions(known, writtenTo),
    fromBook,
    seen,
    openAsked,
    askOpen,
    ...changes,
    ...sends,
  });
  return { writing, missing };
}

export function useWriting(desk: DraftDesk, draft: Draft) {
  const { writing, missing } = useBesideText(desk, draft);
  return missing === undefined && isReady(writing)
    ? ({ ready: true, writing } as const)
    : ({ ready: false, missing } as const);
}

/** What is drawn beside the letter's words; those who show or change these have the draft itself. */
export type Writing = Extract<ReturnType<typeof useWriting>, { ready: true }>['writing'];
