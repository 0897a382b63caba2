/**
 * Holds a message against the office's rules as it is handed over: by what the server knows itself, and by what only
 * its sender can say.
 */
import { type NewCopy, type NewGrant } from '@under-lock/contract/outgoing';
import { type Ruled } from '@under-lock/contract/rules';
import { defined } from '@under-lock/core/defined';
import { type Handling, isAsStrict } from '@under-lock/core/handling/handling';
import { type LockName } from '@under-lock/core/locks/index';
import { addressKey, isAtDomain } from '@under-lock/core/people/address';
import { floorOf, stillNeeded, unconfirmed } from '@under-lock/core/rules/demand';
import { type Facts, NO_CONTENT } from '@under-lock/core/rules/facts';
import { asksOfNew, type Policy } from '@under-lock/core/rules/policy';
import { judge, type Verdict } from '@under-lock/core/rules/rule';
import { type Container } from '@under-lock/core/ways/file-way';
import { type Context } from '../context';
import { rows } from '../data/database';
import { type AccountRow, type MessageRow, type MessageRuled } from '../data/models';
import { requirePreset } from '../handling/preset';
import { Problem } from '../problem';
import { currentPolicy, withoutOff } from '../rules/policy';

export interface ToHold {
  from?: string | undefined;
  reference: string;
  handling: Handling;
  presetId?: string | undefined;
  grants: readonly Pick<NewGrant, 'address' | 'carried'>[];
  copies?: readonly NewCopy[] | undefined;
  ruled?: Ruled | undefined;
  release?: object | undefined;
  /** What it answers that is known here; whether that had a lock, where the server knows. */
  answered?: { hadLock: boolean | undefined } | undefined;
  /** Addresses of those who have it already. */
  others?: readonly string[] | undefined;
}

/** What follows for a message that goes. */
export interface Held {
  verdict: Verdict;
  said: Ruled;
  /** For the message's own row. */
  ruled: MessageRuled;
}

/** Of these, whom the account has never written to. */
export async function newTo(
  context: Context,
  accountId: string,
  addresses: readonly string[],
): Promise<ReadonlySet<string>> {
  const keys = [...new Set(addresses.map(addressKey))];
  const written = await rows<{ address: string }>(
    context.db,
    `SELECT lower(address) AS address FROM grants WHERE account_id = $1 AND lower(address) = ANY($2)
     UNION SELECT lower(r.address) FROM copies c JOIN copy_recipients r ON r.copy_id = c.id WHERE c.account_id = $1 AND lower(r.address) = ANY($2)`,
    [accountId, keys],
  );
  const known = new Set(written.map(({ address }) => address));
  return new Set(keys.filter((one) => !known.has(one)));
}

/** Those of the addresses of whom it is so. */
const amongAddresses = async (
  context: Context,
  addresses: readonly string[],
  where: `${'accounts' | 'readers'} WHERE ${string}`,
): Promise<ReadonlySet<string>> =>
  new Set(
    (
      await rows<{ one: string }>(
        context.db,
        `SELECT one FROM unnest($1::text[]) AS one WHERE EXISTS (SELECT FROM ${where})`,
        [addresses],
      )
    ).map(({ one }) => one),
  );

const addressesOf = ({ grants, copies = [], others = [] }: ToHold): string[] => [
  ...new Set(
    [...grants, ...copies.flatMap(({ recipients }) => recipients)]
      .map(({ address }) => address)
      .concat(others)
      .map(addressKey),
  ),
];

/** What its sender says, with the server's word for what it answers where it has one. */
function asKnown(said: Ruled, { answered }: ToHold): Ruled {
  if (answered === undefined) return said;
  const { answers } = said.content;
  const known = { as: answers?.as ?? 'reply', hadLock: answered.hadLock ?? answers?.hadLock ?? false };
  return { ...said, content: { ...said.content, answers: known } };
}

