/** Who may let go what others wrote: administrators give it. */
import { type Context } from '../context';
import { run } from '../data/database';
import { type AccountRow } from '../data/models';
import { byAccount, telling } from '../log/log';
import { notFound } from '../problem';

/** @throws Problem `not-found` */
export async function putMayRelease(context: Context, by: AccountRow, accountId: string, may: boolean): Promise<void> {
  const changed = await telling(
    context,
    { kind: 'release-permission-changed', actor: byAccount(by.id), about: { account: accountId, may } },
    (transaction) =>
      run(context.db, 'UPDATE accounts SET may_release = $2 WHERE id = $1', [accountId, may], transaction),
  );
  if (changed === 0) throw notFound('This account');
}
