/**
 * Presets as they were: a message is held to the terms it went under. What the office changed later binds new acts on
 * it (another closing date, another reader) only where the office said that the change counts for what is held, too.
 */
import { randomUUID } from 'node:crypto';
import { type HandlingTerms, LOOSEST_TERMS } from '@under-lock/core/handling/handling';
import { keepsToClosing, presetFloor, type PresetTerms } from '@under-lock/core/handling/preset';
import { type Transaction } from 'sequelize';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { Problem } from '../problem';

export interface PresetVersion {
  id: string;
  name: string;
  terms: PresetTerms;
}

export const below = (name: string): Problem =>
  new Problem('below-preset', 400, `This asks less than the preset “${name}” demands`);

/** The newest of a preset that is in use. */
export async function currentVersion(context: Context, presetId: string): Promise<PresetVersion | undefined> {
  const [version] = await rows<PresetVersion>(
    context.db,
    'SELECT v.id, v.name, v.terms FROM preset_versions v JOIN presets p ON p.id = v.preset_id AND p.active WHERE p.id = $1 ORDER BY v.number DESC LIMIT 1',
    [presetId],
  );
  return version;
}

/** Keeps a preset as it is from now on. The preset's row is locked. */
export async function addVersion(
  context: Context,
  {
    presetId,
    name,
    terms,
    changedBy,
    bindsHeld,
  }: Omit<PresetVersion, 'id'> & {
    presetId: string;
    changedBy: string;
    bindsHeld: boolean;
  },
  transaction: Transaction,
): Promise<void> {
  await run(
    context.db,
    `INSERT INTO preset_versions (id, preset_id, number, name, terms, changed_at, changed_by, binds_held)
     SELECT $1, $2, coalesce(max(number), 0) + 1, $3, $4, $5, $6, $7 FROM preset_versions WHERE preset_id = $2`,
    [randomUUID(), presetId, name, JSON.stringify(terms), context.clock(), changedBy, bindsHeld],
    transaction,
  );
}

/** What new acts on messages are held to, by the version those went under. */
export async function termsHeldTo(
  context: Context,
  versions: readonly string[],
  transaction?: Transaction,
): Promise<Map<string, PresetVersion>> {
  if (versions.length === 0) return new Map();
  const found = await rows<{ own: string } & PresetVersion>(
    context.db,
    `SELECT DISTINCT ON (own.id) own.id AS own, v.id, v.name, v.terms FROM preset_versions own
     JOIN preset_versions v ON v.preset_id = own.preset_id AND (v.id = own.id OR (v.number > own.number AND v.binds_held))
     WHERE own.id = ANY($1) ORDER BY own.id, v.number DESC`,
    [[...new Set(versions)]],
    transaction,
  );
  return new Map(found.map(({ own, ...version }) => [own, version]));
}

async function heldTo(
  context: Context,
  version: string | null | undefined,
  transaction?: Transaction,
): Promise<PresetVersion | undefined> {
  return version == null ? undefined : (await termsHeldTo(context, [version], transaction)).get(version);
}

/** What the office demands of a message that went under this version; nothing where it went under none. */
export async function floorOf(
  context: Context,
  version: string | null | undefined,
  transaction?: Transaction,
): Promise<HandlingTerms> {
  const held = await heldTo(context, version, transaction);
  return held === undefined ? LOOSEST_TERMS : presetFloor(held.terms);
}

/** A closing date chosen after sending keeps to what the message went under. @throws Problem `below-preset` */
export async function requireClosingUnderPreset(
  context: Context,
  version: string | null | undefined,
  closesAt: Date,
): Promise<void> {
  const held = await heldTo(context, version);
  if (held !== undefined && !keepsToClosing(closesAt, held.terms, context.clock(), context.config.office.calendar))
    throw below(held.name);
}
