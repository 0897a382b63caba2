/** How often rules acted, and how often what the scan saw was called something else: counts by day, and of nobody. */
import { type Reply } from '@under-lock/contract/client';
import { type getRuleFigures } from '@under-lock/contract/rules';
import { type Kind } from '@under-lock/core/scan/finding';
import { type Transaction } from 'sequelize';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { type Held } from '../outgoing/ruled';

const DAYS = 30;
const dayOf = (at: Date): string => at.toISOString().slice(0, 10);

/** In the order of their ids, so that no two who count the same wait for each other in a ring. */
const sorted = (ids: Iterable<string>): string[] => [...ids].sort();

/** Counts a message that goes. */
export async function countHeld(
  context: Context,
  { verdict: { acted, wouldHave }, said: { content, harmless } }: Held,
  transaction: Transaction,
): Promise<void> {
  const day = dayOf(context.clock());
  const ids = sorted([...acted.map(({ rule }) => rule.id), ...wouldHave]);
  const would = new Set(wouldHave);
  if (ids.length > 0)
    await run(
      context.db,
      `INSERT INTO rule_figures (rule_id, day, acted, would)
       SELECT id, $2, CASE WHEN would THEN 0 ELSE 1 END, CASE WHEN would THEN 1 ELSE 0 END FROM unnest($1::uuid[], $3::boolean[]) AS of (id, would)
       ON CONFLICT (rule_id, day) DO UPDATE SET acted = rule_figures.acted + excluded.acted, would = rule_figures.would + excluded.would`,
      [ids, day, ids.map((id) => would.has(id))],
      transaction,
    );
  const seen = new Map<string, { kind: Kind; of: string; found: number; harmless: number }>();
  const entry = (kind: Kind, of: string) => {
    const key = `${kind} ${of}`;
    const known = seen.get(key) ?? { kind, of, found: 0, harmless: 0 };
    seen.set(key, known);
    return known;
  };
  for (const { kind, of, count } of content.found) entry(kind, of).found += count;
  for (const { kind, of, count } of harmless) {
    const one = entry(kind, of);
    one.found += count;
    one.harmless += count;
  }
  const all = sorted(seen.keys()).map((key) => seen.get(key)!);
  if (all.length > 0)
    await run(
      context.db,
      `INSERT INTO scan_figures (kind, of_kind, day, found, harmless)
       SELECT kind, of_kind, $5, found, harmless FROM unnest($1::text[], $2::text[], $3::int[], $4::int[]) AS of (kind, of_kind, found, harmless)
       ON CONFLICT (kind, of_kind, day) DO UPDATE SET found = scan_figures.found + excluded.found, harmless = scan_figures.harmless + excluded.harmless`,
      [
        all.map(({ kind }) => kind),
        all.map(({ of }) => of),
        all.map(({ found }) => found),
        all.map((one) => one.harmless),
        day,
      ],
      transaction,
    );
}

/** A draft that rules don't let go: once for each rule, however often it is told. */
export async function countStopped(
  context: Context,
  accountId: string,
  { draftId, rules }: { draftId: string; rules: readonly string[] },
): Promise<void> {
  const draft = context.secrets.keyedHash('rule-stop', `${accountId} ${draftId}`);
  const day = dayOf(context.clock());
  await run(
    context.db,
    `WITH counted AS (
       INSERT INTO rule_stops (rule_id, draft, day) SELECT id, $2, $3 FROM unnest($1::uuid[]) AS id
       WHERE EXISTS (SELECT FROM policy_changes c WHERE c.item_id = id AND c.kind = 'rule')
       ON CONFLICT DO NOTHING RETURNING rule_id)
     INSERT INTO rule_figures (rule_id, day, stopped) SELECT rule_id, $3, 1 FROM counted ORDER BY rule_id
     ON CONFLICT (rule_id, day) DO UPDATE SET stopped = rule_figures.stopped + 1`,
    [sorted(new Set(rules)), draft, day],
  );
}

interface DayRow {
  rule_id: string;
  day: string;
  acted: number;
  stopped: number;
  would: number;
}

/** Of the last thirty days. */
export async function ruleFigures(context: Context): Promise<Reply<typeof getRuleFigures>> {
  const since = dayOf(new Date(context.clock().getTime() - (DAYS - 1) * 86_400_000));
  const [days, seen] = await Promise.all([
    rows<DayRow>(
      context.db,
      `SELECT rule_id, day::text, acted, stopped, would FROM rule_figures WHERE day >= $1 ORDER BY rule_id, day`,
      [since],
    ),
    rows<{ kind: Kind; of: string; found: number; harmless: number }>(
      context.db,
      `SELECT kind, of_kind AS of, sum(found)::int AS found, sum(harmless)::int AS harmless FROM scan_figures WHERE day >= $1 GROUP BY 1, 2 ORDER BY 1, 2`,
      [since],
    ),
  ]);
  const byRule = new Map<string, DayRow[]>();
  for (const row of days) byRule.set(row.rule_id, [...(byRule.get(row.rule_id) ?? []), row]);
  const sum = (of: readonly DayRow[], what: 'acted' | 'stopped' | 'would'): number =>
    of.reduce((total, row) => total + row[what], 0);
  return {
    rules: [...byRule].map(([id, of]) => ({
      id,
      acted: sum(of, 'acted'),
      stopped: sum(of, 'stopped'),
      would: sum(of, 'would'),
      days: of.map(({ day, acted, stopped, would }) => ({ day, acted, stopped, would })),
    })),
    seen,
  };
}

/** What is older than anybody is shown goes. */
export async function tidyFigures({ db, clock }: Context): Promise<void> {
  const until = dayOf(new Date(clock().getTime() - 400 * 86_400_000));
  for (const table of ['rule_figures', 'rule_stops', 'scan_figures'])
    await run(db, `DELETE FROM ${table} WHERE day < $1`, [until]);
}
