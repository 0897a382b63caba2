/**
 * Public keys that the office's people publish: kept with whatever was ever said of them, and served by Web Key
 * Directory.
 */
import { endSigning } from '../data/signing';
import { defined } from '@under-lock/core/defined';
import { wkdHash } from '@under-lock/core/openpgp/discovery';
import { addressKey, localPartOf } from '@under-lock/core/people/address';
import { isOwnAddress } from '../account/addresses';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { type AccountRow } from '../data/models';
import { invalid, notFound, Problem } from '../problem';
import { byAccount, type LogLine, telling } from '../log/log';
import { unread } from '../thread/pool';
import { type KeyFacts } from '../thread/tasks';

const MAX_KEYS = 20;

interface PublishedRow {
  fingerprint: string;
  account_id: string;
  key: Buffer;
  published_at: Date;
  revoked: boolean;
}
const FIELDS = 'fingerprint, account_id, key, published_at, revoked';
const bytesOf = (key: Buffer): Uint8Array<ArrayBuffer> => new Uint8Array(key);

/** @throws Problem `invalid-input` */
export const readKey = (context: Context, bytes: Uint8Array, kept?: Uint8Array): Promise<KeyFacts> =>
  context.threads
    .run('openPgpKey', { bytes, ...defined({ kept }) })
    .catch(
      unread(({ code, detail }) =>
        invalid(
          code === 'unreadable' && detail !== 'too-large'
            ? 'This is not an OpenPGP key.'
            : 'This key is larger than any that is used for mail.',
        ),
      ),
    );

const hashesOf = ({ addresses }: KeyFacts): string =>
  JSON.stringify(addresses.map((address) => wkdHash(localPartOf(address))));

const listed = async (context: Context, accountId: string): Promise<PublishedRow[]> =>
  rows<PublishedRow>(
    context.db,
    `SELECT ${FIELDS} FROM openpgp_published WHERE account_id = $1 ORDER BY published_at DESC LIMIT $2`,
    [accountId, MAX_KEYS],
  );

export const listPublished = async (context: Context, account: AccountRow) =>
  (await listed(context, account.id)).map((row) => ({
    fingerprint: row.fingerprint,
    key: bytesOf(row.key),
    publishedAt: row.published_at,
  }));

/** What is there and what comes, together: neither a revocation nor a certification is ever lost. */
async function keep(
  context: Context,
  accountId: string,
  fresh: KeyFacts,
  before: PublishedRow | undefined,
  line: LogLine,
): Promise<void> {
  const key = before === undefined ? fresh : await readKey(context, fresh.bytes, before.key);
  await telling(context, line, async (transaction) => {
    await run(
      context.db,
      'INSERT INTO openpgp_published (fingerprint, account_id, key, hashes, revoked, published_at) VALUES ($1, $2, $3, $4, $5, $6) ON CONFLICT (fingerprint) DO UPDATE SET key = $3, hashes = $4, revoked = $5',
      [key.fingerprint, accountId, Buffer.from(key.bytes), hashesOf(key), key.revoked, context.clock()],
      transaction,
    );
    if (key.revoked) await endSigning(context, accountId, key.fingerprint, transaction);
  });
}

/** @throws Problem `invalid-input`, `conflict` */
export async function publishKey(
  context: Context,
  account: AccountRow,
  fingerprint: string,
  bytes: Uint8Array,
): Promise<void> {
  const key = await readKey(context, bytes);
  if (key.fingerprint !== fingerprint) throw invalid('This is another key than the address names.');
  const { addresses } = key;
  const foreign = addresses.find((address) => !isOwnAddress(account, address));
  if (foreign !== undefined) throw invalid(`${foreign} is not your address, so a key with it is not published here.`);
  const [before] = await rows<PublishedRow>(
    context.db,
    `SELECT ${FIELDS} FROM openpgp_published WHERE fingerprint = $1`,
    [fingerprint],
  );
  if (before === undefined && addresses.length === 0)
    throw invalid('This key names none of your addresses, so nobody would find it.');
  if (before !== undefined && before.account_id !== account.id)
    throw new Problem('conflict', 409, 'Somebody else has published this key', {
      detail: 'Somebody else of the office has published this key.',
    });
  if (before === undefined && (await listed(context, account.id)).length >= MAX_KEYS)
    throw invalid(`At most ${MAX_KEYS} keys can be published.`);
  await keep(context, account.id, key, before, {
    kind: 'key-published',
    actor: byAccount(account.id),
    about: { fingerprint },
  });
}

