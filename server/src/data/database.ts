import { defined } from '@under-lock/core/defined';
import { type QueryOptions, QueryTypes, Sequelize, type Transaction } from 'sequelize';

/** One pool a process. Statements go to the log only by their name, never with their values. */
export function connect(url: string, poolSize = 12): Sequelize {
  return new Sequelize(url, {
    dialect: 'postgres',
    logging: false,
    pool: { max: poolSize, min: 0, idle: 10_000, acquire: 20_000 },
    define: { timestamps: false, underscored: true },
    dialectOptions: { application_name: 'under-lock' },
  });
}

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
