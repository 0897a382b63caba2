/**
 * Passwords that workers made for their mail programs (docs/decisions/31). Each is a hundred random bits, so a keyed hash
 * is enough; it is shown once, and ends by itself.
 */
import {
  type Device,
  MOST_DEVICES,
  MOST_SEEN,
  type addDevice as adding,
  type SeenAtDoor,
} from '@under-lock/contract/submission';
import { type Reply } from '@under-lock/contract/client';
import { addressKey } from '@under-lock/core/people/address';
import { devicePassword, spelledPlainly } from '@under-lock/core/submission/password';
import { randomUUID } from 'node:crypto';
import { accountAt } from '../account/addresses';
import { type Context } from '../context';
import { columnsOf, named, askedOften, rows, run } from '../data/database';
import { AccountRow } from '../data/models';
import { takeTry, type Throttle } from '../limits/throttle';
import { byAccount, telling } from '../log/log';
import { notFound, Problem } from '../problem';
import { type Attributes } from 'sequelize';

const PURPOSE = 'device-password';
const hashed = (accountId: string, password: string): string => `${accountId}|${spelledPlainly(password)}`;

export const listDevices = async ({ db }: Context, accountId: string): Promise<Device[]> =>
  (
    await rows<{ id: string; name: string; made_at: Date; last_used_at: Date | null }>(
      db,
      'SELECT id, name, made_at, last_used_at FROM devices WHERE account_id = $1 ORDER BY made_at, id',
      [accountId],
    )
  ).map(({ id, name, made_at: madeAt, last_used_at: lastUsedAt }) => ({
    id,
    name,
    madeAt,
    ...(lastUsedAt === null ? {} : { lastUsedAt }),
  }));

/** @throws Problem `conflict` with too many */
export const addDevice = (context: Context, accountId: string, name: string): Promise<Reply<typeof adding>> => {
  const id = randomUUID();
  const password = devicePassword();
  return telling(
    context,
    { kind: 'device-added', actor: byAccount(accountId), about: { device: id } },
    async (transaction) => {
      const added = await rows(
        context.db,
        `INSERT INTO devices (id, account_id, name, password_hash, made_at)
          SELECT $1, $2, $3, $4, $5 WHERE (SELECT count(*) FROM devices WHERE account_id = $2) < $6 RETURNING id`,
        [
          id,
          accountId,
          name.trim(),
          context.secrets.keyedHash(PURPOSE, hashed(accountId, password)),
          context.clock(),
          MOST_DEVICES,
        ],
        transaction,
      );
      if (added.length === 0)
        throw new Problem('conflict', 409, 'You have as many mail programs as there can be. End one of them first.');
      return { id, password };
    },
  );
};

/** From then on it sends nothing more. @throws Problem `not-found` */
export const endDevice = (context: Context, accountId: string, id: string): Promise<void> =>
  telling(
    context,
    { kind: 'device-ended', actor: byAccount(accountId), about: { device: id } },
    async (transaction) => {
      const ended = await run(
        context.db,
        'DELETE FROM devices WHERE id = $1 AND account_id = $2',
        [id, accountId],
        transaction,
      );
      if (ended === 0) throw notFound('This mail program');
    },
  );

/** Wrong passwords of one account from one place, and of one place in all. */
const budgets = (address: string, place: string): Throttle[] => [
  { purpose: 'device-at', who: `${addressKey(address)}|${place}`, free: 10 },
  { purpose: 'device-place', who: place, free: 50 },
];

const noteRefusal = ({ db, clock }: Context, accountId: string): Promise<unknown> =>
  run(
    db,
    'INSERT INTO device_refusals (account_id, at) VALUES ($1, $2) ON CONFLICT (account_id) DO UPDATE SET at = $2',
    [accountId, clock()],
  );

/** What the door last saw of an account's mail programs, for whoever is setting one up. */
export async function seenAtDoor(
  { db }: Context,
  accountId: string,
): Promise<{ seen: SeenAtDoor[]; refusedAt?: Date }> {
  const [seen, [refusal]] = await Promise.all([
    rows<{ id: string; handed_at: Date; device_name: string; size: number; state: SeenAtDoor['state'] }>(
      db,
      'SELECT id, handed_at, device_name, size::int AS size, state FROM handed_in WHERE account_id = $1 ORDER BY handed_at DESC LIMIT $2',
      [accountId, MOST_SEEN],
    ),
    rows<{ at: Date }>(db, 'SELECT at FROM device_refusals WHERE account_id = $1', [accountId]),
  ]);
  return {
    seen: seen.map(({ handed_at: at, device_name: by, ...rest }) => ({ ...rest, at, by })),
    ...(refusal === undefined ? {} : { refusedAt: refusal.at }),
  };
}

/**
 * Only wrong passwords are counted: a hundred random bits are not guessed, and one forgotten program with an old password
 * keeps nobody else behind the same place from sending.
 * @throws Problem `wrong-password`, `too-many-tries`
 */
export async function signInDevice(
  context: Context,
  { address, password, place }: { address: string; password: string; place: string },
): Promise<{ deviceId: string }> {
  const account = await accountAt(context, address);
  const hashes = account === null ? [] : context.secrets.keyedHashes(PURPOSE, hashed(account.id, password));
  const [device] = await rows<{ id: string }>(
    context.db,
    `UPDATE devices d SET last_used_at = $3 FROM accounts a
      WHERE d.account_id = $1 AND d.password_hash = ANY($2) AND a.id = d.account_id AND a.ended_at IS NULL AND a.public_key IS NOT NULL
      RETURNING d.id`,
    [account?.id ?? null, hashes, context.clock()],
  );
  if (device !== undefined) return { deviceId: device.id };
  await takeTry(context, budgets(address, place));
  if (account !== null) await noteRefusal(context, account.id);
  throw new Problem('wrong-password', 401, 'The address or the password is wrong');
}

export interface OwnDevice {
  id: string;
  name: string;
}
type DeviceAndAccount = Attributes<AccountRow> & { deviceId: string; deviceName: string };

const ACCOUNT_OF_DEVICE = named(
  'account-device',
  () => `SELECT d.id AS "deviceId", d.name AS "deviceName", ${columnsOf(AccountRow, 'a')}
    FROM devices d JOIN accounts a ON a.id = d.account_id WHERE d.id = $1 AND a.ended_at IS NULL`,
);

/** Whose it is; undefined when it has ended. */
export async function deviceOf(
  { db }: Context,
  id: string,
): Promise<{ account: AccountRow; device: OwnDevice } | undefined> {
  const [row] = await askedOften<DeviceAndAccount>(db, ACCOUNT_OF_DEVICE(), [id]);
  if (row === undefined) return undefined;
  const { deviceId, deviceName, ...account } = row;
  return {
    account: AccountRow.build(account, { isNewRecord: false, raw: true }),
    device: { id: deviceId, name: deviceName },
  };
}
