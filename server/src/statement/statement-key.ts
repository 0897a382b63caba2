/**
 * The key the office signs statements with (ES256). Its private half is sealed at rest; every key ever used stays
 * known, so that old statements can be told.
 */
import { createPrivateKey, generateKeyPairSync, sign } from 'node:crypto';
import { type StatementKey } from '@under-lock/core/statement/format';
import { thumbprint } from '@under-lock/core/statement/statement';
import { type Transaction } from 'sequelize';
import { type Context } from '../context';
import { rows, run } from '../data/database';

const LOCK = 8422;
export const statementKeyContext = (id: string): string => `statement-key/${id}`;

interface KeyRow {
  id: string;
  created_at: Date;
  public_jwk: StatementKey;
  sealed_private_key: Buffer;
}

const newest = async (context: Context, transaction?: Transaction): Promise<KeyRow | undefined> =>
  (
    await rows<KeyRow>(context.db, 'SELECT * FROM statement_keys ORDER BY created_at DESC, id LIMIT 1', [], transaction)
  )[0];

/** Makes the key, once, whichever process comes first. */
export async function ensureStatementKey(context: Context): Promise<void> {
  await context.db.transaction(async (transaction) => {
    await rows(context.db, 'SELECT pg_advisory_xact_lock($1)', [LOCK], transaction);
    if ((await newest(context, transaction)) !== undefined) return;
    const { publicKey, privateKey } = generateKeyPairSync('ec', { namedCurve: 'P-256' });
    const { x, y } = publicKey.export({ format: 'jwk' }) as { x: string; y: string };
    const jwk: StatementKey = { kty: 'EC', crv: 'P-256', x, y };
    const id = await thumbprint(jwk);
    await run(
      context.db,
      'INSERT INTO statement_keys (id, created_at, public_jwk, sealed_private_key) VALUES ($1, $2, $3, $4)',
      [
        id,
        context.clock(),
        JSON.stringify(jwk),
        await context.secrets.sealText(
          privateKey.export({ type: 'pkcs8', format: 'pem' }) as string,
          statementKeyContext(id),
        ),
      ],
      transaction,
    );
  });
}

export interface StatementSigner {
  id: string;
  key: StatementKey;
  sign: (bytes: Uint8Array) => Promise<Uint8Array>;
}

export async function statementSigner(context: Context): Promise<StatementSigner> {
  const row = (await newest(context))!;
  const privateKey = createPrivateKey(
    await context.secrets.openText(row.sealed_private_key, statementKeyContext(row.id)),
  );
  const { kty, crv, x, y } = row.public_jwk;
  return {
    id: row.id,
    key: { kty, crv, x, y },
    sign: async (bytes) => new Uint8Array(sign('sha256', bytes, { key: privateKey, dsaEncoding: 'ieee-p1363' })),
  };
}

export const statementKeyId = async (context: Context): Promise<string> => (await newest(context))!.id;
