/** The authorities the office trusts. Administrators add and remove them; browsers judge by them. */
import { type Anchor } from '@under-lock/contract/certificate';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { byAccount, byAccountOrOperator, telling } from '../log/log';
import { invalid, notFound, Problem } from '../problem';
import { unread } from '../thread/pool';
import { fingerprintOf } from './own';

const MAX_ANCHORS = 100;

export async function listAnchors(context: Context): Promise<Anchor[]> {
  const found = await rows<{ id: string; certificate: Buffer; added_at: Date; name: string | null }>(
    context.db,
    'SELECT t.id, t.certificate, t.added_at, a.name FROM trust_anchors t LEFT JOIN accounts a ON a.id = t.added_by ORDER BY t.added_at, t.id LIMIT $1',
    [MAX_ANCHORS],
  );
  return found.map((row) => ({
    id: row.id,
    certificate: new Uint8Array(row.certificate),
    addedAt: row.added_at,
    ...(row.name === null ? {} : { addedBy: row.name }),
  }));
}

/** @throws Problem `invalid-input` when it is no authority's certificate, `conflict` when it is trusted already */
export async function addAnchor(
  context: Context,
  accountId: string | undefined,
  { id, certificate: bytes }: { id: string; certificate: Uint8Array },
): Promise<void> {
  const certificate = await context.threads
    .run('certificate', { bytes })
    .catch(unread(() => invalid('This is not a certificate.')));
  if (!certificate.authority)
    throw invalid(
      'This is a person’s certificate, not an authority’s: everybody it is issued to is judged by an authority’s.',
    );
  if (certificate.notAfter <= context.clock()) throw invalid('This authority’s certificate has expired.');
  const [{ count }] = (await rows<{ count: number }>(
    context.db,
    'SELECT count(*)::int AS count FROM trust_anchors',
  )) as [{ count: number }];
  if (count >= MAX_ANCHORS) throw invalid(`At most ${MAX_ANCHORS} authorities can be trusted.`);
  await telling(
    context,
    {
      kind: 'authority-trusted',
      actor: byAccountOrOperator(accountId),
      about: { anchor: id, fingerprint: fingerprintOf(bytes) },
    },
    async (transaction) => {
      const added = await rows(
        context.db,
        'INSERT INTO trust_anchors (id, fingerprint, certificate, added_at, added_by) VALUES ($1, $2, $3, $4, $5) ON CONFLICT DO NOTHING RETURNING id',
        [id, fingerprintOf(bytes), Buffer.from(bytes), context.clock(), accountId ?? null],
        transaction,
      );
      if (added.length === 0) throw new Problem('conflict', 409, 'This authority is trusted already');
    },
  );
}

export function removeAnchor(context: Context, accountId: string, id: string): Promise<void> {
  return telling(
    context,
    { kind: 'authority-no-longer-trusted', actor: byAccount(accountId), about: { anchor: id } },
    async (transaction) => {
      if ((await run(context.db, 'DELETE FROM trust_anchors WHERE id = $1', [id], transaction)) === 0)
        throw notFound('This authority');
    },
  );
}
