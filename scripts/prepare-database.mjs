/**
 * `npm run prepare-database`: for a PostgreSQL of your own, run as the role that owns the database before each new
 * version.
 */
import { at } from './ground/paths.mjs';
import { run } from './ground/run.mjs';
import { buildServer } from './ground/build.mjs';

await buildServer();
process.exitCode = await run(process.execPath, [at('dist/prepare.mjs')]);
