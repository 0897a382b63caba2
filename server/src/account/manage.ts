/**
 * What administrators do about accounts: end one and open it again, sign somebody out everywhere, make somebody an
 * administrator or no more. There is always one left.
 */
import { type Transaction } from 'sequelize';
import { type Context } from '../context';
import { rows } from '../data/database';
import { AccountRow } from '../data/models';
import { byAccount, logged } from '../log/log';
import { endGrants } from '../access/grants';
import { notFound, Problem } from '../problem';
import { oneAtATime } from './addresses';
import { endSessions } from './session';

async function locked(context: Context, id: string, transaction: Transaction): Promise<AccountRow> {
  await oneAtATime(context, transaction);
  const account = await AccountRow.findByPk(id, { transaction, lock: transaction.LOCK.UPDATE });
  if (account === null) throw notFound('This account');
  return account;
}

/** @throws Problem `conflict` when nobody else could do what administrators do */
async function requireAnotherAdministrator(
  context: Context,
  { id, role }: AccountRow,
  transaction: Transaction,
): Promise<void> {
  if (role !== 'administrator') return;
  const [other] = await rows(
    context.db,
    `SELECT 1 FROM accounts WHERE role = 'administrator' AND id <> $1 AND ended_at IS NULL AND auth_hash IS NOT NULL LIMIT 1`,
    [id],
    transaction,
  );
  if (other === undefined)
    throw new Problem('conflict', 409, 'The last administrator', {
      detail: 'This is the only administrator there is. Make somebody else one first.',
    });
}

/**
 * From here on nobody signs in with it, writes to it or from it; what it sent stays readable until it closes, unless
 * that is withdrawn, too. @throws Problem `not-found`, `conflict`
 */
export function endAccount(
  context: Context,
  by: AccountRow,
  id: string,
  withdraw: boolean,
): Promise<{ withdrawn: number }> {
  return context.db.transaction(async (transaction) => {
    const account = await locked(context, id, transaction);
    if (account.id === by.id)
      throw new Problem('conflict', 409, 'Your own account', {
        detail: 'Nobody ends their own account: ask another administrator.',
      });
    if (account.endedAt != null) throw new Problem('conflict', 409, 'This account has ended already');
    await requireAnotherAdministrator(context, account, transaction);
    await account.update({ endedAt: context.clock(), invitationHash: null, invitationUntil: null }, { transaction });
    await endSessions(context, id, transaction);
    const held = withdraw
      ? await rows<{ id: string }>(
          context.db,
          `SELECT g.id FROM grants g JOIN messages m ON m.id = g.message_id WHERE g.account_id = $1 AND g.state = 'held' AND m.sender_grant_id IS NULL ORDER BY g.id FOR UPDATE OF g`,
          [id],
          transaction,
        )
      : [];
    const ended =
      held.length === 0 ? [] : await endGrants(context, held, { state: 'withdrawn', at: context.clock() }, transaction);
    await logged(
      context,
      { kind: 'account-ended', actor: byAccount(by.id), about: { account: id, withdrawn: ended.length } },
      transaction,
    );
    return { withdrawn: ended.length };
  });
}

/** @throws Problem `not-found`, `conflict` */
export function reopenAccount(context: Context, by: AccountRow, id: string): Promise<void> {
  return context.db.transaction(async (transaction) => {
    const account = await locked(context, id, transaction);
    if (account.endedAt == null) throw new Problem('conflict', 409, 'This account is in use');
    await account.update({ endedAt: null }, { transaction });
    await logged(context, { kind: 'account-reopened', actor: byAccount(by.id), about: { account: id } }, transaction);
  });
}

/** Signs somebody out on every device. @throws Problem `not-found` */
export function endSessionsOf(context: Context, by: AccountRow, id: string): Promise<number> {
  return context.db.transaction(async (transaction) => {
    const account = await locked(context, id, transaction);
    const ended = await endSessions(context, account.id, transaction);
    await logged(
      context,
      { kind: 'sessions-ended', actor: byAccount(by.id), about: { account: id, ended } },
      transaction,
    );
    return ended;
  });
}

/** @throws Problem `not-found`, `conflict` */
export function changeRole(context: Context, by: AccountRow, id: string, role: AccountRow['role']): Promise<void> {
  return context.db.transaction(async (transaction) => {
    const account = await locked(context, id, transaction);
    if (account.role === role) return;
    if (account.endedAt != null) throw new Problem('conflict', 409, 'This account has ended');
    await requireAnotherAdministrator(context, account, transaction);
    await account.update({ role }, { transaction });
    await logged(context, { kind: 'role-changed', actor: byAccount(by.id), about: { account: id, role } }, transaction);
  });
}