async function factsOf(
  context: Context,
  sender: AccountRow,
  message: ToHold,
  { policy, said }: { policy: Policy; said: Ruled },
): Promise<Facts> {
  const addresses = addressesOf(message);
  const { mailDomain } = context.config.office;
  const [ours, unknown, registered] = await Promise.all([
    amongAddresses(context, addresses, 'accounts WHERE address_key = one OR further @> to_jsonb(one)'),
    // All that the sender ever wrote is gone through: only where a rule wants to know.
    asksOfNew(policy) ? newTo(context, sender.id, addresses) : new Set<string>(),
    amongAddresses(context, addresses, 'readers WHERE address_key = one'),
  ]);
  const withoutLock = new Set(said.withoutLock.map(addressKey));
  return {
    ...said.content,
    sender: { address: addressKey(message.from ?? sender.address), departments: sender.departments },
    recipients: addresses.map((address) => ({
      address,
      isStaff: ours.has(address) || isAtDomain(address, mailDomain),
      isNew: unknown.has(address),
      hasNoLock: withoutLock.has(address) && !ours.has(address) && !registered.has(address),
    })),
    presetId: message.presetId,
    headers: said.content.headers ?? {},
  };
}

const locksOf = ({ grants, copies = [] }: Pick<ToHold, 'grants' | 'copies'>): LockName[] => [
  ...grants.map(({ carried }): LockName => (carried === true ? 'carried' : 'room')),
  ...copies.map(({ lock }) => lock),
];

const breaks = (names: readonly string[], detail: string): Problem =>
  new Problem('breaks-rule', 403, `The office’s rules don’t let it go like this`, {
    detail: `${names.map((name) => `“${name}”`).join(', ')}: ${detail}`,
  });

type Demand = Verdict['demand'];

/** What is wanting, with which demands want it. */
function wantingIn(
  { demand }: Verdict,
  { handling, reference, ...message }: ToHold,
  { confirmed, reason, content }: Ruled,
  mayWait: boolean,
): [what: string, wantedBy: (one: Demand) => boolean][] {
  const asTerms = (one: Demand): Handling => ({
    ...floorOf(one, content.files.length > 0),
    closesAt: handling.closesAt,
  });
  const locks = locksOf(message);
  const lacksLock = (one: Demand): boolean => locks.some((lock) => !one.locks.includes(lock));
  return [
    ...demand.stops.map((sentence) => [sentence, ({ stops }: Demand) => stops.includes(sentence)] as const),
    ...unconfirmed(demand, confirmed).map(
      (sentence) => [`Not confirmed: ${sentence}`, ({ asks }: Demand) => asks.includes(sentence)] as const,
    ),
    ...stillNeeded(demand, { reference, reason }).map(
      (what) =>
        [
          what === 'reference' ? 'It needs a reference number.' : 'It needs a reason.',
          ({ needs }: Demand) => needs.includes(what),
        ] as const,
    ),
    ...(demand.release && !mayWait
      ? [['It needs somebody else’s word.', ({ release }: Demand) => release] as const]
      : []),
    ...(lacksLock(demand) ? [['It goes under a lock that is not allowed.', lacksLock] as const] : []),
    ...(isAsStrict(handling, asTerms(demand))
      ? []
      : [['Its handling asks less.', (one: Demand) => !isAsStrict(handling, asTerms(one))] as const]),
  ].map(([what, by]) => [what, by]);
}

/** @throws Problem `breaks-rule` */
async function requireKept(
  context: Context,
  message: ToHold,
  verdict: Verdict,
  said: Ruled,
  { leavesAt, isLetGo }: Leaving,
): Promise<void> {
  const { demand, acted } = verdict;
  const names = (wantedBy: (one: Demand) => boolean): string[] =>
    acted.filter((one) => wantedBy(one.demand)).map(({ rule }) => rule.name);
  if (message.handling.clear && verdict.openAgainst.length > 0)
    throw breaks(verdict.openAgainst, 'It is to leave open, and they ask for more.');
  const [first] = wantingIn(verdict, message, said, isLetGo || message.release !== undefined);
  if (first !== undefined) throw breaks(names(first[1]), first[0]);
  for (const presetId of demand.presets)
    await requirePreset(context, presetId, message.handling, leavesAt).catch((error: unknown) => {
      throw error instanceof Problem
        ? breaks(
            names(({ presets }) => presets.includes(presetId)),
            'Its handling asks less than the preset they demand.',
          )
        : error;
    });
}

/**
 * Whether files are locked as rules say, by the octets that leave. Where what is locked already goes along as it is,
 * one that fits is enough. What opens them only those who write to each other can know.
 * @throws Problem `breaks-rule`
 */
