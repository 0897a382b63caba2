/** The office's handling presets, and the floor they put under every message. */
import { MAX_PRESETS, type Preset } from '@under-lock/contract/handling';
import { type Handling, type HandlingTerms } from '@under-lock/core/handling/handling';
import { type Permitted } from '@under-lock/core/outgoing/handling';
import { isFor, keepsToPreset, presetFloor } from '@under-lock/core/handling/preset';
import { type Context } from '../context';
import { run } from '../data/database';
import { type AccountRow, PresetRow } from '../data/models';
import { byAccount, logged, telling } from '../log/log';
import { invalid, notFound, Problem } from '../problem';
import { currentPolicy, requireUnnamed } from '../rules/policy';
import { addVersion, below, currentVersion } from './version';

const presetOf = (row: PresetRow, departments: readonly string[]): Preset => ({
  id: row.id,
  name: row.name,
  sentence: row.sentence,
  terms: row.terms,
  active: row.active,
  isDefault: row.isDefault,
  others: !isFor(row.terms, departments),
});

/** In the office's order; the switched-off ones only for who makes presets. */
export const listPresets = async ({ role, departments }: Pick<AccountRow, 'role' | 'departments'>): Promise<Preset[]> =>
  (
    await PresetRow.findAll({
      where: role === 'administrator' ? {} : { active: true },
      order: ['position', 'id'],
    })
  ).map((row) => presetOf(row, departments));

/** Makes or changes one; a new one comes last. `alsoHeld`: the change counts for what is held, too. */
export async function putPreset(
  context: Context,
  accountId: string,
  id: string,
  { alsoHeld = false, ...preset }: Omit<Preset, 'id' | 'isDefault' | 'others'> & { alsoHeld?: boolean | undefined },
): Promise<void> {
  const changed = { ...preset, changedAt: context.clock(), changedBy: accountId };
  const { name, terms } = preset;
  const version = { presetId: id, name, terms, changedBy: accountId, bindsHeld: alsoHeld };
  if (!preset.active) requireUnnamed(await currentPolicy(context), id, `The preset “${name}”`);
  await context.db.transaction(async (transaction) => {
    const existing = await PresetRow.findByPk(id, { transaction, lock: transaction.LOCK.UPDATE });
    await logged(
      context,
      {
        kind: 'preset-changed',
        actor: byAccount(accountId),
        about: { preset: id, name, active: preset.active, alsoHeld },
      },
      transaction,
    );
    if (existing !== null) {
      // What is switched off or leaves open can't be what messages begin with.
      await existing.update(
        { ...changed, isDefault: existing.isDefault && preset.active && !preset.terms.clear },
        { transaction },
      );
      await addVersion(context, version, transaction);
      return;
    }
    const count = await PresetRow.count({ transaction });
    if (count >= MAX_PRESETS) throw invalid(`At most ${MAX_PRESETS} presets.`);
    await PresetRow.create({ id, position: count, isDefault: false, ...changed }, { transaction });
    await addVersion(context, version, transaction);
  });
}

export async function orderPresets(context: Context, accountId: string, ids: string[]): Promise<void> {
  await context.db.transaction(async (transaction) => {
    const known = await PresetRow.findAll({ attributes: ['id'], transaction });
    if (known.length !== ids.length || !known.every(({ id }) => ids.includes(id)))
      throw new Problem('conflict', 409, 'The presets were changed elsewhere');
    await run(
      context.db,
      'UPDATE presets p SET position = o.at FROM unnest($1::uuid[]) WITH ORDINALITY AS o (id, at) WHERE p.id = o.id',
      [ids],
      transaction,
    );
    await logged(context, { kind: 'presets-ordered', actor: byAccount(accountId) }, transaction);
  });
}

export async function setDefaultPreset(context: Context, accountId: string, id: string | undefined): Promise<void> {
  await context.db.transaction(async (transaction) => {
    await run(context.db, 'UPDATE presets SET is_default = false WHERE is_default', [], transaction);
    await logged(
      context,
      { kind: 'preset-made-default', actor: byAccount(accountId), about: id === undefined ? {} : { preset: id } },
      transaction,
    );
    if (id === undefined) return;
    if (
      (await run(
        context.db,
        `UPDATE presets SET is_default = true WHERE id = $1 AND active AND NOT (terms->>'clear')::boolean`,
        [id],
        transaction,
      )) === 0
    )
      throw (await PresetRow.count({ where: { id, active: true }, transaction })) === 0
        ? notFound('This preset')
        : invalid('What leaves open is never what messages begin with.');
  });
}

/** Messages sent under it keep its name. @throws Problem `conflict` while a rule speaks of it */
export async function deletePreset(context: Context, accountId: string, id: string): Promise<number> {
  requireUnnamed(await currentPolicy(context), id, 'This preset');
  return telling(
    context,
    { kind: 'preset-deleted', actor: byAccount(accountId), about: { preset: id } },
    (transaction) => run(context.db, 'DELETE FROM presets WHERE id = $1', [id], transaction),
  );
}

/** What is left to hold against the preset. */
function withoutPermitted(
  handling: Handling,
  { clear, textOpen, copies }: Pick<HandlingTerms, 'clear' | 'textOpen' | 'copies'>,
  permitted: Permitted | undefined,
): Handling {
  if (permitted === 'open' && handling.clear) return { ...handling, clear, copies };
  if (permitted === 'text' && handling.textOpen) return { ...handling, textOpen, copies };
  return handling;
}

/**
 * The preset a message says it keeps to. While the office has presets a message must name one.
 * @param departments Its sender's, where it is theirs to have chosen it.
 * @param permitted What a rule permits, whatever the preset says of that.
 * @throws Problem `below-preset` when its handling asks less than the preset, or it is another department's.
 */
export async function requirePreset(
  context: Context,
  presetId: string | undefined,
  handling: Handling,
  from = context.clock(),
  departments?: readonly string[],
  permitted?: Permitted,
): Promise<
  | {
      version: string;
      name: string;
      floor: HandlingTerms;
      receipt: boolean;
      confirm: boolean;
      choose: boolean;
      remindHours: number;
    }
  | undefined
> {
  if (presetId === undefined) {
    if ((await PresetRow.count({ where: { active: true } })) > 0)
      throw new Problem('below-preset', 400, 'This office sends under a handling preset; choose one');
    return undefined;
  }
  const preset = await currentVersion(context, presetId);
  if (preset === undefined)
    throw new Problem('below-preset', 400, 'This preset is not in use any more; choose another one');
  if (departments !== undefined && !isFor(preset.terms, departments))
    throw new Problem('below-preset', 400, `The preset “${preset.name}” is another department’s; choose another one`);
  if (
    !keepsToPreset(
      withoutPermitted(handling, preset.terms, permitted),
      preset.terms,
      from,
      context.config.office.calendar,
    )
  )
    throw below(preset.name);
  return {
    version: preset.id,
    name: preset.name,
    floor: presetFloor(preset.terms),
    receipt: preset.terms.receipt,
    confirm: preset.terms.confirm === true,
    choose: preset.terms.choose === true,
    remindHours: preset.terms.remindHours,
  };
}
