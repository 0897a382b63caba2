/**
 * Keys whose word the office takes for whose another key is. Administrators add and remove them; browsers judge by
 * them.
 */
import { type TrustedKey } from '@under-lock/contract/openpgp';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { byAccount, byAccountOrOperator, telling } from '../log/log';
import { invalid, notFound, Problem } from '../problem';
import { readKey } from './published';

const MAX_TRUSTED = 50;

export async function listTrustedKeys(context: Context): Promise<TrustedKey[]> {
  const found = await rows<{ id: string; key: Buffer; added_at: Date; name: string | null }>(
    context.db,
    'SELECT t.id, t.key, t.added_at, a.name FROM openpgp_trust t LEFT JOIN accounts a ON a.id = t.added_by ORDER BY t.added_at, t.id LIMIT $1',
    [MAX_TRUSTED],
  );
  return found.map((row) => ({
    id: row.id,
    key: new Uint8Array(row.key),
    addedAt: row.added_at,
    ...(row.name === null ? {} : { addedBy: row.name }),
  }));
}

/** @throws Problem `invalid-input`, `conflict` */
export async function addTrustedKey(
  context: Context,
  accountId: string | undefined,
  { id, key: bytes }: { id: string; key: Uint8Array },
): Promise<void> {
  const key = await readKey(context, bytes);
  if (key.revoked) throw invalid('This key is revoked: its word is worth nothing.');
  if (key.expiresAt !== undefined && key.expiresAt <= context.clock()) throw invalid('This key has expired.');
  const [{ count }] = (await rows<{ count: number }>(
    context.db,
    'SELECT count(*)::int AS count FROM openpgp_trust',
  )) as [{ count: number }];
  if (count >= MAX_TRUSTED) throw invalid(`At most ${MAX_TRUSTED} keys can be trusted.`);
  await telling(
    context,
    { kind: 'key-trusted', actor: byAccountOrOperator(accountId), about: { key: id, fingerprint: key.fingerprint } },
    async (transaction) => {
      const added = await rows(
        context.db,
        'INSERT INTO openpgp_trust (id, fingerprint, key, added_at, added_by) VALUES ($1, $2, $3, $4, $5) ON CONFLICT DO NOTHING RETURNING id',
        [id, key.fingerprint, Buffer.from(key.bytes), context.clock(), accountId ?? null],
        transaction,
      );
      if (added.length === 0) throw new Problem('conflict', 409, 'This key is trusted already');
    },
  );
}

export function removeTrustedKey(context: Context, accountId: string, id: string): Promise<void> {
  return telling(
    context,
    { kind: 'key-no-longer-trusted', actor: byAccount(accountId), about: { key: id } },
    async (transaction) => {
      if ((await run(context.db, 'DELETE FROM openpgp_trust WHERE id = $1', [id], transaction)) === 0)
        throw notFound('This key');
    },
  );
}
