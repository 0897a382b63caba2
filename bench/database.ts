import { randomUUID } from 'node:crypto';
import pg from 'pg';

/** A database of its own on the test cluster. */
export async function freshDatabase(): Promise<string> {
  const cluster = process.env.UNDERLOCK_TEST_CLUSTER;
  if (cluster === undefined) throw new Error('UNDERLOCK_TEST_CLUSTER is not set; run npm run bench');
  const name = `bench_${randomUUID().replaceAll('-', '')}`;
  const client = new pg.Client({ connectionString: cluster });
  await client.connect();
  await client.query(`CREATE DATABASE ${name}`);
  await client.end();
  return cluster.replace(/\/[^/]*$/, `/${name}`);
}
