/**
 * `npm run prepare-database`: brings the database up to date as its owner (`DATABASE_URL`), and says what the running
 * role (`UNDERLOCK_RUNNING_ROLE`) may do.
 */
import { prepareDatabase } from './prepare';

const { DATABASE_URL: url, UNDERLOCK_RUNNING_ROLE: role } = process.env;
if (url === undefined || role === undefined || role === '') {
  process.stderr.write(
    'Set DATABASE_URL to the role that owns the database, and UNDERLOCK_RUNNING_ROLE to the name of the one the server runs as.\n',
  );
  process.exit(2);
}
await prepareDatabase(url, role);
