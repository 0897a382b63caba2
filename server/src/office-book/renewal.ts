/**
 * A new key for the office book, in steps: begun for those who stay, every item sealed anew, and only when nothing is
 * missing and nothing has been changed meanwhile does it take the place of the one before.
 */
import { type beginRenewal, type finishRenewal, type putRenewed } from '@under-lock/contract/office-book';
import { type Transaction } from 'sequelize';
import { type z } from 'zod';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { type AccountRow } from '../data/models';
import { byAccount, logged } from '../log/log';
import { invalid, Problem } from '../problem';
import { finish, insertKey, insertMember, requireEpoch, staying } from './members';

/** Whoever is at it longer has gone away. */
const ABANDONED_MS = 5 * 60_000;

const behind = (): Problem => new Problem('manifest-behind', 409, 'The office book was changed meanwhile');

/** @throws Problem `invalid-input` when it is for others than those who are in */
async function requireStaying(context: Context, epoch: number, ids: readonly string[], transaction: Transaction) {
  const stay = await staying(context, epoch, transaction);
  const meant = new Set(ids);
  if (meant.size !== stay.length || !stay.every((id) => meant.has(id)))
    throw invalid('It is sealed to others than those who are in. Load the page again.');
}

/** @throws Problem `not-member`, `key-renewed`, `busy`, `invalid-input` */
export const beginRenewedKey = (
  context: Context,
  by: AccountRow,
  { epoch, renewal, key, members }: z.output<typeof beginRenewal.body>,
): Promise<void> =>
  context.db.transaction(async (transaction) => {
    await requireEpoch(context, by.id, epoch, transaction, 'UPDATE');
    await requireStaying(
      context,
      epoch,
      members.map(({ id }) => id),
      transaction,
    );
    const [begun] = await rows<{ made_at: Date; made_by: string | null }>(
      context.db,
      'SELECT made_at, made_by FROM office_keys WHERE finished_at IS NULL',
      [],
      transaction,
    );
    if (
      begun !== undefined &&
      begun.made_by !== by.id &&
      context.clock().getTime() - begun.made_at.getTime() < ABANDONED_MS
    )
      throw new Problem('busy', 409, 'A colleague is making a new key just now', {
        detail: 'A colleague’s browser is making the new key just now. Nothing is lost; look again in a minute.',
      });
    await run(context.db, 'DELETE FROM office_keys WHERE finished_at IS NULL', [], transaction);
    await insertKey(context, epoch + 1, { ...key, renewal }, by.id, transaction);
    for (const { id, sealedKey } of members)
      await insertMember(context, { epoch: epoch + 1, id, sealedKey, by: by.id }, transaction);
  });

/** The very one that was begun: another try seals under another key. @throws Problem `key-renewed` */
async function requireBegun(
  { db }: Context,
  by: AccountRow,
  epoch: number,
  renewal: string,
  transaction: Transaction,
): Promise<void> {
  const [begun] = await rows(
    db,
    'SELECT epoch FROM office_keys WHERE epoch = $1 AND made_by = $2 AND renewal = $3 AND finished_at IS NULL',
    [epoch, by.id, renewal],
    transaction,
  );
  if (begun === undefined) throw new Problem('key-renewed', 409, 'The office book has a new key');
}

/** What has another revision by now is left out, and missing at the end. @throws Problem `not-member`, `key-renewed` */
export const putRenewedItems = (
  context: Context,
  by: AccountRow,
  kind: string,
  { epoch, renewal, items }: z.output<typeof putRenewed.body>,
): Promise<void> =>
  context.db.transaction(async (transaction) => {
    await requireEpoch(context, by.id, epoch, transaction);
    await requireBegun(context, by, epoch + 1, renewal, transaction);
    for (const { id, revision, sealed } of items)
      await run(
        context.db,
        `INSERT INTO office_items (epoch, kind, id, revision, updated_at, updated_by, sealed)
          SELECT $1::int + 1, kind, id, revision, updated_at, updated_by, $5 FROM office_items
          WHERE epoch = $1 AND kind = $2 AND id = $3 AND revision = $4 ON CONFLICT DO NOTHING`,
        [epoch, kind, id, revision, Buffer.from(sealed)],
        transaction,
      );
  });

