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
  {
    name: '004-presets-identity-colleagues',
    sql: `
      CREATE TABLE presets (
        id uuid PRIMARY KEY,
        position integer NOT NULL,
        name text NOT NULL,
        sentence text NOT NULL,
        terms jsonb NOT NULL,
        active boolean NOT NULL,
        is_default boolean NOT NULL,
        changed_at timestamptz NOT NULL,
        changed_by uuid REFERENCES accounts,
        CHECK (active OR NOT is_default)
      );
      CREATE UNIQUE INDEX presets_one_default ON presets (is_default) WHERE is_default;

      -- HPKE public key and its suite; the private half lies in the account's vault.
      ALTER TABLE accounts ADD COLUMN public_key bytea, ADD COLUMN key_suite integer, ADD CHECK ((public_key IS NULL) = (key_suite IS NULL));

      ALTER TABLE messages
        ADD COLUMN preset_id uuid,
        ADD COLUMN preset_name text NOT NULL DEFAULT '',
        ADD COLUMN thread_id uuid,
        ADD COLUMN in_reply_to uuid,
        -- Whose access this was written from, when its sender is a reader.
        ADD COLUMN sender_grant_id uuid REFERENCES grants;
      UPDATE messages SET thread_id = id,
        handling = handling || jsonb_build_object('question', false, 'watermark', false, 'audience', 'anyone', 'rights',
          '{"replyAll": false, "forward": false, "print": true, "copy": true}'::jsonb || (handling->'rights'));
      ALTER TABLE messages ALTER COLUMN thread_id SET NOT NULL;
      CREATE INDEX messages_of_thread ON messages (thread_id, sent_at);
      DROP INDEX messages_sent_list;
      CREATE INDEX messages_sent_list ON messages (account_id, sent_at DESC, id DESC) WHERE sender_grant_id IS NULL;

      ALTER TABLE grants
        ADD COLUMN reader_kind text NOT NULL DEFAULT 'link' CHECK (reader_kind IN ('link', 'account')),
        ADD COLUMN reader_account_id uuid REFERENCES accounts,
        ADD COLUMN arrived_at timestamptz,
        -- The reader's share sealed to the reader's account key.
        ADD COLUMN sealed_share bytea,
        -- What a list may show, sealed under a key from the share.
        ADD COLUMN sealed_summary bytea,
        -- The shared question, sealed under a key from the reader's share, and a keyed hash of the answer's proof.
        ADD COLUMN question bytea,
        ADD COLUMN answer_hash bytea,
        ADD COLUMN passcode_spent integer NOT NULL DEFAULT 0,
        ADD COLUMN other_way_at timestamptz,
        ADD COLUMN other_way text,
        ADD COLUMN unread boolean NOT NULL DEFAULT true,
        DROP CONSTRAINT grants_check2,
        ALTER COLUMN proof_hash DROP NOT NULL;
      ALTER TABLE grants
        ADD CONSTRAINT grants_way CHECK (CASE WHEN state = 'held' THEN (check_kind IN ('email', 'voice', 'text')) = (channel IS NOT NULL) ELSE channel IS NULL AND question IS NULL AND answer_hash IS NULL AND sealed_share IS NULL AND sealed_summary IS NULL END),
        ADD CONSTRAINT grants_question CHECK ((question IS NULL) = (answer_hash IS NULL) AND (state <> 'held' OR check_kind <> 'question' OR question IS NOT NULL)),
        ADD CONSTRAINT grants_reader CHECK (CASE reader_kind WHEN 'account' THEN reader_account_id IS NOT NULL AND check_kind = 'account' AND proof_hash IS NULL AND (state <> 'held' OR (sealed_share IS NOT NULL AND sealed_summary IS NOT NULL))
          ELSE proof_hash IS NOT NULL AND sealed_share IS NULL AND check_kind <> 'account' END);
      -- Mail › Received, newest first, by cursor.
      CREATE INDEX grants_received ON grants (reader_account_id, arrived_at DESC, id DESC) WHERE reader_kind = 'account';

      ALTER TABLE grants ADD COLUMN language text NOT NULL DEFAULT 'en';

      -- Replies: uploaded and written from an access. The writer's own key is sealed under a key from their share.
      ALTER TABLE blobs ADD COLUMN grant_id uuid REFERENCES grants ON DELETE CASCADE;
      CREATE INDEX blobs_of_grant ON blobs (grant_id) WHERE grant_id IS NOT NULL;
      -- Whose access this one was passed on from; it ends with that one.
      ALTER TABLE grants ADD COLUMN parent_id uuid REFERENCES grants;
      CREATE INDEX grants_of_parent ON grants (parent_id) WHERE parent_id IS NOT NULL;

      -- Taken from the preset at sending: a mail to the sender at each reader's first opening, and a reminder that many hours before closing.
      ALTER TABLE messages ADD COLUMN receipt boolean NOT NULL DEFAULT false, ADD COLUMN remind_hours integer NOT NULL DEFAULT 0;
      ALTER TABLE grants ADD COLUMN reminded_at timestamptz;

      ALTER TABLE messages ADD COLUMN own_key bytea, ADD COLUMN to_all boolean NOT NULL DEFAULT false;
      CREATE INDEX messages_of_grant ON messages (sender_grant_id, sent_at) WHERE sender_grant_id IS NOT NULL;
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