export function requireWays({ verdict }: Held, copies: readonly { containers: readonly Container[] }[]): void {
  const { demand, acted, programsLockFiles } = verdict;
  const oneIsEnough = programsLockFiles?.lockedStay === true;
  const breaksIt = ({ ways }: Demand): boolean =>
    copies.some(({ containers }) => {
      const fitting = containers.filter((one) => ways.containers.includes(one));
      return fitting.length < (oneIsEnough ? Math.min(1, containers.length) : containers.length);
    });
  if (!breaksIt(demand)) return;
  const names = acted.filter((one) => breaksIt(one.demand)).map(({ rule }) => rule.name);
  throw breaks(names, 'Its files are locked in another way.');
}

interface Leaving {
  leavesAt: Date;
  /** Somebody has looked at it and let it go: which rules it was planned by does not matter any more. */
  isLetGo: boolean;
}

/**
 * What the office's rules say of a message; undefined where it has none that count.
 * @throws Problem `rules-changed` when it was planned by others, `breaks-rule`
 */
export async function heldAgainstRules(
  context: Context,
  sender: AccountRow,
  message: ToHold,
  leaving: Leaving,
): Promise<Held | undefined> {
  const policy = withoutOff(await currentPolicy(context));
  if (policy.rules.length === 0) return undefined;
  const { ruled } = message;
  if (ruled === undefined || (ruled.version !== policy.version && !leaving.isLetGo))
    throw new Problem('rules-changed', 409, 'The office’s rules have changed', {
      detail: 'Nothing was sent. The plan has been made anew by the rules as they are now; look at it and send again.',
    });
  const said = asKnown(ruled, message);
  const verdict = judge(policy.rules, await factsOf(context, sender, message, { policy, said }));
  await requireKept(context, message, verdict, said, leaving);
  return {
    verdict,
    said,
    ruled: {
      version: policy.version,
      acted: verdict.acted.map(({ rule: { id, name } }) => ({ id, name })),
      content: said.content,
      confirmed: said.confirmed,
      ...(said.reason === undefined || !verdict.demand.needs.includes('reason') ? {} : { reason: said.reason.trim() }),
    },
  };
}

/** What there is to know of a message that went, whoever it is given to now. */
interface Went {
  message: Pick<MessageRow, 'id' | 'senderAddress' | 'reference' | 'handling' | 'presetVersion' | 'ruled'>;
  grant: ToHold['grants'][number];
  closesAt: Date;
}

async function whereItWent(context: Context, { id, presetVersion }: Went['message']) {
  const [preset, others] = await Promise.all([
    rows<{ preset_id: string }>(context.db, 'SELECT preset_id FROM preset_versions WHERE id = $1', [presetVersion]),
    rows<{ address: string }>(
      context.db,
      `SELECT address FROM grants WHERE message_id = $1
       UNION SELECT r.address FROM copies c JOIN copy_recipients r ON r.copy_id = c.id WHERE c.message_id = $1`,
      [id],
    ),
  ]);
  return { presetId: preset[0]?.preset_id, others: others.map(({ address }) => address) };
}

/**
 * Access that is given later, by its sender or by one of its readers, is held against the rules as they are then. What
 * would have to be asked or released can't be, here: it goes as a message of its own. Resolves with what the rules say;
 * whom they tell is noted with the access itself (`noteTells`).
 * @throws Problem `breaks-rule`
 */
export async function heldForReader(
  context: Context,
  sender: AccountRow,
  { message, grant, closesAt }: Went,
): Promise<Verdict | undefined> {
  const policy = withoutOff(await currentPolicy(context));
  if (policy.rules.length === 0) return undefined;
  const { content = NO_CONTENT, confirmed = [], reason } = message.ruled ?? ({} as Partial<MessageRuled>);
  const said: Ruled = {
    version: policy.version,
    content,
    confirmed: [...confirmed],
    // What the sender knows of them can't be asked now: the stricter is taken.
    withoutLock: [grant.address],
    harmless: [],
    ...defined({ reason }),
  };
  const toHold: ToHold = {
    ...(await whereItWent(context, message)),
    ...(message.senderAddress == null ? {} : { from: message.senderAddress }),
    reference: message.reference,
    handling: { ...message.handling, closesAt },
    grants: [grant],
  };
  const verdict = judge(policy.rules, await factsOf(context, sender, toHold, { policy, said }));
  await requireKept(context, toHold, verdict, said, { leavesAt: context.clock(), isLetGo: false });
  return verdict;
}
