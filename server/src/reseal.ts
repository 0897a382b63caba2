/**
 * Brings everything that is sealed at rest under the newest secret, and seals what lies open from the time before it
 * was sealed: in small lots, each row under its lock, while everything goes on. When it has found nothing more to do,
 * the older secrets can be taken out of the configuration.
 */
import { type Transaction } from 'sequelize';
import {
  credentialContext,
  type Credential,
  isSealedBytes,
  openedText,
  type Owner,
  SEALED,
  sealedText,
} from './account/credentials';
import { type Context } from './context';
import { rows, run } from './data/database';
import { answerContext, channelContext, houseShareContext, readerShareContext, toldContext } from './access/grants';
import { slotSenderContext } from './slot/leave';
import { releaseContext } from './outgoing/waits';
import { dkimContext } from './mail/dkim';
import { statementKeyContext } from './statement/statement-key';

interface SealedColumn {
  table: string;
  id: string;
  column: string;
  context: (id: string) => string;
  /** Rows of the time before may hold it open. */
  mayBeOpen?: boolean;
  /** Which rows are meant, where not all are. */
  only?: string;
}

const credential =
  (of: Owner, what: Credential) =>
  (id: string): string =>
    credentialContext(of, id, what);

const BYTES: readonly SealedColumn[] = [
  { table: 'grants', id: 'id', column: 'house_share', context: houseShareContext },
  { table: 'grants', id: 'id', column: 'channel', context: channelContext },
  // Shorter ones are keyed hashes of the time before: they need the secret they were made under until their access
  // ends.
  {
    table: 'grants',
    id: 'id',
    column: 'answer_hash',
    context: answerContext,
    only: 'octet_length(answer_hash) > 32',
  },
  { table: 'grants', id: 'id', column: 'told_hash', context: toldContext },
  { table: 'outbox', id: 'id', column: 'sealed_share', context: readerShareContext },
  { table: 'slot_left', id: 'id', column: 'sealed_sender', context: slotSenderContext },
  { table: 'releases', id: 'id', column: 'body', context: releaseContext },
  { table: 'dkim_keys', id: 'selector', column: 'sealed_private_key', context: dkimContext },
  { table: 'statement_keys', id: 'id', column: 'sealed_private_key', context: statementKeyContext },
  {
    table: 'accounts',
    id: 'id',
    column: 'wrapped_secret',
    context: credential('account', 'wrapped-secret'),
    mayBeOpen: true,
  },
  {
    table: 'accounts',
    id: 'id',
    column: 'recovery_wrapped_secret',
    context: credential('account', 'recovery-wrapped-secret'),
    mayBeOpen: true,
  },
  {
    table: 'readers',
    id: 'id',
    column: 'wrapped_secret',
    context: credential('reader', 'wrapped-secret'),
    mayBeOpen: true,
  },
  {
    table: 'readers',
    id: 'id',
    column: 'sealed_private_key',
    context: credential('reader', 'private-key'),
    mayBeOpen: true,
  },
];

interface SealedText {
  table: string;
  column: string;
  /** The column as text, and the statement that sets it from $2. */ read: string;
  set: string;
  of: Owner;
  what: Credential;
}
const TEXTS: readonly SealedText[] = (['accounts', 'readers'] as const).flatMap((table): SealedText[] => {
  const of = table === 'accounts' ? 'account' : 'reader';
  return [
    { table, column: 'auth_hash', read: 'auth_hash', set: 'auth_hash = $2', of, what: 'auth-hash' },
    {
      table,
      column: 'hashing',
      read: `hashing->>'salt'`,
      set: `hashing = jsonb_set(hashing, '{salt}', to_jsonb($2::text))`,
      of,
      what: 'salt',
    },
    ...(of === 'account'
      ? [
          {
            table,
            column: 'recovery_auth_hash',
            read: 'recovery_auth_hash',
            set: 'recovery_auth_hash = $2',
            of,
            what: 'recovery-auth-hash',
          } as const,
        ]
      : []),
  ];
});

const LOT = 200;
/**
 * What a sealed text begins with when it is under the newest secret: the octets before the first that differs, in
 * base64url.
 */
const PREFIX_CHARACTERS = 6;

async function lotOfBytes(
  context: Context,
  { table, id, column, context: of, mayBeOpen = false, only = 'true' }: SealedColumn,
  transaction: Transaction,
): Promise<number> {
  const { secrets, db } = context;
  const found = await rows<{ id: string; sealed: Buffer }>(
    db,
    `SELECT ${id} AS id, ${column} AS sealed FROM ${table} WHERE ${column} IS NOT NULL AND substring(${column} FROM 1 FOR ${secrets.prefix.length}) <> $1 AND ${only} LIMIT ${LOT} FOR NO KEY UPDATE SKIP LOCKED`,
    [secrets.prefix],
    transaction,
  );
  for (const row of found) {
    const plain =
      mayBeOpen && !isSealedBytes(row.sealed)
        ? new Uint8Array(row.sealed)
        : await secrets.openBytes(row.sealed, of(row.id));
    await run(
      db,
      `UPDATE ${table} SET ${column} = $2 WHERE ${id} = $1`,
      [row.id, await secrets.sealBytes(plain, of(row.id))],
      transaction,
    );
  }
  return found.length;
}

async function lotOfTexts(
  context: Context,
  { table, column, read, set, of, what }: SealedText,
  transaction: Transaction,
): Promise<number> {
  const { secrets, db } = context;
  const prefix = `${SEALED}${secrets.prefix.toString('base64url').slice(0, PREFIX_CHARACTERS)}`;
  const found = await rows<{ id: string; text: string }>(
    db,
    `SELECT id, ${read} AS text FROM ${table} WHERE ${column} IS NOT NULL AND left(${read}, ${prefix.length}) <> $1 LIMIT ${LOT} FOR NO KEY UPDATE SKIP LOCKED`,
    [prefix],
    transaction,
  );
  for (const { id, text } of found) {
    const plain = await openedText(context, of, id, what, text);
    await run(
      db,
      `UPDATE ${table} SET ${set} WHERE id = $1`,
      [id, await sealedText(context, of, id, what, plain)],
      transaction,
    );
  }
  return found.length;
}

/**
 * How many values were brought under the newest secret; 0 when all are. @throws SealError when one is under a secret
 * that is not in force
 */
export async function reseal(context: Context): Promise<number> {
  let count = 0;
  const lots: ((transaction: Transaction) => Promise<number>)[] = [
    ...BYTES.map((one) => (transaction: Transaction) => lotOfBytes(context, one, transaction)),
    ...TEXTS.map((one) => (transaction: Transaction) => lotOfTexts(context, one, transaction)),
  ];
  for (const lot of lots) {
    for (let done = LOT; done > 0;) {
      done = await context.db.transaction(lot);
      count += done;
    }
  }
  if (count > 0) context.log.info('reseal', { count });
  return count;
}
