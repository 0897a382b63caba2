/**
 * The office's notices as it words and colours them. Every change is a row of its own, so that what left can be shown
 * as it left.
 */
import { randomUUID } from 'node:crypto';
import { lookProblem, noticeLookSchema, type NoticeLook, OUR_LOOK } from '@under-lock/core/notice/look';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { byAccount, telling } from '../log/log';
import { invalid } from '../problem';

export interface CurrentLook {
  id: string | null;
  look: NoticeLook;
}

/** Asked for by every visit, changed a few times a year. */
const KEPT_MS = 3_000;
const kept = new WeakMap<Context['db'], { until: number; current: CurrentLook }>();

export async function currentLook(context: Context): Promise<CurrentLook> {
  const known = kept.get(context.db);
  if (known !== undefined && known.until > Date.now()) return known.current;
  const [row] = await rows<{ id: string; look: unknown }>(
    context.db,
    'SELECT id, look FROM notice_looks ORDER BY changed_at DESC, id LIMIT 1',
  );
  const current =
    row === undefined ? { id: null, look: OUR_LOOK } : { id: row.id, look: noticeLookSchema.parse(row.look) };
  kept.set(context.db, { until: Date.now() + KEPT_MS, current });
  return current;
}

/** @throws Problem `invalid-input`, naming the part */
export async function changeLook(context: Context, accountId: string, look: NoticeLook): Promise<void> {
  const wrong = lookProblem(look);
  if (wrong !== undefined)
    throw invalid(
      `The ${wrong.part}${wrong.language === undefined ? '' : ` (${wrong.language})`} can’t be used: ${wrong.problem.code}.`,
    );
  await telling(context, { kind: 'notices-changed', actor: byAccount(accountId) }, (transaction) =>
    run(
      context.db,
      'INSERT INTO notice_looks (id, changed_at, changed_by, look) VALUES ($1, $2, $3, $4)',
      [randomUUID(), context.clock(), accountId, JSON.stringify(look)],
      transaction,
    ),
  );
  kept.delete(context.db);
}

export async function looksOf(context: Context, ids: string[]): Promise<Record<string, NoticeLook>> {
  if (ids.length === 0) return {};
  const found = await rows<{ id: string; look: unknown }>(
    context.db,
    'SELECT id, look FROM notice_looks WHERE id = ANY($1)',
    [ids],
  );
  return Object.fromEntries(found.map(({ id, look }) => [id, noticeLookSchema.parse(look)]));
}
