/** What the office's rules say of a draft: its facts, and what follows from them for its plan. */
import { entryFor } from '../passwords/entry';
import { addressKey, isAtDomain } from '../people/address';
import { oneAt, accountAt } from '../people/find';
import { type ContentFacts, type Facts } from '../rules/facts';
import { type Policy } from '../rules/policy';
import { judge, type Verdict } from '../rules/rule';
import { type Kind } from '../scan/finding';
import { type Draft } from './draft';
import { type Known } from './known';
import { contentFacts, harmlessIn, type Looked } from './looked';

/** What has to be known besides to hold a draft against the rules. */
export interface KnownOfRules {
  policy: Policy;
  /** What was seen in it. */
  looked: Looked;
  /** Everything in it has been looked through, as far as it can be. */
  isLookedThrough: boolean;
  /** By the key of the address: whom the sender has never written to. */
  newTo: ReadonlySet<string>;
  /** The sender's. */
  departments: readonly string[];
}

/** What a dispatch says of the rules it was planned by. */
export interface RuledBody {
  version: number;
  content: ContentFacts;
  withoutLock: string[];
  confirmed: string[];
  reason?: string;
  /** The office learns what it mistakes. */
  harmless: { kind: Kind; of: string; count: number }[];
}

type Among = Pick<Known, 'office' | 'account' | 'colleagues' | 'registered' | 'certificates' | 'keys' | 'passwords'>;

export const isStaffAddress = (
  address: string,
  { office, colleagues }: Pick<Known, 'office' | 'colleagues'>,
): boolean => isAtDomain(address, office.mailDomain) || accountAt(colleagues, address) !== undefined;

/** Nothing of theirs is known that a message could be locked with. */
function hasNoLock(address: string, { colleagues, registered, certificates, keys, passwords }: Among): boolean {
  const key = addressKey(address);
  const isUsable = (level: string | undefined): boolean => level !== undefined && level !== 'stop';
  return !(
    isUsable(certificates.get(key)?.verdict.level) ||
    isUsable(keys.get(key)?.verdict.level) ||
    accountAt(colleagues, address) !== undefined ||
    oneAt(registered, address) !== undefined ||
    entryFor(passwords, address, 'out') !== undefined
  );
}

export function factsOf(draft: Draft, presetId: string | undefined, known: Among, rules: KnownOfRules): Facts {
  const content = contentFacts(draft, rules.looked, rules.policy);
  return {
    ...content,
    sender: { address: addressKey(draft.from ?? known.account.address), departments: rules.departments },
    recipients: draft.recipients.map(({ address }) => ({
      address: addressKey(address),
      isStaff: isStaffAddress(address, known),
      isNew: rules.newTo.has(addressKey(address)),
      hasNoLock: hasNoLock(address, known),
    })),
    presetId,
    headers: content.headers ?? {},
  };
}

export const judgeDraft = (
  draft: Draft,
  presetId: string | undefined,
  known: Among,
  rules: KnownOfRules | undefined,
): Verdict | undefined =>
  rules === undefined || rules.policy.rules.length === 0
    ? undefined
    : judge(rules.policy.rules, factsOf(draft, presetId, known, rules));

export function ruledBody(draft: Draft, known: Among, { policy, looked }: KnownOfRules): RuledBody {
  const { recipients, confirmed = [], reason = '' } = draft;
  return {
    version: policy.version,
    content: contentFacts(draft, looked, policy),
    withoutLock: recipients.map(({ address }) => address).filter((address) => hasNoLock(address, known)),
    confirmed,
    ...(reason.trim() === '' ? {} : { reason: reason.trim() }),
    harmless: harmlessIn(looked.passed),
  };
}
