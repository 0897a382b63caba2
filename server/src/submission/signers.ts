/** What workers have let the door for mail programs sign with, sealed to it; the server can't open it. */
import { type putSigner as putting, type SignerHere } from '@under-lock/contract/submission';
import { type SignerKind } from '@under-lock/core/submission/signer';
import { type z } from 'zod';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { byAccount, telling } from '../log/log';
import { notFound, Problem } from '../problem';

export const listSigners = async ({ db }: Context, accountId: string): Promise<SignerHere[]> =>
  (
    await rows<{ kind: SignerKind; fingerprint: string; made_at: Date; current: boolean }>(
      db,
      `SELECT s.kind, s.fingerprint, s.made_at, s.door_key = d.public_key AS current
        FROM door_signers s LEFT JOIN submission_door d ON true WHERE s.account_id = $1 ORDER BY s.kind`,
      [accountId],
    )
  ).map(({ kind, fingerprint, made_at: since, current }) => ({ kind, fingerprint, since, isCurrent: current }));

/** In place of the one before. @throws Problem `conflict` where the door has another key than its owner saw */
export const putSigner = (
  context: Context,
  accountId: string,
  kind: SignerKind,
  { publicKey, sealed, fingerprint }: z.output<typeof putting.body>,
): Promise<void> =>
  telling(
    context,
    { kind: 'signer-let-in', actor: byAccount(accountId), about: { kind, fingerprint } },
    async (transaction) => {
      const put = await rows(
        context.db,
        `INSERT INTO door_signers (account_id, kind, sealed, door_key, fingerprint, made_at)
          SELECT $1, $2, $3, public_key, $5, $6 FROM submission_door WHERE public_key = $4
          ON CONFLICT (account_id, kind) DO UPDATE SET sealed = $3, door_key = $4, fingerprint = $5, made_at = $6 RETURNING kind`,
        [accountId, kind, Buffer.from(sealed), Buffer.from(publicKey), fingerprint, context.clock()],
        transaction,
      );
      if (put.length === 0) throw new Problem('conflict', 409, 'The door has another key by now. Look at it again');
      if (kind !== 'certificate') return;
      await run(
        context.db,
        'UPDATE certificates SET for_programs = true WHERE account_id = $1 AND fingerprint = $2',
        [accountId, fingerprint],
        transaction,
      );
    },
  );

/** From then on it signs nothing more with it. @throws Problem `not-found` */
export const dropSigner = (context: Context, accountId: string, kind: SignerKind): Promise<void> =>
  telling(context, { kind: 'signer-let-out', actor: byAccount(accountId), about: { kind } }, async (transaction) => {
    const dropped = await run(
      context.db,
      'DELETE FROM door_signers WHERE account_id = $1 AND kind = $2',
      [accountId, kind],
      transaction,
    );
    if (dropped === 0) throw notFound('This key');
  });

/** For the door, as far as they are sealed to the key it has. */
export const signersFor = async (
  { db }: Context,
  accountId: string,
): Promise<{ kind: SignerKind; sealed: Uint8Array<ArrayBuffer> }[]> =>
  (
    await rows<{ kind: SignerKind; sealed: Buffer }>(
      db,
      `SELECT s.kind, s.sealed FROM door_signers s JOIN submission_door d ON d.public_key = s.door_key WHERE s.account_id = $1`,
      [accountId],
    )
  ).map(({ kind, sealed }) => ({ kind, sealed: new Uint8Array(sealed) }));
