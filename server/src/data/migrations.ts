/** The database, step by step. A step that has landed is never edited. */
import { type Sequelize } from 'sequelize';
import { SequelizeStorage, Umzug } from 'umzug';

interface Step {
  name: string;
  sql: string;
}

const steps: Step[] = [
  {
    name: '001-accounts',
    sql: `
      CREATE TABLE accounts (
        id uuid PRIMARY KEY,
        address text NOT NULL,
        address_key text NOT NULL UNIQUE,
        name text NOT NULL,
        title text NOT NULL,
        phone text,
        role text NOT NULL CHECK (role IN ('worker', 'administrator')),
        -- All null until the account is set up; the invitation is null from then on.
        hashing jsonb,
        auth_hash text,
        wrapped_secret bytea,
        recovery_auth_hash text,
        recovery_wrapped_secret bytea,
        invitation_hash bytea UNIQUE,
        invitation_until timestamptz,
        created_at timestamptz NOT NULL,
        CHECK ((auth_hash IS NULL) = (wrapped_secret IS NULL) AND (auth_hash IS NULL) = (recovery_wrapped_secret IS NULL)),
        CHECK (auth_hash IS NULL OR invitation_hash IS NULL)
      );
      CREATE TABLE sessions (
        id uuid PRIMARY KEY,
        token_hash bytea NOT NULL UNIQUE,
        account_id uuid NOT NULL REFERENCES accounts ON DELETE CASCADE,
        device text NOT NULL,
        created_at timestamptz NOT NULL,
        last_seen_at timestamptz NOT NULL
      );
      CREATE INDEX sessions_of_account ON sessions (account_id);
      CREATE TABLE throttles (
        key bytea PRIMARY KEY,
        failures integer NOT NULL,
        blocked_until timestamptz NOT NULL
      );
      CREATE INDEX throttles_stale ON throttles (blocked_until);
    `,
  },
  {
    name: '002-vault-and-blobs',
    sql: `
      CREATE TABLE vault_items (
        account_id uuid NOT NULL REFERENCES accounts ON DELETE CASCADE,
        kind text NOT NULL,
        id uuid NOT NULL,
        revision integer NOT NULL,
        updated_at timestamptz NOT NULL,
        sealed bytea NOT NULL,
        PRIMARY KEY (account_id, kind, id)
      );
      CREATE TABLE blobs (
        id uuid PRIMARY KEY,
        account_id uuid NOT NULL REFERENCES accounts ON DELETE CASCADE,
        size bigint NOT NULL,
        created_at timestamptz NOT NULL
      );
      CREATE INDEX blobs_of_account ON blobs (account_id);
      CREATE TABLE blob_parts (
        blob_id uuid NOT NULL REFERENCES blobs ON DELETE CASCADE,
        index integer NOT NULL,
        bytes bytea NOT NULL,
        PRIMARY KEY (blob_id, index)
      );
      -- Sealed bytes don't compress; storing them out of line untouched is the fast path.
      ALTER TABLE blob_parts ALTER COLUMN bytes SET STORAGE EXTERNAL;
    `,
  },
  {
    name: '003-messages-and-grants',
    sql: `
      CREATE TABLE messages (
        id uuid PRIMARY KEY,
        account_id uuid NOT NULL REFERENCES accounts,
        -- Null once the content has been purged.
        content_blob_id uuid UNIQUE REFERENCES blobs ON DELETE SET NULL,
        reference text NOT NULL,
        handling jsonb NOT NULL,
        size bigint NOT NULL,
        sent_at timestamptz NOT NULL,
        -- What the dispatch said, so that a repeated one is told from a different one.
        request_digest bytea NOT NULL
      );
      -- Mail › Sent, newest first, by cursor.
      CREATE INDEX messages_sent_list ON messages (account_id, sent_at DESC, id DESC);
      CREATE TABLE grants (
        id uuid PRIMARY KEY,
        message_id uuid NOT NULL REFERENCES messages ON DELETE CASCADE,
        account_id uuid NOT NULL REFERENCES accounts,
        position integer NOT NULL,
        address text NOT NULL,
        name text NOT NULL,
        role text NOT NULL CHECK (role IN ('to', 'cc')),
        state text NOT NULL CHECK (state IN ('held', 'closed', 'withdrawn')),
        closes_at timestamptz NOT NULL,
        ended_at timestamptz,
        replaced_by uuid,
        house_share bytea,
        wrapped_key bytea,
        proof_hash bytea NOT NULL,
        check_kind text NOT NULL,
        check_hint text NOT NULL,
        channel bytea,
        notice_state text NOT NULL DEFAULT 'waiting',
        notice_at timestamptz,
        notice_answer text,
        open_count integer NOT NULL DEFAULT 0,
        first_opened_at timestamptz,
        last_opened_at timestamptz,
        wrong_tries integer NOT NULL DEFAULT 0,
        not_for_me_at timestamptz,
        passcode_hash bytea,
        passcode_sent_at timestamptz,
        passcode_wrong integer NOT NULL DEFAULT 0,
        passcode_pauses integer NOT NULL DEFAULT 0,
        passcode_paused_until timestamptz,
        -- An access that has ended holds no means to open anything.
        CHECK ((state = 'held') = (house_share IS NOT NULL)),
        CHECK ((house_share IS NULL) = (wrapped_key IS NULL)),
        CHECK ((state = 'held') = (channel IS NOT NULL)),
        CHECK ((state = 'held') = (ended_at IS NULL)),
        CHECK (state = 'held' OR passcode_hash IS NULL)
      );
      CREATE INDEX grants_of_message ON grants (message_id, position);
      -- The desk, and closing what is due.
      CREATE INDEX grants_held_of_account ON grants (account_id, closes_at) WHERE state = 'held';
      CREATE INDEX grants_held_due ON grants (closes_at) WHERE state = 'held';
      CREATE TABLE reader_sessions (
        token_hash bytea PRIMARY KEY,
        grant_id uuid NOT NULL REFERENCES grants ON DELETE CASCADE,
        expires_at timestamptz NOT NULL,
        counted boolean NOT NULL DEFAULT false
      );
      CREATE INDEX reader_sessions_of_grant ON reader_sessions (grant_id);
      CREATE INDEX reader_sessions_expired ON reader_sessions (expires_at);
      CREATE TABLE outbox (
        id uuid PRIMARY KEY,
        grant_id uuid NOT NULL REFERENCES grants ON DELETE CASCADE,
        created_at timestamptz NOT NULL,
        -- The reader's share, sealed at rest; wiped with the delivery or its end.
        sealed_share bytea,
        state text NOT NULL CHECK (state IN ('waiting', 'delivered', 'failed', 'cancelled')),
        leased_until timestamptz,
        attempts integer NOT NULL DEFAULT 0,
        message_id_header text NOT NULL,
        sha256 bytea,
        delivered_at timestamptz,
        CHECK ((state = 'waiting') = (sealed_share IS NOT NULL))
      );
      CREATE INDEX outbox_of_grant ON outbox (grant_id, created_at);
      CREATE TABLE events (
        id uuid PRIMARY KEY,
        message_id uuid NOT NULL REFERENCES messages ON DELETE CASCADE,
        grant_id uuid REFERENCES grants ON DELETE CASCADE,
        at timestamptz NOT NULL,
        kind text NOT NULL,
        data jsonb NOT NULL DEFAULT '{}'
      );
      CREATE INDEX events_of_message ON events (message_id, at DESC);
    `,
  },
];

/** Brings the database up to date; safe to call from several processes at once (an advisory lock lets one go first). */
export async function migrate(db: Sequelize): Promise<void> {
  const umzug = new Umzug({
    migrations: steps.map(({ name, sql }) => ({ name, up: async () => void (await db.query(sql)) })),
    storage: new SequelizeStorage({ sequelize: db, tableName: 'migrations' }),
    logger: undefined,
  });
  await db.transaction(async (transaction) => {
    await db.query('SELECT pg_advisory_xact_lock(8420)', { transaction });
    await umzug.up();
  });
}