/** Every item of before under the same revision, and no other. @throws Problem `manifest-behind` */
async function requireWhole(
  { db }: Context,
  epoch: number,
  kinds: z.output<typeof finishRenewal.body>['kinds'],
  transaction: Transaction,
): Promise<void> {
  const [differing] = await rows(
    db,
    `SELECT id FROM (SELECT kind, id, revision FROM office_items WHERE epoch = $1) b
      FULL JOIN (SELECT kind, id, revision FROM office_items WHERE epoch = $1::int + 1) a USING (kind, id, revision)
      WHERE a.kind IS NULL OR b.kind IS NULL
      UNION ALL SELECT id FROM (SELECT kind, id, revision FROM office_items WHERE epoch = $1
        EXCEPT SELECT kind, id, revision FROM office_items WHERE epoch = $1::int + 1) missing LIMIT 1`,
    [epoch],
    transaction,
  );
  if (differing !== undefined) throw behind();
  const kept = await rows<{ kind: string; revision: number }>(
    db,
    'SELECT kind, revision FROM office_manifests WHERE epoch = $1',
    [epoch],
    transaction,
  );
  const given = new Map(kinds.map(({ kind, manifest }) => [kind as string, manifest.revision]));
  if (!kept.every(({ kind, revision }) => given.get(kind) === revision)) throw behind();
  if (![...given].every(([kind, revision]) => revision === 0 || kept.some((one) => one.kind === kind))) throw behind();
}

/** What a reader chose meanwhile opens under the key of before only: it is taken in first. @throws Problem `manifest-behind` */
async function requireNoChoice({ db }: Context, epoch: number, transaction: Transaction): Promise<void> {
  const waiting = await rows(
    db,
    'SELECT id FROM choices WHERE sealed IS NOT NULL AND epoch <= $1 LIMIT 1',
    [epoch],
    transaction,
  );
  if (waiting.length > 0) throw behind();
}

/** @throws Problem `not-member`, `key-renewed`, `manifest-behind`, `invalid-input` */
export const finishRenewedKey = (
  context: Context,
  by: AccountRow,
  { epoch, renewal, kinds }: z.output<typeof finishRenewal.body>,
): Promise<void> =>
  context.db.transaction(async (transaction) => {
    const { db } = context;
    await requireEpoch(context, by.id, epoch, transaction, 'UPDATE');
    await requireBegun(context, by, epoch + 1, renewal, transaction);
    const members = await rows<{ id: string }>(
      db,
      'SELECT account_id AS id FROM office_members WHERE epoch = $1::int + 1',
      [epoch],
      transaction,
    );
    // Whoever left or came in meanwhile: it is begun anew.
    await requireStaying(
      context,
      epoch,
      members.map(({ id }) => id),
      transaction,
    );
    await requireWhole(context, epoch, kinds, transaction);
    await requireNoChoice(context, epoch, transaction);
    for (const { kind, manifest } of kinds) {
      if (manifest.revision === 0) continue;
      await run(
        db,
        'INSERT INTO office_manifests (epoch, kind, revision, whole, sealed) VALUES ($1::int + 1, $2, $3::int + 1, $3::int + 1, $4)',
        [epoch, kind, manifest.revision, Buffer.from(manifest.whole)],
        transaction,
      );
      await run(
        db,
        'UPDATE office_items SET written_under = $3::int + 1 WHERE epoch = $1::int + 1 AND kind = $2',
        [epoch, kind, manifest.revision],
        transaction,
      );
    }
    await finish(context, epoch + 1, transaction);
    await run(db, 'DELETE FROM office_keys WHERE epoch <= $1', [epoch], transaction);
    await logged(
      context,
      { kind: 'office-key-renewed', actor: byAccount(by.id), about: { members: members.length } },
      transaction,
    );
  });