/** @throws Problem `not-found`, `conflict` */
export async function unpublishKey(context: Context, account: AccountRow, fingerprint: string): Promise<void> {
  const [row] = await rows<PublishedRow>(
    context.db,
    `SELECT ${FIELDS} FROM openpgp_published WHERE fingerprint = $1 AND account_id = $2`,
    [fingerprint, account.id],
  );
  if (row === undefined) throw notFound('This key');
  if (row.revoked)
    throw new Problem('conflict', 409, 'A revoked key stays published', {
      detail: 'A revoked key stays published, so that others hear that it is revoked.',
    });
  await telling(
    context,
    { kind: 'key-taken-down', actor: byAccount(account.id), about: { fingerprint } },
    (transaction) =>
      run(context.db, 'DELETE FROM openpgp_published WHERE fingerprint = $1', [fingerprint], transaction),
  );
}

export async function listStaffKeys(context: Context) {
  const found = await rows<PublishedRow & { name: string; address: string }>(
    context.db,
    'SELECT p.fingerprint, p.account_id, p.key, p.published_at, p.revoked, a.name, a.address FROM openpgp_published p JOIN accounts a ON a.id = p.account_id WHERE NOT p.revoked ORDER BY p.published_at DESC LIMIT 500',
  );
  return found.map(({ fingerprint, key, published_at, name, address }) => ({
    fingerprint,
    key: bytesOf(key),
    publishedAt: published_at,
    name,
    address,
  }));
}

/**
 * What an administrator vouches for is added; user ids and subkeys that came along without their owner's word are as if
 * they were not there. @throws Problem `not-found`, `invalid-input`
 */
export async function addCertifications(
  context: Context,
  by: string,
  fingerprint: string,
  bytes: Uint8Array,
): Promise<void> {
  const [before] = await rows<PublishedRow>(
    context.db,
    `SELECT ${FIELDS} FROM openpgp_published WHERE fingerprint = $1`,
    [fingerprint],
  );
  if (before === undefined) throw notFound('This key');
  const key = await readKey(context, bytes);
  if (key.fingerprint !== fingerprint) throw invalid('This is another key than the address names.');
  await keep(context, before.account_id, key, before, {
    kind: 'key-vouched-for',
    actor: byAccount(by),
    about: { fingerprint },
  });
}

/** Keys published under an address, the newest first, those in force before revoked ones. */
export async function publishedFor(context: Context, address: string): Promise<Uint8Array<ArrayBuffer>[]> {
  const local = localPartOf(address);
  const found = await rows<PublishedRow>(
    context.db,
    `SELECT ${FIELDS} FROM openpgp_published WHERE hashes @> $1::jsonb ORDER BY revoked, published_at DESC LIMIT 5`,
    [JSON.stringify([wkdHash(local)])],
  );
  const keys = await Promise.all(
    found.map(async ({ key }) => ({ bytes: bytesOf(key), addresses: (await readKey(context, key)).addresses })),
  );
  return keys
    .filter(({ addresses }) => addresses.some((one) => addressKey(one) === addressKey(address)))
    .map(({ bytes }) => bytes);
}

/** As the directory answers: the keys under a hash, one after another. */
export async function publishedUnder(context: Context, hash: string): Promise<Buffer | undefined> {
  const found = await rows<PublishedRow>(
    context.db,
    `SELECT ${FIELDS} FROM openpgp_published WHERE hashes @> $1::jsonb ORDER BY revoked, published_at DESC LIMIT 5`,
    [JSON.stringify([hash])],
  );
  return found.length === 0 ? undefined : Buffer.concat(found.map(({ key }) => key));
}
