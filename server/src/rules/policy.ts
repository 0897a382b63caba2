/** What the office has said of what must happen: kept as changes, each with a number that is the version of the whole. */
import { type ItemVersion } from '@under-lock/contract/rules';
import {
  type Example,
  MOST_OF,
  nameOfItem,
  NO_POLICY,
  type Policy,
  type PolicyItem,
  policyItemSchema,
  type PolicyKind,
  rulesNaming,
} from '@under-lock/core/rules/policy';
import { patternProblem } from '@under-lock/core/scan/patterns';
import { type Transaction } from 'sequelize';
import { type Context } from '../context';
import { askedOften, type NamedStatement, rows, run } from '../data/database';
import { byAccount, logged } from '../log/log';
import { invalid, notFound, Problem } from '../problem';

const VERSION: NamedStatement = {
  name: 'policy-version',
  // On examples nothing is judged.
  sql: "SELECT coalesce(max(number), 0)::int AS version FROM policy_changes WHERE kind <> 'example'",
};

/** What was read last, of each house. */
const read = new WeakMap<Context, Policy>();

/** Those that are there, in the order in which they were first said. */
const nowOf = (which: string): string => `SELECT kind, value FROM (
    SELECT DISTINCT ON (item_id) item_id, kind, value, min(number) OVER (PARTITION BY item_id) AS first
    FROM policy_changes WHERE ${which} ORDER BY item_id, number DESC
  ) AS latest WHERE value IS NOT NULL ORDER BY first`;

type StoredItem = { kind: PolicyKind; value: unknown };

const valuesOf = <Kind extends PolicyKind>(items: readonly PolicyItem[], wanted: Kind) =>
  items.flatMap(({ kind, value }) => (kind === wanted ? [value] : [])) as Extract<
    PolicyItem,
    { kind: Kind }
  >['value'][];

const itemsOf = (stored: readonly StoredItem[]): PolicyItem[] => stored.map((one) => policyItemSchema.parse(one));

const policyOf = (version: number, items: readonly PolicyItem[]): Policy => ({
  version,
  rules: valuesOf(items, 'rule'),
  words: valuesOf(items, 'words'),
  patterns: valuesOf(items, 'pattern'),
  tags: valuesOf(items, 'tag'),
});

/** As it is now, those that are switched off included. */
export async function currentPolicy(context: Context): Promise<Policy> {
  const [newest] = await askedOften<{ version: number }>(context.db, VERSION, []);
  const { version } = newest!;
  if (version === 0) return NO_POLICY;
  const known = read.get(context);
  if (known?.version === version) return known;
  const policy = policyOf(version, itemsOf(await rows<StoredItem>(context.db, nowOf("kind <> 'example'"))));
  read.set(context, policy);
  return policy;
}

/** As workers are to have it: what is off is nobody's but its makers'. */
export const withoutOff = (policy: Policy): Policy => ({
  ...policy,
  rules: policy.rules.filter(({ state }) => state !== 'off'),
});

/** Whoever changes it goes one after another, so that a number that is seen is never joined by a smaller one. */
async function locked(context: Context, transaction: Transaction): Promise<{ number: number; items: PolicyItem[] }> {
  await run(context.db, "SELECT pg_advisory_xact_lock(hashtext('policy'))", [], transaction);
  const [newest] = await rows<{ number: number }>(
    context.db,
    'SELECT coalesce(max(number), 0)::int AS number FROM policy_changes',
    [],
    transaction,
  );
  return {
    number: newest!.number,
    items: itemsOf(await rows<StoredItem>(context.db, nowOf('true'), [], transaction)),
  };
}

async function add(
  context: Context,
  {
    accountId,
    id,
    kind,
    value,
    version,
  }: { accountId: string; id: string; kind: PolicyKind; value: unknown; version: number },
  transaction: Transaction,
): Promise<void> {
  await run(
    context.db,
    'INSERT INTO policy_changes (number, item_id, kind, value, changed_at, changed_by) VALUES ($1, $2, $3, $4, $5, $6)',
    [version, id, kind, value === undefined ? null : JSON.stringify(value), context.clock(), accountId],
    transaction,
  );
}

