/**
 * The office's key for DKIM (RFC 6376, RSA with SHA-256 and 2048 bits as RFC 8301 asks). The private half is sealed
 * at rest; the public one is
 * published by the office in its DNS. A key that was replaced stays listed, because mail signed with it is still on
 * its way.
 */
import { generateKeyPair, randomBytes } from 'node:crypto';
import { promisify } from 'node:util';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { type Transaction } from 'sequelize';

const BITS = 2048;
const KEPT_MS = 60_000;
const LOCK = 8421;
/** Mail hosts try for days. */
const STILL_LISTED_MS = 14 * 86_400_000;

export interface SigningKey {
  domainName: string;
  keySelector: string;
  privateKey: string;
}
export interface PublishedKey {
  selector: string;
  createdAt: Date;
  replacedAt?: Date;
  record: { name: string; value: string };
}

export const dkimContext = (selector: string): string => `dkim/${selector}`;

async function makeKey(context: Context, transaction: Transaction): Promise<void> {
  const { publicKey, privateKey } = await promisify(generateKeyPair)('rsa', {
    modulusLength: BITS,
    publicKeyEncoding: { type: 'spki', format: 'der' },
    privateKeyEncoding: { type: 'pkcs8', format: 'pem' },
  });
  const selector = `ul${context.clock().toISOString().slice(0, 7).replace('-', '')}${randomBytes(2).toString('hex')}`;
  await run(
    context.db,
    'UPDATE dkim_keys SET replaced_at = $1 WHERE replaced_at IS NULL',
    [context.clock()],
    transaction,
  );
  await run(
    context.db,
    'INSERT INTO dkim_keys (selector, created_at, public_key, sealed_private_key) VALUES ($1, $2, $3, $4)',
    [selector, context.clock(), publicKey, await context.secrets.sealText(privateKey, dkimContext(selector))],
    transaction,
  );
}

interface KeyRow {
  selector: string;
  created_at: Date;
  replaced_at: Date | null;
  public_key: Buffer;
  sealed_private_key: Buffer;
}

const current = async (context: Context, transaction?: Transaction): Promise<KeyRow | undefined> =>
  (await rows<KeyRow>(context.db, 'SELECT * FROM dkim_keys WHERE replaced_at IS NULL', [], transaction))[0];

/** Makes the first key, once, whichever process comes first. */
export async function ensureDkimKey(context: Context): Promise<void> {
  await context.db.transaction(async (transaction) => {
    await rows(context.db, 'SELECT pg_advisory_xact_lock($1)', [LOCK], transaction);
    if ((await current(context, transaction)) === undefined) await makeKey(context, transaction);
  });
}

export async function replaceDkimKey(context: Context, transaction: Transaction): Promise<void> {
  await makeKey(context, transaction);
  transaction.afterCommit(() => void kept.delete(context.db));
}

const kept = new WeakMap<Context['db'], { until: number; key: SigningKey }>();

/** What mail is signed with; undefined before the first key is made. */
export async function signingKey(context: Context): Promise<SigningKey | undefined> {
  const known = kept.get(context.db);
  if (known !== undefined && known.until > Date.now()) return known.key;
  const row = await current(context);
  if (row === undefined) return undefined;
  const key = {
    domainName: context.config.office.mailDomain,
    keySelector: row.selector,
    privateKey: await context.secrets.openText(row.sealed_private_key, dkimContext(row.selector)),
  };
  kept.set(context.db, { until: Date.now() + KEPT_MS, key });
  return key;
}

/** The keys whose records belong in the DNS, the one in use first. */
export async function publishedKeys(context: Context): Promise<PublishedKey[]> {
  const found = await rows<KeyRow>(
    context.db,
    'SELECT * FROM dkim_keys WHERE replaced_at IS NULL OR replaced_at > $1 ORDER BY created_at DESC',
    [new Date(context.clock().getTime() - STILL_LISTED_MS)],
  );
  return found.map(({ selector, created_at, replaced_at, public_key }) => ({
    selector,
    createdAt: created_at,
    ...(replaced_at === null ? {} : { replacedAt: replaced_at }),
    record: {
      name: `${selector}._domainkey.${context.config.office.mailDomain}`,
      value: `v=DKIM1; k=rsa; p=${public_key.toString('base64')}`,
    },
  }));
}
