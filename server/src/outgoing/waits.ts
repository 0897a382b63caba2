/** A dispatch that waits for somebody else to let it go: kept as it would have been handed over, and nothing of it yet. */
import { dispatchMessage } from '@under-lock/contract/outgoing';
import { releaseSchema } from '@under-lock/contract/release';
import { z } from 'zod';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { type AccountRow } from '../data/models';
import { invalid, Problem } from '../problem';
import { type Dispatch } from './handed-over';
import { type Held } from './ruled';

/** As it is kept: whoever decides has the paper and the keys, and what leaves needs neither. */
export const keptSchema = dispatchMessage.body.omit({ release: true }).extend({
  counted: releaseSchema.pick({ closing: true, zone: true }),
});

export const releaseContext = (id: string): string => `release/${id}`;

/** An earlier try of the same that waits already. @throws Problem `conflict` */
export async function alreadyWaits(
  context: Context,
  sender: AccountRow,
  id: string,
  digest: Buffer,
): Promise<{ sentAt: undefined; already: true } | undefined> {
  const [existing] = await rows<{ account_id: string; request_digest: Buffer; state: string }>(
    context.db,
    'SELECT account_id, request_digest, state FROM releases WHERE id = $1',
    [id],
  );
  // What was sent back may be handed over again.
  if (existing === undefined || (existing.account_id === sender.id && existing.state !== 'waiting')) return undefined;
  if (existing.account_id !== sender.id || !existing.request_digest.equals(digest))
    throw new Problem('conflict', 409, 'A different message waits under this number');
  return { sentAt: undefined, already: true };
}

/** Those who may and are not its sender. @throws Problem `invalid-input` */
async function requireReleasers(
  context: Context,
  sender: AccountRow,
  keys: NonNullable<Dispatch['release']>['keys'],
): Promise<void> {
  const ids = [...new Set(keys.map(({ accountId }) => accountId))];
  const able = await rows<{ id: string }>(
    context.db,
    'SELECT id FROM accounts WHERE id = ANY($1) AND may_release AND ended_at IS NULL AND id <> $2',
    [ids, sender.id],
  );
  if (able.length !== keys.length)
    throw invalid('It was sealed for somebody who may not let it go. Try again: the plan is made anew.');
}

/** @throws Problem `invalid-input` */
export async function keepWaiting(
  context: Context,
  { sender, dispatch, held, digest }: { sender: AccountRow; dispatch: Dispatch; held: Held; digest: Buffer },
): Promise<void> {
  const { id, release, ...body } = dispatch;
  if (release === undefined) throw invalid('It can’t wait without a paper for whoever lets it go.');
  await requireReleasers(context, sender, release.keys);
  const { closing, zone } = release;
  const kept = z.encode(keptSchema, { ...body, counted: { closing, zone } });
  const sealed = await context.secrets.sealText(JSON.stringify(kept), releaseContext(id));
  const people = [...dispatch.grants, ...(dispatch.copies ?? []).flatMap(({ recipients }) => recipients)].length;
  const rules = held.verdict.acted.flatMap(({ rule, demand }) => (demand.release ? [rule.name] : []));
  const blobs = [dispatch.contentBlobId, ...(dispatch.copies ?? []).map(({ blobId }) => blobId)];
  await context.db.transaction(async (transaction) => {
    await run(
      context.db,
      `DELETE FROM releases WHERE id = $1 AND account_id = $2 AND state = 'sent-back'`,
      [id, sender.id],
      transaction,
    );
    await run(
      context.db,
      `INSERT INTO releases (id, account_id, asked_at, state, request_digest, body, paper, summary, rules, people, blob_ids)
       VALUES ($1, $2, $3, 'waiting', $4, $5, $6, $7, $8, $9, $10::uuid[])`,
      [
        id,
        sender.id,
        context.clock(),
        digest,
        sealed,
        Buffer.from(release.paper),
        Buffer.from(dispatch.summary),
        rules,
        people,
        blobs,
      ],
      transaction,
    );
    for (const { accountId, sealedKey } of release.keys)
      await run(
        context.db,
        'INSERT INTO release_keys (release_id, account_id, sealed_key) VALUES ($1, $2, $3)',
        [id, accountId, Buffer.from(sealedKey)],
        transaction,
      );
  });
}
