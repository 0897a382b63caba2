/** What is signed with at the door for mail programs, as whoever revokes a certificate or key has to know of it. */
import { type Transaction } from 'sequelize';
import { type Context } from '../context';
import { run } from './database';

/** It is revoked: nothing more is signed with it. */
export const endSigning = (
  { db }: Pick<Context, 'db'>,
  accountId: string,
  fingerprint: string,
  transaction: Transaction,
): Promise<number> =>
  run(db, 'DELETE FROM door_signers WHERE account_id = $1 AND fingerprint = $2', [accountId, fingerprint], transaction);
