/**
 * Two roles for one database: its owner, who changes tables, and the one the server runs as, who changes rows. Neither
 * is a superuser.
 */
import { randomBytes } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';

/**
 * What an earlier version made as the superuser goes over to the owner. Indexes, and sequences that belong to a column,
 * follow their table.
 */
const HAND_OVER = `
  DO $$ DECLARE one record; BEGIN
    FOR one IN SELECT nspname AS name FROM pg_namespace WHERE nspname IN ('public', 'pgboss') LOOP
      EXECUTE format('ALTER SCHEMA %I OWNER TO %I', one.name, '<owner>');
    END LOOP;
    FOR one IN
      SELECT c.oid::regclass::text AS name, CASE c.relkind WHEN 'S' THEN 'SEQUENCE' WHEN 'v' THEN 'VIEW' ELSE 'TABLE' END AS kind
      FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace
      WHERE n.nspname IN ('public', 'pgboss') AND c.relkind IN ('r', 'p', 'S', 'v')
        AND NOT (c.relkind = 'S' AND EXISTS (SELECT 1 FROM pg_depend d WHERE d.objid = c.oid AND d.deptype IN ('a', 'i')))
    LOOP
      EXECUTE format('ALTER %s %s OWNER TO %I', one.kind, one.name, '<owner>');
    END LOOP;
    FOR one IN
      SELECT p.oid::regprocedure::text AS name FROM pg_proc p JOIN pg_namespace n ON n.oid = p.pronamespace
      WHERE n.nspname IN ('public', 'pgboss') AND NOT EXISTS (SELECT 1 FROM pg_depend d WHERE d.objid = p.oid AND d.deptype = 'e')
    LOOP
      EXECUTE format('ALTER FUNCTION %s OWNER TO %I', one.name, '<owner>');
    END LOOP;
    FOR one IN
      SELECT t.oid::regtype::text AS name FROM pg_type t JOIN pg_namespace n ON n.oid = t.typnamespace
      WHERE n.nspname IN ('public', 'pgboss') AND t.typtype = 'e'
    LOOP
      EXECUTE format('ALTER TYPE %s OWNER TO %I', one.name, '<owner>');
    END LOOP;
  END $$`;

/** Passwords of both, made once and kept beside the cluster's own. */
export function rolesIn(file, prefix = 'under_lock') {
  if (existsSync(file)) return JSON.parse(readFileSync(file, 'utf8'));
  const password = () => randomBytes(24).toString('base64url');
  const roles = {
    owner: { name: `${prefix}_owner`, password: password() },
    server: { name: `${prefix}_server`, password: password() },
  };
  writeFileSync(file, JSON.stringify(roles), { mode: 0o600 });
  return roles;
}

/**
 * Makes both roles where they are missing and gives the database to its owner.
 * @param superuserUrl of the database itself
 * @returns `{ ownerUrl, serverUrl, running }`: the addresses of the database for both, and the name of the one it
 *   runs as
 */
export async function ensureRoles(superuserUrl, { owner, server }) {
  const { default: pg } = await import('pg');
  const client = new pg.Client({ connectionString: superuserUrl });
  await client.connect();
  try {
    const database = client.escapeIdentifier(client.database);
    for (const { name, password } of [owner, server]) {
      const { rowCount } = await client.query('SELECT 1 FROM pg_roles WHERE rolname = $1', [name]);
      const rights = `LOGIN NOSUPERUSER NOCREATEDB NOCREATEROLE NOREPLICATION PASSWORD ${client.escapeLiteral(password)}`;
      await client.query(`${rowCount === 0 ? 'CREATE' : 'ALTER'} ROLE ${client.escapeIdentifier(name)} ${rights}`);
    }
    const [ownerName, serverName] = [owner.name, server.name].map((name) => client.escapeIdentifier(name));
    await client.query(`ALTER DATABASE ${database} OWNER TO ${ownerName}`);
    await client.query(`REVOKE ALL ON DATABASE ${database} FROM PUBLIC`);
    await client.query(`GRANT CONNECT ON DATABASE ${database} TO ${serverName}`);
    await client.query(HAND_OVER.replaceAll('<owner>', owner.name));
    await client.query('REVOKE ALL ON SCHEMA public FROM PUBLIC');
  } finally {
    await client.end();
  }
  const as = ({ name, password }) => Object.assign(new URL(superuserUrl), { username: name, password }).toString();
  return { ownerUrl: as(owner), serverUrl: as(server), running: server.name };
}
