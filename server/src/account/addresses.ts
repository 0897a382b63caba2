/**
 * An account may have further addresses beside its main one: a role's, an office's. An administrator gives them; each
 * belongs to one account.
 */
import { addressKey, checkAddress, isAtDomain } from '@under-lock/core/people/address';
import { type Transaction } from 'sequelize';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { AccountRow } from '../data/models';
import { byAccount, logged } from '../log/log';
import { invalid, notFound, Problem } from '../problem';

type Owner = Pick<AccountRow, 'addressKey' | 'further'>;

export const isOwnAddress = ({ addressKey: main, further }: Owner, address: string): boolean =>
  [main, ...further].includes(addressKey(address));

/** Whose address it is, main or further. */
export async function accountAt(
  context: Context,
  address: string,
  transaction?: Transaction,
): Promise<AccountRow | null> {
  const [found] = await rows<{ id: string }>(
    context.db,
    'SELECT id FROM accounts WHERE address_key = $1 OR further @> to_jsonb($1::text) LIMIT 1',
    [addressKey(address)],
    transaction,
  );
  return found === undefined ? null : AccountRow.findByPk(found.id, transaction === undefined ? {} : { transaction });
}

/**
 * Says what an account's further addresses are from now on. @throws Problem `not-found`, `invalid-input`, `conflict`
 */
export async function putAddresses(
  context: Context,
  by: AccountRow,
  accountId: string,
  addresses: readonly string[],
): Promise<void> {
  const { mailDomain } = context.config.office;
  const keys = addresses.map((address) => {
    const checked = checkAddress(address);
    if (!checked.ok || !isAtDomain(checked.address, mailDomain))
      throw invalid(`“${address}” is not an address of ${mailDomain}.`);
    return addressKey(checked.address);
  });
  await context.db.transaction(async (transaction) => {
    await oneAtATime(context, transaction);
    if ((await AccountRow.count({ where: { id: accountId }, transaction })) === 0) throw notFound('This account');
    for (const key of keys) {
      const [taken] = await rows<{ name: string; id: string }>(
        context.db,
        'SELECT name, id FROM accounts WHERE address_key = $1 OR (further @> to_jsonb($1::text) AND id <> $2) LIMIT 1',
        [key, accountId],
        transaction,
      );
      if (taken !== undefined)
        throw new Problem('conflict', 409, 'The address is taken', {
          detail:
            taken.id === accountId ? `${key} is their main address already.` : `${key} is an address of ${taken.name}.`,
        });
    }
    await run(
      context.db,
      'UPDATE accounts SET further = $2::jsonb WHERE id = $1',
      [accountId, JSON.stringify([...new Set(keys)])],
      transaction,
    );
    await logged(
      context,
      { kind: 'addresses-changed', actor: byAccount(by.id), about: { account: accountId, addresses: keys.length } },
      transaction,
    );
  });
}

/**
 * Addresses are given and invitations made one at a time, so that nobody gets one that was just given to somebody else.
 */
export const oneAtATime = async (context: Context, transaction: Transaction): Promise<void> =>
  void (await rows(context.db, 'SELECT pg_advisory_xact_lock(8421)', [], transaction));