/** @throws Problem `invalid-input` */
function requireSound(item: PolicyItem, others: readonly PolicyItem[]): void {
  const same = others.filter(
    (one) => one.kind === item.kind && (one.kind !== 'example' || one.value.rule === (item as typeof one).value.rule),
  );
  if (same.length >= MOST_OF[item.kind]) throw invalid(`At most ${MOST_OF[item.kind]} of them.`);
  const name = nameOfItem(item).toLowerCase();
  if (same.some((one) => nameOfItem(one).toLowerCase() === name))
    throw invalid(`There is another one called “${nameOfItem(item)}”.`);
  if (item.kind !== 'pattern') return;
  const problem = patternProblem(item.value);
  if (problem !== undefined)
    throw invalid(`${problem.what}${problem.where === undefined ? '' : `: “${problem.where}”`}.`);
}

/**
 * Keeps one as it is from now on. `over` is the version of the whole that its maker saw it in.
 * @throws Problem `invalid-input`, `conflict`
 */
export async function putPolicyItem(
  context: Context,
  accountId: string,
  id: string,
  { item, over }: { item: PolicyItem; over: number },
): Promise<number> {
  if (item.value.id !== id) throw invalid('It says another number of itself than its address.');
  return context.db.transaction(async (transaction) => {
    const { number, items } = await locked(context, transaction);
    const before = items.find(({ value }) => value.id === id);
    if (before !== undefined && before.kind !== item.kind) throw invalid('What it is can’t be changed.');
    const [changed] = await rows<{ at: number }>(
      context.db,
      'SELECT coalesce(max(number), 0)::int AS at FROM policy_changes WHERE item_id = $1',
      [id],
      transaction,
    );
    if (changed!.at > over && item.kind !== 'example')
      throw new Problem('conflict', 409, 'This was changed by somebody else meanwhile', {
        detail: 'Nothing was overwritten. Load it again, and change it as it is now.',
      });
    requireSound(
      item,
      items.filter(({ value }) => value.id !== id),
    );
    const version = number + 1;
    await add(context, { accountId, id, kind: item.kind, value: item.value, version }, transaction);
    await logged(
      context,
      {
        kind: 'rules-changed',
        actor: byAccount(accountId),
        about: {
          item: id,
          what: item.kind,
          name: nameOfItem(item),
          ...(item.kind === 'rule' ? { state: item.value.state } : {}),
        },
      },
      transaction,
    );
    return version;
  });
}

/** @throws Problem `not-found`, `conflict` */
export async function removePolicyItem(context: Context, accountId: string, id: string): Promise<void> {
  await context.db.transaction(async (transaction) => {
    const { number, items } = await locked(context, transaction);
    const item = items.find(({ value }) => value.id === id);
    if (item === undefined) throw notFound('This');
    requireUnnamed({ rules: valuesOf(items, 'rule') }, id, `“${nameOfItem(item)}”`);
    await add(context, { accountId, id, kind: item.kind, value: undefined, version: number + 1 }, transaction);
    await logged(
      context,
      {
        kind: 'rules-changed',
        actor: byAccount(accountId),
        about: { item: id, what: item.kind, name: nameOfItem(item), removed: true },
      },
      transaction,
    );
  });
}

/** What a rule speaks of has to stay. @throws Problem `conflict` */
export function requireUnnamed(policy: Pick<Policy, 'rules'>, id: string, what: string): void {
  const naming = rulesNaming(policy, id);
  if (naming.length > 0)
    throw new Problem('conflict', 409, `${what} is named by ${naming.length === 1 ? 'a rule' : 'rules'}`, {
      detail: `It is named by ${naming.map((name) => `“${name}”`).join(', ')}. Change or remove that first.`,
    });
}

/** The latest first. */
export async function itemVersions(context: Context, id: string): Promise<ItemVersion[]> {
  const found = await rows<{ number: string; kind: PolicyKind; value: unknown; changed_at: Date; by: string | null }>(
    context.db,
    `SELECT c.number, c.kind, c.value, c.changed_at, a.name AS by FROM policy_changes c LEFT JOIN accounts a ON a.id = c.changed_by
     WHERE c.item_id = $1 ORDER BY c.number DESC LIMIT 200`,
    [id],
  );
  return found.map(({ number, kind, value, changed_at: at, by }) => ({
    version: Number(number),
    at,
    by: by ?? '',
    ...(value === null ? {} : { item: policyItemSchema.parse({ kind, value }) }),
  }));
}

/** Those on which a rule is tried, in the order in which they were made. */
export async function examplesOf(context: Context, ruleId: string): Promise<Example[]> {
  const stored = await rows<StoredItem>(context.db, nowOf("kind = 'example'"));
  return valuesOf(itemsOf(stored), 'example').filter(({ rule }) => rule === ruleId);
}
