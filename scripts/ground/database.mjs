import { ensureDatabase } from './cluster.mjs';
import { at } from './paths.mjs';
import { ensureRoles, rolesIn } from './roles.mjs';
import { mustRun } from './run.mjs';

/**
 * The database of our own cluster, made and brought up to date by its owner.
 * @returns the settings of whoever uses it from then on
 */
export async function preparedDatabase(cluster, name) {
  await ensureDatabase(cluster, name);
  const { ownerUrl, serverUrl, running } = await ensureRoles(
    cluster.url(name),
    rolesIn(`${cluster.home}/pg-roles.json`),
  );
  await mustRun(process.execPath, [at('dist/prepare.mjs')], {
    env: { ...process.env, DATABASE_URL: ownerUrl, UNDERLOCK_RUNNING_ROLE: running },
  });
  return { DATABASE_URL: serverUrl, UNDERLOCK_MIGRATE: 'no' };
}
