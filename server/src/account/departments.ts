/** Where in the office somebody works: administrators say it, rules and presets ask about it. */
import { type Context } from '../context';
import { run } from '../data/database';
import { type AccountRow } from '../data/models';
import { byAccount, telling } from '../log/log';
import { notFound } from '../problem';

/** @throws Problem `not-found` */
export async function putDepartments(
  context: Context,
  by: AccountRow,
  accountId: string,
  departments: readonly string[],
): Promise<void> {
  const named = [...new Set(departments.map((one) => one.trim()).filter((one) => one !== ''))];
  const changed = await telling(
    context,
    {
      kind: 'departments-changed',
      actor: byAccount(by.id),
      about: { account: accountId, departments: named.join(', ') },
    },
    (transaction) =>
      run(
        context.db,
        'UPDATE accounts SET departments = $2::jsonb WHERE id = $1',
        [accountId, JSON.stringify(named)],
        transaction,
      ),
  );
  if (changed === 0) throw notFound('This account');
}
