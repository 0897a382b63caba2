import { AsyncLocalStorage } from 'node:async_hooks';
import { defined } from '@under-lock/core/defined';
import { type Client } from 'pg';
import {
  type Attributes,
  type Model,
  type ModelStatic,
  type QueryOptions,
  QueryTypes,
  Sequelize,
  type Transaction,
  type TransactionOptions,
} from 'sequelize';

/** One pool a process. Statements go to the log only by their name, never with their values. */
export function connect(url: string, poolSize = 12): Sequelize {
  const db = new Sequelize(url, {
    dialect: 'postgres',
    logging: false,
    pool: { max: poolSize, min: 0, idle: 10_000, acquire: 20_000 },
    define: { timestamps: false, underscored: true },
    dialectOptions: { application_name: 'under-lock' },
  });
  oneConnectionEach(db);
  return db;
}

/**
 * Whoever holds a connection for a transaction may not wait for another: as many transactions as there are connections
 * would each hold one and wait for ever. A statement inside of a transaction that leaves the transaction out throws at
 * its first use instead of stopping the house on a busy day. A transaction that is ended by hand is not watched.
 */
function oneConnectionEach(db: Sequelize): void {
  const held = new AsyncLocalStorage<{ open: boolean }>();
  const { connectionManager } = db;
  const getConnection = connectionManager.getConnection.bind(connectionManager);
  connectionManager.getConnection = async (options) => {
    if (held.getStore()?.open === true) throw new Error('A statement inside of a transaction left the transaction out');
    return getConnection(options);
  };
  const watched =
    (act: Act): Act =>
    (transaction) => {
      const holding = { open: true };
      return held.run(holding, async () => {
        try {
          return await act(transaction);
        } finally {
          holding.open = false;
        }
      });
    };
  const begin = db.transaction.bind(db) as (...given: (TransactionOptions | Act)[]) => Promise<unknown>;
  db.transaction = ((...given: (TransactionOptions | Act)[]) =>
    begin(...given.map((one) => (typeof one === 'function' ? watched(one) : one)))) as typeof db.transaction;
}

type Act = (transaction: Transaction) => PromiseLike<unknown>;

/** Rows of a SELECT (or a statement with RETURNING) with bound values. */
export async function rows<T extends object>(
  db: Sequelize,
  sql: string,
  bind: unknown[] = [],
  transaction?: Transaction,
): Promise<T[]> {
  const options: QueryOptions & { type: QueryTypes.SELECT } = {
    type: QueryTypes.SELECT,
    bind,
    ...defined({ transaction }),
  };
  return db.query<T>(sql, options);
}

/** A SELECT under a name of its own: no other statement of the house has it. */
export interface NamedStatement {
  name: string;
  sql: string;
}

/** A statement that names a model's columns: it is put together at its first use, when there are models. */
export function named(name: string, sql: () => string): () => NamedStatement {
  let statement: NamedStatement | undefined;
  return () => (statement ??= { name, sql: sql() });
}

/** A model's columns under the names of its fields; all of them, or these. */
export const columnsOf = <M extends Model>(
  model: ModelStatic<M>,
  table: string,
  fields: readonly (keyof Attributes<M> & string)[] = Object.keys(model.getAttributes()) as never,
): string => fields.map((field) => `${table}.${model.getAttributes()[field]!.field} AS "${field}"`).join(', ');

/**
 * Rows of a SELECT that is asked with every request: sent by its name, so that a connection parses and plans it once.
 * Measured on the session's: half of our processor's time, a quarter of the waiting. Names live in connections, so the
 * server needs connections of its own: a pooler that lends them out by transaction forgets the names.
 */
export async function askedOften<T extends object>(
  { connectionManager }: Sequelize,
  { name, sql }: NamedStatement,
  bind: unknown[],
): Promise<T[]> {
  const connection = (await connectionManager.getConnection({ type: 'read', useMaster: false })) as Client;
  try {
    return (await connection.query<T>({ name, text: sql, values: bind })).rows;
  } finally {
    connectionManager.releaseConnection(connection);
  }
}

/** Runs a statement with bound values and says how many rows it touched. */
export async function run(
  db: Sequelize,
  sql: string,
  bind: unknown[] = [],
  transaction?: Transaction,
): Promise<number> {
  const [, meta] = await db.query(sql, {
    type: QueryTypes.RAW,
    bind,
    ...defined({ transaction }),
  });
  return (meta as { rowCount?: number | null } | undefined)?.rowCount ?? 0;
}
