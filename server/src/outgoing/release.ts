/** Letting go what waits, or sending it back: by somebody who may, and never by its sender. */
import { type AskedRelease, type getRelease, type OwnRelease } from '@under-lock/contract/release';
import { type Reply } from '@under-lock/contract/client';
import { type Bytes } from '@under-lock/core/bytes';
import { resolveClosing } from '@under-lock/core/handling/closing';
import { type Transaction, UniqueConstraintError } from 'sequelize';
import { type z } from 'zod';
import { record } from '../access/grants';
import { readPart } from '../blob/blob';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { AccountRow, BlobRow } from '../data/models';
import { byAccount, logged } from '../log/log';
import { notFound, Problem } from '../problem';
import { dispatchLetGo } from './dispatch';
import { keptSchema, releaseContext } from './waits';

/** Whoever has not decided by then is not waited for. */
const MOST_DAYS = 14;

const LISTED = 200;

interface OwnRow {
  id: string;
  asked_at: Date;
  state: 'waiting' | 'sent-back';
  decided_at: Date | null;
  decided_by: string | null;
  by_name: string | null;
  sentence: Buffer | null;
  summary: Buffer;
  rules: string[];
  people: number;
  releasers: string[];
}

const ownOf = (row: OwnRow): OwnRelease => ({
  id: row.id,
  askedAt: row.asked_at,
  state: row.state,
  rules: row.rules,
  people: row.people,
  releasers: row.releasers,
  summary: new Uint8Array(row.summary),
  ...(row.decided_at === null ? {} : { decidedAt: row.decided_at }),
  ...(row.decided_by === null ? {} : { by: { id: row.decided_by, name: row.by_name ?? '' } }),
  ...(row.sentence === null ? {} : { sentence: new Uint8Array(row.sentence) }),
});

interface AskedRow {
  id: string;
  asked_at: Date;
  rules: string[];
  people: number;
  sender_id: string;
  sender_name: string;
  sender_address: string;
  sealed_key: Buffer;
  paper: Buffer;
  content_blob_id: string;
}

const askedOf = (row: AskedRow): AskedRelease => ({
  id: row.id,
  askedAt: row.asked_at,
  rules: row.rules,
  people: row.people,
  from: { id: row.sender_id, name: row.sender_name, address: row.sender_address },
});

/** Asked of this account, which may still let it go. */
const ASKED = `FROM releases r JOIN release_keys k ON k.release_id = r.id JOIN accounts s ON s.id = r.account_id JOIN accounts d ON d.id = k.account_id
  WHERE k.account_id = $1 AND r.state = 'waiting' AND r.account_id <> $1 AND d.may_release AND s.ended_at IS NULL`;
const ASKED_COLUMNS =
  'r.id, r.asked_at, r.rules, r.people, s.id AS sender_id, s.name AS sender_name, s.address AS sender_address';

export async function listReleases(
  context: Context,
  accountId: string,
): Promise<{ own: OwnRelease[]; asked: AskedRelease[] }> {
  const [own, asked] = await Promise.all([
    rows<OwnRow>(
      context.db,
      `SELECT r.id, r.asked_at, r.state, r.decided_at, r.decided_by, b.name AS by_name, r.sentence, r.summary, r.rules, r.people,
         ARRAY(SELECT a.name FROM release_keys k JOIN accounts a ON a.id = k.account_id WHERE k.release_id = r.id AND a.may_release AND a.ended_at IS NULL ORDER BY a.name) AS releasers
       FROM releases r LEFT JOIN accounts b ON b.id = r.decided_by
       WHERE r.account_id = $1 AND r.state <> 'let-go' ORDER BY r.asked_at, r.id LIMIT ${LISTED}`,
      [accountId],
    ),
    rows<AskedRow>(context.db, `SELECT ${ASKED_COLUMNS} ${ASKED} ORDER BY r.asked_at, r.id LIMIT ${LISTED}`, [
      accountId,
    ]),
  ]);
  return { own: own.map(ownOf), asked: asked.map(askedOf) };
}

/** @throws Problem `not-found` also where it is one's own, or has been decided */
async function askedFor(context: Context, accountId: string, id: string): Promise<AskedRow> {
  const [found] = await rows<AskedRow>(
    context.db,
    `SELECT ${ASKED_COLUMNS}, k.sealed_key, r.paper, r.blob_ids[1] AS content_blob_id ${ASKED} AND r.id = $2`,
    [accountId, id],
  );
  if (found === undefined)
    throw new Problem('not-found', 404, 'This message does not wait for your word', {
      detail: 'It has been decided, or its sender has taken it back.',
    });
  return found;
}

export async function readRelease(context: Context, accountId: string, id: string): Promise<Reply<typeof getRelease>> {
  const row = await askedFor(context, accountId, id);
  const blob = await BlobRow.findByPk(row.content_blob_id);
  if (blob === null) throw notFound('Its content');
  return {
    ...askedOf(row),
    sealedKey: new Uint8Array(row.sealed_key),
    paper: new Uint8Array(row.paper),
    size: Number(blob.size),
  };
}

