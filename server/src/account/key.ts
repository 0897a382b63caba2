/**
 * An account's key pair: the public half for others, the private one sealed in the vault. Made once, by the account's
 * own browser.
 */
import { type Context } from '../context';
import { run } from '../data/database';
import { type AccountRow } from '../data/models';
import { Problem } from '../problem';
import { putItem } from '../vault/vault';

/** @throws Problem `conflict` when there is one: what was sealed to it must stay readable. */
export async function keepAccountKey(
  context: Context,
  account: AccountRow,
  key: { suite: number; publicKey: Uint8Array; sealedPrivateKey: Uint8Array },
): Promise<void> {
  await context.db.transaction(async (transaction) => {
    const set = await run(
      context.db,
      'UPDATE accounts SET public_key = $2, key_suite = $3 WHERE id = $1 AND public_key IS NULL',
      [account.id, Buffer.from(key.publicKey), key.suite],
      transaction,
    );
    if (set === 0) throw new Problem('conflict', 409, 'This account has its keys already');
    await putItem(
      context,
      { accountId: account.id, kind: 'account-key', id: account.id, revision: 0, sealed: key.sealedPrivateKey },
      transaction,
    );
  });
}
