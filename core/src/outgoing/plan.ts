/**
 * The plan of a draft: the handling it goes under, and for everybody the lock it goes by. Derived from what is known,
 * kept nowhere.
 */
import { defined } from '../defined';
import { lockedBefore } from './as-it-came';
import { lockKinds } from '../locks/list';
import { type AssessmentContext, type Recipient } from '../locks/lock';
import { passwordFinder } from '../passwords/place';
import { addressKey } from '../people/address';
import { ownAddresses } from '../people/own-addresses';
import { type DeliveryPlan, planDelivery, type Ruled } from './delivery-plan';
import { type Draft } from './draft';
import { type DraftHandling, handlingOf, type Permitted, presetOf } from './handling';
import { type Known, type OutgoingPreset } from './known';
import { recipientOf } from './recipient';
import { type Releaser, releasersOf } from './releasers';
import { judgeDraft } from './ruled';
import { stillNeeded, unconfirmed } from '../rules/demand';
import { type Verdict } from '../rules/rule';
import { ALL_WAYS } from '../ways/file-way';

export interface Planned<Preset extends OutgoingPreset = OutgoingPreset> extends DraftHandling<Preset> {
  plan: DeliveryPlan;
  /** What the office's rules say of it, where it has any. */
  verdict: Verdict | undefined;
  /** Who may let it go, where a rule asks for that. */
  releasers: readonly Releaser[] | undefined;
}

const fileNames = ({ files }: Draft): string[] => files.map(({ name }) => name);

/** Some read the newest packets, and some don't. */
const isMixed = (recipients: readonly Recipient[]): boolean =>
  new Set(
    recipients.flatMap(({ openpgp }) =>
      openpgp === undefined || openpgp.level === 'stop' ? [] : [openpgp.readsNewest],
    ),
  ).size > 1;

function contextOf(
  draft: Draft,
  { account, people, colleagues, signs }: Known,
  recipients: readonly Recipient[],
): AssessmentContext {
  const known = people.map(({ value: { name, address, phone, secondAddress } }) => ({
    name,
    address,
    ...defined({ phone, secondAddress }),
  }));
  const others = colleagues
    .filter((one) => addressKey(one.address) !== addressKey(account.address))
    .map(({ name, address, phone }) => ({ name, address, ...defined({ phone }) }));
  return {
    message: `${draft.subject} ${draft.text} ${fileNames(draft).join(' ')}`,
    fileCount: draft.files.length,
    size: draft.files.reduce((sum, { size }) => sum + size, 0),
    sender: {
      address: draft.from ?? account.address,
      signs: signs.certificate,
      signsOpenPgp: signs.openpgp,
      addresses: ownAddresses(account),
      phones: account.phone === undefined ? [] : [account.phone],
    },
    mixedOpenPgp: isMixed(recipients),
    others: [...known, ...others],
  };
}

const ruledOf = (
  draft: Draft,
  { demand, acted, openAgainst }: Verdict,
  {
    isLookedThrough,
    releasers,
    isOpen,
  }: { isLookedThrough: boolean; releasers: readonly Releaser[] | undefined; isOpen: boolean },
): Ruled => ({
  locks: demand.locks,
  isLookedThrough,
  stops: acted.flatMap(({ rule, demand: { stops } }) => stops.map((sentence) => ({ rule: rule.name, sentence }))),
  asks: acted.flatMap(({ rule, demand: one }) =>
    unconfirmed(one, draft.confirmed).map((sentence) => ({ rule: rule.name, sentence })),
  ),
  needs: stillNeeded(demand, draft),
  lacksReleaser: releasers?.length === 0,
  openAgainst: isOpen ? openAgainst : [],
});

function permittedBy(
  verdict: Verdict | undefined,
  { asItCame, textStays }: Pick<Known, 'asItCame' | 'textStays'>,
): Permitted | undefined {
  if (textStays === true) return verdict?.programsLockFiles === undefined ? undefined : 'text';
  const permits = asItCame === 'open' ? verdict?.programsOpenBy : verdict?.openBy;
  return permits === undefined || permits.length === 0 ? undefined : 'open';
}

export function makePlan<Preset extends OutgoingPreset>(draft: Draft, known: Known<Preset>): Planned<Preset> {
  const verdict = judgeDraft(draft, presetOf(draft, known.presets)?.id, known, known.rules);
  const { asItCame } = known;
  const handling = handlingOf(draft, known, verdict?.demand, permittedBy(verdict, known));
  const releasers = verdict?.demand.release === true ? releasersOf(known) : undefined;
  const { applied, leastCheck, leavesAt } = handling;
  const { subject, text, files } = draft;
  const standsIn = passwordFinder({ subject, text, fileNames: fileNames(draft) });
  const allowed = verdict?.demand.ways ?? ALL_WAYS;
  const recipients = draft.recipients.map((one) => recipientOf(one, known, { draft, applied, standsIn, allowed }));
  const plan = planDelivery(
    {
      recipients,
      handling: { ...applied.terms, closing: applied.closing, leastCheck },
      subject,
      text,
      fileSizes: files.map(({ size }) => size),
      limits: known.office.limits,
      isMadeElsewhere: asItCame !== undefined,
      leavingPassed: draft.sendAt !== undefined && leavesAt === undefined,
      context: contextOf(draft, known, recipients),
      ruled:
        verdict === undefined
          ? undefined
          : ruledOf(draft, verdict, {
              isLookedThrough: known.rules!.isLookedThrough,
              releasers,
              isOpen: applied.terms.clear,
            }),
    },
    asItCame === undefined || asItCame === 'open' ? lockKinds : [lockedBefore(asItCame)],
  );
  return { plan, verdict, releasers, ...handling };
}