export async function readReleasePart(context: Context, accountId: string, id: string, index: number): Promise<Bytes> {
  return readPart(context, (await askedFor(context, accountId, id)).content_blob_id, index);
}

const decidedMeanwhile = (): Problem => new Problem('conflict', 409, 'Somebody else has just decided');

/** What ends it: nothing of what waited stays. @throws Problem `conflict` when somebody was quicker */
async function decide(
  context: Context,
  id: string,
  { state, by, sentence }: { state: 'let-go' | 'sent-back'; by: string | undefined; sentence?: Uint8Array },
  transaction: Transaction,
): Promise<void> {
  const decided = await run(
    context.db,
    `UPDATE releases SET state = $2, decided_at = $3, decided_by = $4, sentence = $5, body = NULL, paper = NULL
     WHERE id = $1 AND state = 'waiting'`,
    [id, state, context.clock(), by ?? null, sentence === undefined ? null : Buffer.from(sentence)],
    transaction,
  );
  if (decided === 0) throw decidedMeanwhile();
  await run(context.db, 'DELETE FROM release_keys WHERE release_id = $1', [id], transaction);
}

type Kept = z.output<typeof keptSchema>;

/** The same choice counted from when it leaves; a named date stays. */
const closingFrom =
  ({ handling, counted: { closing, zone } }: Kept, { config }: Context) =>
  (leavesAt: Date): Date => {
    if (closing === undefined || closing.kind === 'exact') return handling.closesAt;
    const counted = resolveClosing(closing, leavesAt, { ...config.office.calendar, zone });
    return counted.ok ? counted.closesAt : handling.closesAt;
  };

/** @throws Problem `not-found`, `conflict`, and what sending throws */
export async function letGo(context: Context, releaser: AccountRow, id: string): Promise<Date> {
  await askedFor(context, releaser.id, id);
  const [row] = await rows<{ body: Buffer | null; account_id: string }>(
    context.db,
    'SELECT body, account_id FROM releases WHERE id = $1',
    [id],
  );
  const sender = row === undefined ? null : await AccountRow.findByPk(row.account_id);
  if (row?.body == null || sender === null) throw decidedMeanwhile();
  const kept = keptSchema.parse(JSON.parse(await context.secrets.openText(row.body, releaseContext(id))));
  const { counted: _, ...body } = kept;
  return dispatchLetGo(
    context,
    sender,
    { dispatch: { id, ...body }, closesFrom: closingFrom(kept, context) },
    async (transaction) => {
      await decide(context, id, { state: 'let-go', by: releaser.id }, transaction);
      await record(context, { messageId: id, kind: 'let-go', data: { address: releaser.address } }, transaction);
      await logged(
        context,
        { kind: 'message-let-go', actor: byAccount(releaser.id), about: { message: id } },
        transaction,
      );
    },
  ).catch((error: unknown) => {
    // Two let it go at once, and one of them has.
    throw error instanceof UniqueConstraintError ? decidedMeanwhile() : error;
  });
}

/** @param sentence Why, sealed to its sender. @throws Problem `not-found`, `conflict` */
export async function sendBack(
  context: Context,
  releaser: AccountRow,
  id: string,
  sentence: Uint8Array,
): Promise<void> {
  await askedFor(context, releaser.id, id);
  await context.db.transaction(async (transaction) => {
    await decide(context, id, { state: 'sent-back', by: releaser.id, sentence }, transaction);
    await logged(
      context,
      { kind: 'message-sent-back', actor: byAccount(releaser.id), about: { message: id } },
      transaction,
    );
  });
}

/** By its sender; what is not there is taken back already. @throws Problem `conflict` when it has left */
export async function takeReleaseBack(context: Context, accountId: string, id: string): Promise<void> {
  const taken = await run(context.db, `DELETE FROM releases WHERE id = $1 AND account_id = $2 AND state <> 'let-go'`, [
    id,
    accountId,
  ]);
  if (taken > 0) return;
  const [left] = await rows(context.db, 'SELECT FROM releases WHERE id = $1 AND account_id = $2', [id, accountId]);
  if (left !== undefined) throw new Problem('conflict', 409, 'It has been let go already; you can withdraw it');
}

/** What nobody has decided for two weeks goes back; what was let go long ago is forgotten. */
export async function endWaiting(context: Context): Promise<void> {
  const before = new Date(context.clock().getTime() - MOST_DAYS * 86_400_000);
  const due = await rows<{ id: string }>(
    context.db,
    `SELECT id FROM releases WHERE state = 'waiting' AND asked_at < $1 LIMIT 200`,
    [before],
  );
  for (const { id } of due)
    await context.db
      .transaction((transaction) => decide(context, id, { state: 'sent-back', by: undefined }, transaction))
      .catch((error: unknown) => {
        // Decided meanwhile: all the better.
        if (!(error instanceof Problem)) throw error;
      });
  await run(context.db, `DELETE FROM releases WHERE state = 'let-go' AND told_at IS NOT NULL AND decided_at < $1`, [
    before,
  ]);
}
