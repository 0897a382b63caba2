/** The database, step by step. A step that has landed is never edited. */
import { type Sequelize } from 'sequelize';
import { SequelizeStorage, Umzug } from 'umzug';

interface Step {
  name: string;
  sql: string;
}

type Statement = 'INSERT' | 'UPDATE' | 'DELETE';

/** Triggers that hand a statement's rows, as `changed`, to a function. Of step 020, and so never edited either. */
const noted = (tables: [table: string, call: string, statements?: Statement[]][]): string =>
  tables
    .flatMap(([table, call, statements = ['INSERT', 'UPDATE', 'DELETE']]) =>
      statements.map(
        (statement) => `      CREATE TRIGGER ${table}_noted_${statement.toLowerCase()} AFTER ${statement} ON ${table}
        REFERENCING ${statement === 'DELETE' ? 'OLD' : 'NEW'} TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION ${call};`,
      ),
    )
    .join('\n');

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
  {
    name: '005-registered-readers',
    sql: `
      -- Outsiders with a password of their own. The server can open nothing of it, as with staff.
      CREATE TABLE readers (
        id uuid PRIMARY KEY,
        address text NOT NULL,
        address_key text NOT NULL UNIQUE,
        name text NOT NULL,
        language text NOT NULL,
        hashing jsonb NOT NULL,
        auth_hash text NOT NULL,
        wrapped_secret bytea NOT NULL,
        public_key bytea NOT NULL,
        key_suite integer NOT NULL,
        sealed_private_key bytea NOT NULL,
        -- The strongest identity check they have passed; null since their password was reset by mail alone.
        known_by text CHECK (known_by IN ('question', 'email', 'voice', 'text')),
        since timestamptz NOT NULL
      );
      CREATE TABLE reader_sign_ins (
        token_hash bytea PRIMARY KEY,
        reader_id uuid NOT NULL REFERENCES readers ON DELETE CASCADE,
        created_at timestamptz NOT NULL,
        last_seen_at timestamptz NOT NULL
      );
      CREATE INDEX reader_sign_ins_of_reader ON reader_sign_ins (reader_id);
      CREATE INDEX reader_sign_ins_stale ON reader_sign_ins (last_seen_at);
      -- Six digits that prove a mailbox; its key is a keyed hash of the address, so that the table names nobody.
      CREATE TABLE mailbox_codes (
        key bytea PRIMARY KEY,
        code_hash bytea,
        sent_at timestamptz,
        asked_at timestamptz NOT NULL,
        wrong integer NOT NULL DEFAULT 0,
        pauses integer NOT NULL DEFAULT 0,
        paused_until timestamptz,
        spent integer NOT NULL DEFAULT 0
      );
      CREATE INDEX mailbox_codes_stale ON mailbox_codes (asked_at);
      -- What a sign-in has opened ends with it.
      ALTER TABLE reader_sessions ADD COLUMN sign_in_hash bytea REFERENCES reader_sign_ins ON DELETE CASCADE;
      CREATE INDEX reader_sessions_of_sign_in ON reader_sessions (sign_in_hash) WHERE sign_in_hash IS NOT NULL;

      ALTER TABLE grants
        ADD COLUMN reader_id uuid REFERENCES readers ON DELETE SET NULL,
        ADD COLUMN removed_at timestamptz,
        -- The password its share was sealed under is forgotten: nobody can open it until it is given again.
        ADD COLUMN lost_at timestamptz,
        ADD COLUMN give_again_asked_at timestamptz,
        DROP CONSTRAINT grants_reader_kind_check,
        DROP CONSTRAINT grants_reader;
      ALTER TABLE grants
        ADD CONSTRAINT grants_reader_kind_check CHECK (reader_kind IN ('link', 'account', 'registered')),
        ADD CONSTRAINT grants_reader CHECK (CASE reader_kind
          WHEN 'account' THEN reader_account_id IS NOT NULL AND check_kind = 'account' AND proof_hash IS NULL AND (state <> 'held' OR (sealed_share IS NOT NULL AND sealed_summary IS NOT NULL))
          WHEN 'registered' THEN check_kind = 'password' AND proof_hash IS NULL AND (state <> 'held' OR lost_at IS NOT NULL OR (reader_id IS NOT NULL AND sealed_share IS NOT NULL AND sealed_summary IS NOT NULL))
          ELSE proof_hash IS NOT NULL AND check_kind NOT IN ('account', 'password') AND (sealed_share IS NULL) = (sealed_summary IS NULL) END);
      -- A registered reader's list, by each order it can have, and by sender.
      CREATE INDEX grants_list_arrived ON grants (reader_id, arrived_at DESC, id DESC) WHERE reader_id IS NOT NULL AND removed_at IS NULL;
      CREATE INDEX grants_list_closing ON grants (reader_id, closes_at, id) WHERE reader_id IS NOT NULL AND removed_at IS NULL;
      CREATE INDEX grants_list_sender ON grants (reader_id, account_id, arrived_at DESC, id DESC) WHERE reader_id IS NOT NULL AND removed_at IS NULL;
      CREATE INDEX grants_list_sender_closing ON grants (reader_id, account_id, closes_at, id) WHERE reader_id IS NOT NULL AND removed_at IS NULL;
      CREATE INDEX grants_list_unread ON grants (reader_id) WHERE reader_id IS NOT NULL AND removed_at IS NULL AND unread AND state = 'held';
      -- Whoever registers finds what is held for their address.
      CREATE INDEX grants_held_for_address ON grants (lower(address)) WHERE state = 'held';

      -- Messages a registered reader began, with the content key sealed to their own key.
      ALTER TABLE messages ADD COLUMN sender_reader_id uuid REFERENCES readers ON DELETE SET NULL, ADD COLUMN own_summary bytea;
      CREATE INDEX messages_of_reader ON messages (sender_reader_id, sent_at DESC) WHERE sender_reader_id IS NOT NULL;
      UPDATE grants SET arrived_at = coalesce(notice_at, (SELECT sent_at FROM messages m WHERE m.id = message_id)) WHERE arrived_at IS NULL;
    `,
  },
  {
    name: '006-notices-and-statements',
    sql: `
      -- Each change of the office's words and colour; the newest counts, the older ones show what left before.
      CREATE TABLE notice_looks (
        id uuid PRIMARY KEY,
        changed_at timestamptz NOT NULL,
        changed_by uuid REFERENCES accounts,
        look jsonb NOT NULL
      );
      CREATE INDEX notice_looks_newest ON notice_looks (changed_at DESC);
      ALTER TABLE outbox ADD COLUMN look_id uuid REFERENCES notice_looks;
      CREATE TABLE dkim_keys (
        selector text PRIMARY KEY,
        created_at timestamptz NOT NULL,
        replaced_at timestamptz,
        public_key bytea NOT NULL,
        -- Sealed under the server's secret.
        sealed_private_key bytea NOT NULL
      );
      CREATE TABLE statement_keys (
        -- The SHA-256 thumbprint of the public key (RFC 7638).
        id text PRIMARY KEY,
        created_at timestamptz NOT NULL,
        public_jwk jsonb NOT NULL,
        sealed_private_key bytea NOT NULL
      );
      CREATE UNIQUE INDEX dkim_keys_one_in_use ON dkim_keys ((true)) WHERE replaced_at IS NULL;
    `,
  },
  {
    name: '007-certificates',
    sql: `
      CREATE TABLE trust_anchors (
        id uuid PRIMARY KEY,
        -- SHA-256 in hex.
        fingerprint text NOT NULL UNIQUE,
        certificate bytea NOT NULL,
        added_at timestamptz NOT NULL,
        added_by uuid REFERENCES accounts
      );
      -- What the office's authority has issued to our accounts: public halves only, the keys lie in the vaults.
      CREATE TABLE certificates (
        fingerprint text PRIMARY KEY,
        account_id uuid NOT NULL REFERENCES accounts,
        certificate bytea NOT NULL,
        serial text NOT NULL,
        not_after timestamptz NOT NULL,
        issued_at timestamptz NOT NULL,
        revoked_at timestamptz,
        revoke_reason text,
        CHECK ((revoked_at IS NULL) = (revoke_reason IS NULL))
      );
      CREATE INDEX certificates_of_account ON certificates (account_id, issued_at DESC);
      -- Fetched for browsers to judge by; null bytes: could not be had.
      CREATE TABLE evidence (
        key text PRIMARY KEY,
        kind text NOT NULL CHECK (kind IN ('list', 'answer', 'issuer')),
        url text NOT NULL,
        bytes bytea,
        fetched_at timestamptz NOT NULL,
        fresh_until timestamptz NOT NULL
      );
      CREATE INDEX evidence_stale ON evidence (fetched_at);

      UPDATE messages SET handling = handling || '{"copies": false}';
      UPDATE presets SET terms = terms || '{"copies": false}';
      -- What left as a mail of its own, encrypted or signed in the sender's browser: it can't be closed or withdrawn.
      CREATE TABLE copies (
        id uuid PRIMARY KEY,
        message_id uuid NOT NULL REFERENCES messages ON DELETE CASCADE,
        account_id uuid NOT NULL REFERENCES accounts,
        lock text NOT NULL CHECK (lock IN ('certificate')),
        -- The mail exactly as it leaves; null once everybody has it, or nobody will.
        blob_id uuid UNIQUE REFERENCES blobs ON DELETE SET NULL,
        sha256 bytea NOT NULL,
        size bigint NOT NULL,
        leaves_at timestamptz NOT NULL
      );
      CREATE INDEX copies_of_message ON copies (message_id);
      CREATE TABLE copy_recipients (
        id uuid PRIMARY KEY,
        copy_id uuid NOT NULL REFERENCES copies ON DELETE CASCADE,
        position integer NOT NULL,
        address text NOT NULL,
        name text NOT NULL,
        role text NOT NULL CHECK (role IN ('to', 'cc')),
        state text NOT NULL CHECK (state IN ('waiting', 'accepted', 'junk', 'refused', 'bounced')),
        at timestamptz,
        answer text,
        attempts integer NOT NULL DEFAULT 0,
        leased_until timestamptz
      );
      CREATE INDEX copy_recipients_of_copy ON copy_recipients (copy_id, position);
    `,
  },
  {
    name: '008-incoming-mail',
    sql: `
      -- Further addresses of an account, as keys: a list's, an office's, a role's.
      ALTER TABLE accounts ADD COLUMN further jsonb NOT NULL DEFAULT '[]';
      CREATE INDEX accounts_by_further ON accounts USING gin (further jsonb_path_ops);
      -- Which of their addresses the sender wrote from; their main one without it.
      ALTER TABLE messages ADD COLUMN sender_address text;
      -- The Message-ID a copy left under: what an answer names.
      ALTER TABLE copies ADD COLUMN mail_id text NOT NULL DEFAULT '';
      CREATE INDEX copies_by_mail_id ON copies (account_id, mail_id) WHERE mail_id <> '';
      CREATE INDEX outbox_by_message_id ON outbox (message_id_header);
      -- A request asks somebody for a signed message, so that their certificate comes with the answer.
      ALTER TABLE messages ADD COLUMN purpose text NOT NULL DEFAULT 'message' CHECK (purpose IN ('message', 'request'));
      UPDATE messages SET handling = handling || '{"clear": false}';
      UPDATE presets SET terms = terms || '{"clear": false}';
      -- What it may be used for, and the latest reminder given, in days before its end.
      ALTER TABLE certificates ADD COLUMN purpose text NOT NULL DEFAULT 'both' CHECK (purpose IN ('sign', 'encrypt', 'both')), ADD COLUMN reminded_days integer;
      CREATE INDEX certificates_running_out ON certificates (not_after) WHERE revoked_at IS NULL;
      CREATE INDEX messages_requests ON messages (account_id, sent_at DESC) WHERE purpose = 'request';
      -- Mail that came by SMTP, sealed to its account at the door.
      CREATE TABLE incoming (
        id uuid PRIMARY KEY,
        account_id uuid NOT NULL REFERENCES accounts,
        arrived_at timestamptz NOT NULL,
        blob_id uuid NOT NULL UNIQUE REFERENCES blobs ON DELETE CASCADE,
        size bigint NOT NULL,
        unread boolean NOT NULL DEFAULT true,
        -- The content's key sealed to the account, and what a list shows, sealed under that.
        sealed_key bytea NOT NULL,
        sealed_summary bytea NOT NULL,
        -- Keyed hashes: of the whole mail, so that a second try is no second mail, and of its Message-ID.
        digest bytea NOT NULL,
        mail_id_hash bytea,
        thread_id uuid NOT NULL,
        request_id uuid REFERENCES messages ON DELETE SET NULL,
        UNIQUE (account_id, digest)
      );
      CREATE INDEX incoming_list ON incoming (account_id, arrived_at DESC, id DESC);
      CREATE INDEX incoming_unread ON incoming (account_id) WHERE unread;
      CREATE INDEX incoming_of_thread ON incoming (account_id, thread_id);
      CREATE INDEX copy_recipients_failed ON copy_recipients (at) WHERE state IN ('refused', 'bounced');
      CREATE INDEX incoming_by_mail_id ON incoming (account_id, mail_id_hash) WHERE mail_id_hash IS NOT NULL;
    `,
  },
  {
    name: '009-openpgp',
    sql: `
      ALTER TABLE copies DROP CONSTRAINT copies_lock_check, ADD CONSTRAINT copies_lock_check CHECK (lock IN ('certificate', 'openpgp'));
      -- It answers something of ours, and a key or a certificate seems to come along.
      ALTER TABLE incoming ADD COLUMN brings_means boolean NOT NULL DEFAULT false;
      CREATE INDEX incoming_answers ON incoming (account_id, arrived_at DESC) WHERE unread AND (request_id IS NOT NULL OR brings_means);
      -- Public keys of the office's people, served by Web Key Directory under the hash of each address.
      CREATE TABLE openpgp_published (
        fingerprint text PRIMARY KEY,
        account_id uuid NOT NULL REFERENCES accounts,
        key bytea NOT NULL,
        -- Of every address on it, as the directory names them.
        hashes jsonb NOT NULL,
        revoked boolean NOT NULL,
        published_at timestamptz NOT NULL
      );
      CREATE INDEX openpgp_published_by_hash ON openpgp_published USING gin (hashes jsonb_path_ops);
      CREATE INDEX openpgp_published_by_account ON openpgp_published (account_id);
      -- Keys whose word the office takes for whose a key is.
      CREATE TABLE openpgp_trust (
        id uuid PRIMARY KEY,
        fingerprint text NOT NULL UNIQUE,
        key bytea NOT NULL,
        added_at timestamptz NOT NULL,
        added_by uuid REFERENCES accounts
      );
    `,
  },
  {
    name: '010-locked-files',
    sql: `
      ALTER TABLE copies DROP CONSTRAINT copies_lock_check, ADD CONSTRAINT copies_lock_check CHECK (lock IN ('certificate', 'openpgp', 'file'));
      UPDATE messages SET handling = handling || '{"textOpen": false}';
      UPDATE presets SET terms = terms || '{"textOpen": false}';
      -- What the office says about locked files: each change a row, the newest is in force.
      CREATE TABLE file_rules (
        id uuid PRIMARY KEY,
        changed_at timestamptz NOT NULL,
        changed_by uuid REFERENCES accounts,
        rules jsonb NOT NULL
      );
      CREATE INDEX file_rules_newest ON file_rules (changed_at DESC, id);
    `,
  },
  {
    name: '011-carried-pages',
    sql: `
      -- The content of this access travels as a file with its notice; and the ending that file had, where gateways refuse the usual one.
      ALTER TABLE grants ADD COLUMN carried boolean NOT NULL DEFAULT false;
      ALTER TABLE outbox ADD COLUMN extension text;
    `,
  },
  {
    name: '012-mends',
    sql: `
      -- What is to leave is judged once nothing is written to it any more.
      ALTER TABLE blobs ADD COLUMN frozen_at timestamptz;

      ALTER TABLE accounts ADD COLUMN ended_at timestamptz;
      -- What happened in the office apart from its messages; written with what it tells of, and never changed.
      CREATE TABLE office_log (
        id uuid PRIMARY KEY,
        at timestamptz NOT NULL,
        kind text NOT NULL,
        actor_kind text NOT NULL CHECK (actor_kind IN ('account', 'reader', 'nobody', 'operator')),
        actor_id uuid,
        about jsonb NOT NULL
      );
      CREATE INDEX office_log_newest ON office_log (at DESC, id DESC);
      CREATE FUNCTION refuse_change() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN RAISE EXCEPTION 'The log is only ever added to'; END $$;
      CREATE TRIGGER office_log_unchanged BEFORE UPDATE OR DELETE ON office_log FOR EACH ROW EXECUTE FUNCTION refuse_change();

      -- The latest line of a kind, for what is told with its number.
      CREATE INDEX events_of_grant ON events (grant_id, kind, at DESC) WHERE grant_id IS NOT NULL;

      -- Endings on their way into the journal outside of the database.
      CREATE TABLE endings_to_journal (
        access uuid PRIMARY KEY,
        state text NOT NULL,
        at timestamptz NOT NULL
      );
      -- What ended is to be gone from the tables' files soon: shares and channels are in dead rows until they are vacuumed.
      ALTER TABLE grants SET (autovacuum_vacuum_scale_factor = 0.01, autovacuum_vacuum_threshold = 50);
      ALTER TABLE outbox SET (autovacuum_vacuum_scale_factor = 0.01, autovacuum_vacuum_threshold = 50);

      -- What each vault holds, kept by the database itself, whichever way items come and go.
      CREATE TABLE vault_usage (
        account_id uuid PRIMARY KEY REFERENCES accounts ON DELETE CASCADE,
        bytes bigint NOT NULL,
        items integer NOT NULL
      );
      INSERT INTO vault_usage SELECT account_id, sum(octet_length(sealed)), count(*) FROM vault_items GROUP BY account_id;
      CREATE FUNCTION count_vault_usage() RETURNS trigger LANGUAGE plpgsql AS $$
        DECLARE
          owner uuid := CASE WHEN TG_OP = 'DELETE' THEN OLD.account_id ELSE NEW.account_id END;
          more bigint := CASE WHEN TG_OP = 'DELETE' THEN 0 ELSE octet_length(NEW.sealed) END - CASE WHEN TG_OP = 'INSERT' THEN 0 ELSE octet_length(OLD.sealed) END;
          many integer := CASE TG_OP WHEN 'INSERT' THEN 1 WHEN 'DELETE' THEN -1 ELSE 0 END;
        BEGIN
          UPDATE vault_usage SET bytes = bytes + more, items = items + many WHERE account_id = owner;
          IF NOT FOUND AND TG_OP <> 'DELETE' THEN
            INSERT INTO vault_usage (account_id, bytes, items) VALUES (owner, more, many)
              ON CONFLICT (account_id) DO UPDATE SET bytes = vault_usage.bytes + EXCLUDED.bytes, items = vault_usage.items + EXCLUDED.items;
          END IF;
          RETURN NULL;
        END $$;
      CREATE TRIGGER vault_items_usage AFTER INSERT OR UPDATE OR DELETE ON vault_items FOR EACH ROW EXECUTE FUNCTION count_vault_usage();
    `,
  },
  {
    name: '013-open-reason',
    sql: `ALTER TABLE messages ADD COLUMN open_reason text;`,
  },
  {
    name: '014-unseen',
    sql: `
      -- Written to unseen by the others.
      ALTER TABLE grants DROP CONSTRAINT grants_role_check, ADD CONSTRAINT grants_role_check CHECK (role IN ('to', 'cc', 'bcc'));
      ALTER TABLE copy_recipients DROP CONSTRAINT copy_recipients_role_check, ADD CONSTRAINT copy_recipients_role_check CHECK (role IN ('to', 'cc', 'bcc'));
    `,
  },
  {
    name: '015-manifests',
    sql: `
      -- Which items a kind has and of which revision, sealed by the browser; written in the transaction of every change.
      CREATE TABLE vault_manifests (
        account_id uuid NOT NULL REFERENCES accounts ON DELETE CASCADE,
        kind text NOT NULL,
        revision integer NOT NULL,
        sealed bytea NOT NULL,
        PRIMARY KEY (account_id, kind)
      );
    `,
  },
  {
    name: '016-told-by-mail',
    sql: `
      -- Whether somebody of the office wants to be told by mail that something is held for them, and when they last were.
      ALTER TABLE accounts ADD COLUMN told_by_mail boolean NOT NULL DEFAULT true, ADD COLUMN told_at timestamptz;
    `,
  },
  {
    name: '017-any-lock',
    sql: `
      -- Which locks there are is said in one place only, the list of locks; the door refuses every other name.
      ALTER TABLE copies DROP CONSTRAINT copies_lock_check;
    `,
  },
  {
    name: '018-preset-versions',
    sql: `
      -- A preset as it was at each change: a message keeps the one it went under, also when the preset is changed or
      -- removed. One that binds what is held counts for new acts on messages from before it, too.
      CREATE TABLE preset_versions (
        id uuid PRIMARY KEY,
        preset_id uuid NOT NULL,
        number integer NOT NULL,
        name text NOT NULL,
        terms jsonb NOT NULL,
        changed_at timestamptz NOT NULL,
        changed_by uuid REFERENCES accounts,
        binds_held boolean NOT NULL,
        UNIQUE (preset_id, number)
      );
      INSERT INTO preset_versions (id, preset_id, number, name, terms, changed_at, changed_by, binds_held)
        SELECT gen_random_uuid(), id, 1, name, terms, changed_at, changed_by, false FROM presets;
      ALTER TABLE messages ADD COLUMN preset_version uuid REFERENCES preset_versions;
      UPDATE messages m SET preset_version = v.id FROM preset_versions v WHERE v.preset_id = m.preset_id;
      -- What was sent under a preset that is gone is held to nothing of it, as before.
      ALTER TABLE messages DROP COLUMN preset_id;
    `,
  },
  {
    name: '019-words',
    sql: `
      -- What a message is found by, sealed as its summary is: for the vault of whoever sent it, or under the mail's key.
      ALTER TABLE messages ADD COLUMN sealed_words bytea;
      ALTER TABLE incoming ADD COLUMN sealed_words bytea;
    `,
  },
  {
    name: '020-changes',
    sql: `
      -- What changed, for whoever shows it: about an account, or about the whole office (all zeros). Only ever added to;
      -- the newest line of an account stays, older ones go after an hour.
      CREATE TABLE changes (
        id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
        about uuid NOT NULL,
        kind text NOT NULL,
        by_transaction xid8 NOT NULL DEFAULT pg_current_xact_id(),
        at timestamptz NOT NULL DEFAULT now()
      );
      CREATE INDEX changes_since ON changes (by_transaction);
      CREATE INDEX changes_about ON changes (about, by_transaction);
      CREATE INDEX changes_old ON changes (at);

      CREATE FUNCTION note_grants() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN
        INSERT INTO changes (about, kind)
          SELECT account_id, 'sent' FROM changed
          UNION SELECT reader_account_id, 'received' FROM changed WHERE reader_account_id IS NOT NULL;
        RETURN NULL; END $$;
      CREATE FUNCTION note_of_message() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN
        INSERT INTO changes (about, kind)
          SELECT DISTINCT m.account_id, 'sent' FROM changed JOIN messages m ON m.id = changed.message_id;
        RETURN NULL; END $$;
      CREATE FUNCTION note_of_copy() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN
        INSERT INTO changes (about, kind)
          SELECT DISTINCT c.account_id, 'sent' FROM changed JOIN copies c ON c.id = changed.copy_id;
        RETURN NULL; END $$;
      CREATE FUNCTION note_vault() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN
        INSERT INTO changes (about, kind) SELECT DISTINCT account_id, 'vault/' || kind FROM changed;
        RETURN NULL; END $$;
      CREATE FUNCTION note_own() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN
        INSERT INTO changes (about, kind) SELECT DISTINCT account_id, TG_ARGV[0] FROM changed;
        RETURN NULL; END $$;
      CREATE FUNCTION note_office() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN
        INSERT INTO changes (about, kind)
          SELECT '00000000-0000-0000-0000-000000000000', 'office' WHERE EXISTS (SELECT FROM changed);
        RETURN NULL; END $$;
      CREATE FUNCTION note_account() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN
        INSERT INTO changes (about, kind)
          VALUES ('00000000-0000-0000-0000-000000000000', 'office'), (NEW.id, 'account');
        RETURN NULL; END $$;
${noted([
  ['messages', "note_own('sent')"],
  ['grants', 'note_grants()'],
  ['copies', "note_own('sent')"],
  ['copy_recipients', 'note_of_copy()'],
  ['incoming', "note_own('received')"],
  ['vault_items', 'note_vault()'],
  ['certificates', "note_own('keys')"],
  ['openpgp_published', 'note_office()'],
  ['sessions', "note_own('account')", ['INSERT', 'DELETE']],
  ['events', 'note_of_message()', ['INSERT']],
  ['readers', 'note_office()'],
  ['presets', 'note_office()'],
  ['file_rules', 'note_office()'],
  ['notice_looks', 'note_office()'],
  ['dkim_keys', 'note_office()'],
  ['trust_anchors', 'note_office()'],
  ['openpgp_trust', 'note_office()'],
])}
      CREATE TRIGGER accounts_noted_insert AFTER INSERT ON accounts FOR EACH ROW EXECUTE FUNCTION note_account();
      CREATE TRIGGER accounts_noted_update AFTER UPDATE OF address, name, title, role, further, ended_at, public_key ON accounts
        FOR EACH ROW EXECUTE FUNCTION note_account();
    `,
  },
  {
    name: '021-first-opened',
    sql: `
      -- When something of an account was last opened for the first time.
      CREATE INDEX grants_first_opened ON grants (account_id, first_opened_at DESC) WHERE first_opened_at IS NOT NULL;
    `,
  },
  {
    name: '022-deleted-mail',
    sql: `
      -- Deleted by its owner, who can have it back until it is gone for good.
      ALTER TABLE incoming ADD COLUMN deleted_at timestamptz;
      CREATE INDEX incoming_deleted ON incoming (deleted_at) WHERE deleted_at IS NOT NULL;
    `,
  },
  {
    // A thread is a program's; what belongs together in mail is a conversation.
    name: '023-conversation',
    sql: `
      ALTER TABLE messages RENAME COLUMN thread_id TO conversation_id;
      ALTER TABLE incoming RENAME COLUMN thread_id TO conversation_id;
      ALTER INDEX messages_of_thread RENAME TO messages_of_conversation;
      ALTER INDEX incoming_of_thread RENAME TO incoming_of_conversation;
    `,
  },
  {
    name: '024-rules',
    sql: `
      -- What the office has said of what must happen before a message goes: every change is a row, and nothing is taken
      -- back. The number is the version of the whole.
      CREATE TABLE policy_changes (
        number bigint PRIMARY KEY,
        item_id uuid NOT NULL,
        kind text NOT NULL CHECK (kind IN ('rule', 'words', 'pattern', 'tag', 'example')),
        -- Null where it was removed.
        value jsonb,
        changed_at timestamptz NOT NULL,
        changed_by uuid REFERENCES accounts ON DELETE SET NULL
      );
      CREATE INDEX policy_changes_item ON policy_changes (item_id, number DESC);
${noted([['policy_changes', 'note_office()', ['INSERT']]])}
      -- How often each rule acted, by day: on messages that went, on drafts it stopped, and what it would have done.
      CREATE TABLE rule_figures (
        rule_id uuid NOT NULL,
        day date NOT NULL,
        acted integer NOT NULL DEFAULT 0,
        stopped integer NOT NULL DEFAULT 0,
        would integer NOT NULL DEFAULT 0,
        PRIMARY KEY (rule_id, day)
      );
      -- A draft counts once for each rule, however often it was tried; which draft it was can't be told from this.
      CREATE TABLE rule_stops (
        rule_id uuid NOT NULL,
        draft bytea NOT NULL,
        day date NOT NULL,
        PRIMARY KEY (rule_id, draft)
      );
      -- What the scan saw in messages that went, and how much of it their writers called something else.
      CREATE TABLE scan_figures (
        kind text NOT NULL,
        of_kind text NOT NULL,
        day date NOT NULL,
        found integer NOT NULL DEFAULT 0,
        harmless integer NOT NULL DEFAULT 0,
        PRIMARY KEY (kind, of_kind, day)
      );
      -- Whom a rule tells of a message once it has left.
      CREATE TABLE rule_tells (
        message_id uuid NOT NULL REFERENCES messages ON DELETE CASCADE,
        address text NOT NULL,
        rules text[] NOT NULL,
        told_at timestamptz,
        PRIMARY KEY (message_id, address)
      );
      CREATE INDEX rule_tells_due ON rule_tells (message_id) WHERE told_at IS NULL;
      -- The rules it was judged by, those that acted, what was found as kinds and counts, and a reason where one was asked.
      ALTER TABLE messages ADD COLUMN ruled jsonb;
      ALTER TABLE accounts ADD COLUMN departments jsonb NOT NULL DEFAULT '[]';
      DROP TRIGGER accounts_noted_update ON accounts;
      CREATE TRIGGER accounts_noted_update AFTER UPDATE OF address, name, title, role, further, ended_at, public_key, departments ON accounts
        FOR EACH ROW EXECUTE FUNCTION note_account();
    `,
  },
  {
    name: '025-releases',
    sql: `
      -- What would leave and waits for somebody else to let it go. No message yet: letting it go makes one of it.
      CREATE TABLE releases (
        id uuid PRIMARY KEY,
        account_id uuid NOT NULL REFERENCES accounts ON DELETE CASCADE,
        asked_at timestamptz NOT NULL,
        state text NOT NULL CHECK (state IN ('waiting', 'let-go', 'sent-back')),
        decided_at timestamptz,
        -- Null where it was nobody.
        decided_by uuid REFERENCES accounts ON DELETE SET NULL,
        request_digest bytea NOT NULL,
        -- The dispatch, sealed under the server's secret, and the paper: gone once it is decided.
        body bytea,
        paper bytea,
        -- Sealed for its sender's vault; and why it was sent back, sealed to their account.
        summary bytea NOT NULL,
        sentence bytea,
        rules text[] NOT NULL,
        people integer NOT NULL,
        blob_ids uuid[] NOT NULL,
        told_at timestamptz
      );
      CREATE INDEX releases_of_account ON releases (account_id, asked_at) WHERE state <> 'let-go';
      CREATE INDEX releases_waiting ON releases (asked_at) WHERE state = 'waiting';
      CREATE INDEX releases_untold ON releases (decided_at) WHERE state <> 'waiting' AND told_at IS NULL;
      -- The content's key for each who may let it go.
      CREATE TABLE release_keys (
        release_id uuid NOT NULL REFERENCES releases ON DELETE CASCADE,
        account_id uuid NOT NULL REFERENCES accounts ON DELETE CASCADE,
        sealed_key bytea NOT NULL,
        told_at timestamptz,
        PRIMARY KEY (release_id, account_id)
      );
      CREATE INDEX release_keys_of_account ON release_keys (account_id);
      CREATE INDEX release_keys_untold ON release_keys (release_id) WHERE told_at IS NULL;
${noted([
  ['releases', "note_own('releases')"],
  ['release_keys', "note_own('releases')", ['INSERT', 'DELETE']],
])}
      ALTER TABLE accounts ADD COLUMN may_release boolean NOT NULL DEFAULT false;
      DROP TRIGGER accounts_noted_update ON accounts;
      CREATE TRIGGER accounts_noted_update AFTER UPDATE OF address, name, title, role, further, ended_at, public_key, departments, may_release ON accounts
        FOR EACH ROW EXECUTE FUNCTION note_account();
    `,
  },
  {
    name: '026-office-book',
    sql: `
      -- The office's keys, one at a time: each replaces the one before, whose items and members go with it.
      CREATE TABLE office_keys (
        epoch integer PRIMARY KEY,
        suite smallint NOT NULL,
        public_key bytea NOT NULL,
        made_at timestamptz NOT NULL,
        made_by uuid REFERENCES accounts ON DELETE SET NULL,
        -- Null while everything is being sealed anew under it, by one try of one browser: until then it is nobody's.
        finished_at timestamptz,
        renewal uuid
      );
      -- The office's secret, sealed to each member's account.
      CREATE TABLE office_members (
        epoch integer NOT NULL REFERENCES office_keys ON DELETE CASCADE,
        account_id uuid NOT NULL REFERENCES accounts ON DELETE CASCADE,
        sealed_key bytea NOT NULL,
        let_in_at timestamptz NOT NULL,
        let_in_by uuid REFERENCES accounts ON DELETE SET NULL,
        PRIMARY KEY (epoch, account_id)
      );
      CREATE TABLE office_manifests (
        epoch integer NOT NULL REFERENCES office_keys ON DELETE CASCADE,
        kind text NOT NULL,
        revision integer NOT NULL,
        sealed bytea NOT NULL,
        PRIMARY KEY (epoch, kind)
      );
      CREATE TABLE office_items (
        epoch integer NOT NULL REFERENCES office_keys ON DELETE CASCADE,
        kind text NOT NULL,
        id uuid NOT NULL,
        revision integer NOT NULL,
        updated_at timestamptz NOT NULL,
        updated_by uuid REFERENCES accounts ON DELETE SET NULL,
        sealed bytea NOT NULL,
        PRIMARY KEY (epoch, kind, id)
      );
      ALTER TABLE office_items ALTER COLUMN sealed SET STORAGE EXTERNAL;
      -- Let out by an administrator, until they may be let in again.
      ALTER TABLE accounts ADD COLUMN out_of_book_at timestamptz;
${noted([
  ['office_keys', 'note_office()', ['UPDATE']],
  ['office_members', 'note_office()', ['INSERT', 'DELETE']],
  ['office_items', 'note_office()'],
])}
      DROP TRIGGER accounts_noted_update ON accounts;
      CREATE TRIGGER accounts_noted_update AFTER UPDATE OF address, name, title, role, further, ended_at, public_key, departments, may_release, out_of_book_at ON accounts
        FOR EACH ROW EXECUTE FUNCTION note_account();
    `,
  },
  {
    name: '027-mail-slots',
    sql: `
      CREATE TABLE slots (
        id uuid PRIMARY KEY,
        -- What its link ends with; it says nothing of whose it is.
        token text NOT NULL UNIQUE,
        kind text NOT NULL CHECK (kind IN ('office', 'department', 'colleague')),
        account_id uuid UNIQUE REFERENCES accounts ON DELETE CASCADE,
        department text UNIQUE,
        -- Who is behind the office's slot.
        people jsonb NOT NULL DEFAULT '[]',
        open boolean NOT NULL,
        proves boolean NOT NULL,
        made_at timestamptz NOT NULL,
        CHECK ((kind = 'colleague') = (account_id IS NOT NULL) AND (kind = 'department') = (department IS NOT NULL))
      );
      CREATE UNIQUE INDEX slots_of_office ON slots (kind) WHERE kind = 'office';
      -- Senders a slot takes nothing more from, as keyed hashes of their addresses.
      CREATE TABLE slot_blocks (
        slot_id uuid NOT NULL REFERENCES slots ON DELETE CASCADE,
        sender bytea NOT NULL,
        blocked_at timestamptz NOT NULL,
        blocked_by uuid REFERENCES accounts ON DELETE SET NULL,
        PRIMARY KEY (slot_id, sender)
      );
      -- What somebody has begun to leave, under the hash of the ticket they hold.
      CREATE TABLE slot_left (
        id uuid PRIMARY KEY,
        ticket_hash bytea NOT NULL UNIQUE,
        slot_id uuid NOT NULL REFERENCES slots ON DELETE CASCADE,
        number text NOT NULL,
        -- The sender's address, under the house's secret; null once it was left.
        sealed_sender bytea,
        language text NOT NULL,
        proved boolean NOT NULL,
        -- For each colleague behind the slot as it was begun: the number their mail will have.
        behind jsonb NOT NULL,
        begun_at timestamptz NOT NULL,
        left_at timestamptz
      );
      CREATE INDEX slot_left_begun ON slot_left (slot_id, begun_at) WHERE left_at IS NULL;
      -- Challenges that were answered: each is good once.
      CREATE TABLE slot_work (
        nonce bytea PRIMARY KEY,
        until timestamptz NOT NULL
      );
      -- An upload that belongs to nobody yet.
      ALTER TABLE blobs ADD COLUMN left_id uuid UNIQUE REFERENCES slot_left ON DELETE CASCADE;
      ALTER TABLE incoming ADD COLUMN slot_id uuid REFERENCES slots ON DELETE SET NULL;
      ALTER TABLE incoming ADD COLUMN sealed_proof bytea;
      ALTER TABLE incoming ADD COLUMN sealed_answer bytea;
${noted([['slots', 'note_office()']])}
    `,
  },
  {
    name: '028-confirmed-reading',
    sql: `
      -- Readers are asked to press that they have read it.
      ALTER TABLE messages ADD COLUMN confirm boolean NOT NULL DEFAULT false;
      ALTER TABLE grants ADD COLUMN confirmed_at timestamptz;
    `,
  },
  {
    name: '029-recipients-choose',
    sql: `
      -- Readers may choose how they get what comes next.
      ALTER TABLE messages ADD COLUMN choose boolean NOT NULL DEFAULT false;
      -- What they chose, the latest for each address: sealed to the office book's key of that epoch until a member's
      -- browser has taken it, then null.
      CREATE TABLE choices (
        address_key text PRIMARY KEY,
        id uuid NOT NULL UNIQUE,
        grant_id uuid REFERENCES grants ON DELETE SET NULL,
        name text NOT NULL,
        address text NOT NULL,
        language text NOT NULL,
        way text NOT NULL,
        check_kind text NOT NULL,
        epoch integer NOT NULL,
        sealed bytea,
        chosen_at timestamptz NOT NULL,
        settled_by uuid REFERENCES accounts ON DELETE SET NULL
      );
      CREATE INDEX choices_waiting ON choices (chosen_at) WHERE sealed IS NOT NULL;
      -- Certificates made for outsiders, by the address they are for.
      CREATE TABLE reader_certificates (
        fingerprint text PRIMARY KEY,
        address_key text NOT NULL,
        certificate bytea NOT NULL,
        issued_at timestamptz NOT NULL
      );
      CREATE INDEX reader_certificates_of ON reader_certificates (address_key, issued_at);
${noted([['choices', 'note_office()']])}
    `,
  },
  {
    name: '030-one-time-passwords',
    sql: `
      -- What proves a one-time password that the sender tells; null once it was used.
      ALTER TABLE grants ADD COLUMN told_hash bytea,
        ADD CONSTRAINT grants_told CHECK (told_hash IS NULL OR (state = 'held' AND check_kind = 'told'));
      ALTER TABLE readers DROP CONSTRAINT readers_known_by_check;
      ALTER TABLE readers ADD CONSTRAINT readers_known_by_check
        CHECK (known_by IN ('question', 'told', 'email', 'voice', 'text'));
    `,
  },
  {
    name: '031-readers-own',
    sql: `
      ALTER TABLE reader_sign_ins
        ADD COLUMN id uuid NOT NULL DEFAULT gen_random_uuid() UNIQUE,
        ADD COLUMN device text NOT NULL DEFAULT '';
      -- They chose it themselves: it goes before what whoever writes to them has put down.
      ALTER TABLE readers ADD COLUMN language_chosen boolean NOT NULL DEFAULT false;
      -- New messages that registered readers are writing, sealed to their account.
      CREATE TABLE reader_drafts (
        reader_id uuid NOT NULL REFERENCES readers ON DELETE CASCADE,
        id uuid NOT NULL,
        sealed bytea NOT NULL,
        updated_at timestamptz NOT NULL,
        PRIMARY KEY (reader_id, id)
      );
    `,
  },
  {
    name: '032-mail-programs',
    sql: `
      -- Passwords that workers made for their mail programs.
      CREATE TABLE devices (
        id uuid PRIMARY KEY,
        account_id uuid NOT NULL REFERENCES accounts ON DELETE CASCADE,
        name text NOT NULL,
        password_hash bytea NOT NULL,
        made_at timestamptz NOT NULL,
        last_used_at timestamptz
      );
      CREATE INDEX devices_of ON devices (account_id);
      -- Where the door for these stands, and the key that mail is sealed to until it is dealt with.
      CREATE TABLE submission_door (
        only_one boolean PRIMARY KEY DEFAULT true CHECK (only_one),
        suite integer NOT NULL,
        public_key bytea NOT NULL,
        host text NOT NULL,
        start_tls integer NOT NULL,
        tls integer NOT NULL,
        seen_at timestamptz NOT NULL,
        -- The office book's secret sealed to it, from the epoch in which a member let it in.
        book_epoch integer,
        book_key bytea,
        let_in_at timestamptz,
        let_in_by uuid REFERENCES accounts
      );
      -- Mail they handed in. Its number is that of the message it becomes.
      CREATE TABLE handed_in (
        id uuid PRIMARY KEY,
        account_id uuid NOT NULL REFERENCES accounts ON DELETE CASCADE,
        device_id uuid REFERENCES devices ON DELETE SET NULL,
        device_name text NOT NULL,
        handed_at timestamptz NOT NULL,
        state text NOT NULL DEFAULT 'taken' CHECK (state IN ('taken', 'waits', 'done')),
        digest bytea NOT NULL,
        blob_id uuid NOT NULL REFERENCES blobs ON DELETE CASCADE,
        size bigint NOT NULL,
        account_label bytea NOT NULL,
        door_label bytea CHECK (door_label IS NULL OR state = 'taken'),
        sealed_why bytea,
        UNIQUE (account_id, digest)
      );
      CREATE INDEX handed_in_of ON handed_in (account_id, handed_at);
      CREATE INDEX handed_in_taken ON handed_in (handed_at) WHERE state = 'taken';
      CREATE INDEX handed_in_blob ON handed_in (blob_id);
      -- By which of them a message came, by name.
      ALTER TABLE messages ADD COLUMN by_program text;
${noted([
  ['devices', "note_own('account')", ['INSERT', 'DELETE']],
  ['submission_door', 'note_office()'],
  ['handed_in', "note_own('vault/draft')"],
])}
    `,
  },
  {
    name: '033-answers-to-notices',
    sql: `
      -- It answers the mail that told of a message, and so came past the reading room.
      ALTER TABLE incoming ADD COLUMN answers_notice boolean NOT NULL DEFAULT false;
    `,
  },
  {
    name: '034-seen-at-the-door',
    sql: `
      -- When a wrong password for their mail programs was last typed in somebody's name.
      CREATE TABLE device_refusals (
        account_id uuid PRIMARY KEY REFERENCES accounts ON DELETE CASCADE,
        at timestamptz NOT NULL
      );
${noted([
  ['device_refusals', "note_own('account')", ['INSERT', 'UPDATE']],
  ['devices', "note_own('account')", ['UPDATE']],
])}
    `,
  },
  {
    name: '035-told-elsewhere',
    sql: `
      -- Where somebody reads their ordinary mail: told there of all that comes in, and nothing about it.
      ALTER TABLE accounts ADD COLUMN told_address text;
    `,
  },
  {
    name: '036-told-what-left',
    sql: `
      -- When somebody is told by mail what their mail programs sent, and up to when they were.
      ALTER TABLE accounts ADD COLUMN told_left text NOT NULL DEFAULT 'daily' CHECK (told_left IN ('always', 'changed', 'daily', 'never'));
      ALTER TABLE accounts ADD COLUMN told_left_until timestamptz NOT NULL DEFAULT now();
      ALTER TABLE handed_in ADD COLUMN reported_at timestamptz;
    `,
  },
  {
    name: '037-answers-by-programs',
    sql: `
      -- Of the Message-ID a mail program gave it: what its writer writes next in their thread is found by it.
      ALTER TABLE messages ADD COLUMN mail_id_hash bytea;
      CREATE INDEX messages_by_mail_id ON messages (account_id, mail_id_hash) WHERE mail_id_hash IS NOT NULL;
    `,
  },
  {
    name: '038-told-of-failures',
    sql: `
      -- When whoever wrote it in a mail program was told that it did not arrive.
      ALTER TABLE copy_recipients ADD COLUMN failure_told_at timestamptz;
      ALTER TABLE grants ADD COLUMN failure_told_at timestamptz;
      CREATE INDEX copies_failed ON copy_recipients (at) WHERE state IN ('refused', 'bounced') AND failure_told_at IS NULL;
      CREATE INDEX notices_failed ON grants (notice_at) WHERE notice_state IN ('refused', 'bounced') AND failure_told_at IS NULL;
    `,
  },
  {
    name: '039-answer-there',
    sql: `
      -- Whether the notice said that answers belong into the reading room: with it, it is made again as it left.
      ALTER TABLE outbox ADD COLUMN answer_there boolean NOT NULL DEFAULT false;
    `,
  },
  {
    name: '040-door-signers',
    sql: `
      -- What a worker lets the door for mail programs sign with, sealed to the key the door had then.
      CREATE TABLE door_signers (
        account_id uuid NOT NULL REFERENCES accounts (id) ON DELETE CASCADE,
        kind text NOT NULL CHECK (kind IN ('certificate', 'openpgp')),
        sealed bytea NOT NULL,
        door_key bytea NOT NULL,
        fingerprint text NOT NULL,
        made_at timestamptz NOT NULL,
        PRIMARY KEY (account_id, kind)
      );
    `,
  },
  {
    name: '041-certificates-of-programs',
    sql: `
      -- Lent to the door for mail programs, now or before: nobody encrypts to it, and it stands in for no other.
      ALTER TABLE certificates ADD COLUMN for_programs boolean NOT NULL DEFAULT false;
      UPDATE certificates c SET for_programs = true FROM door_signers s
        WHERE s.kind = 'certificate' AND s.account_id = c.account_id AND s.fingerprint = c.fingerprint;
    `,
  },
  {
    name: '042-incoming-under-lock',
    sql: `
      -- Whether it came under a lock; unknown of what came before, but for what was left in a mail slot.
      ALTER TABLE incoming ADD COLUMN had_lock boolean;
      UPDATE incoming SET had_lock = true WHERE slot_id IS NOT NULL;
    `,
  },
  {
    name: '043-answered-in-a-slot',
    sql: `
      -- From one colleague's mail to those of the others behind the slot, and to what answered them.
      CREATE INDEX slot_left_behind ON slot_left USING gin (behind jsonb_path_ops);
      CREATE INDEX messages_answering ON messages (in_reply_to) WHERE in_reply_to IS NOT NULL;
    `,
  },
  {
    name: '044-choices-are-taken-back-by-link',
    sql: `
      -- Of the link in the mail that tells of a choice; null for what was chosen before there was one, and once used.
      ALTER TABLE choices ADD COLUMN link_hash bytea;
    `,
  },
  {
    name: '045-where-a-choice-went',
    sql: `
      -- The person in the office book who has it; null while it waits, and where it was put away.
      ALTER TABLE choices ADD COLUMN kept_as uuid;
    `,
  },
  {
    name: '046-under-which-manifest',
    sql: `
      -- The manifest that was written with it: whoever has that one or a later one has the item. 0 for what was there
      -- before, which whoever has any manifest since has seen.
      ALTER TABLE vault_items ADD COLUMN written_under integer NOT NULL DEFAULT 0;
      ALTER TABLE office_items ADD COLUMN written_under integer NOT NULL DEFAULT 0;
    `,
  },
  {
    name: '047-manifests-in-steps',
    sql: `
      -- Most changes write only what changes from the manifest before; \`whole\` is the revision of the one that lies there.
      ALTER TABLE vault_manifests ADD COLUMN whole integer;
      UPDATE vault_manifests SET whole = revision;
      ALTER TABLE vault_manifests ALTER COLUMN whole SET NOT NULL;
      ALTER TABLE office_manifests ADD COLUMN whole integer;
      UPDATE office_manifests SET whole = revision;
      ALTER TABLE office_manifests ALTER COLUMN whole SET NOT NULL;
      CREATE TABLE vault_manifest_steps (
        account_id uuid NOT NULL,
        kind text NOT NULL,
        revision integer NOT NULL,
        sealed bytea NOT NULL,
        PRIMARY KEY (account_id, kind, revision),
        FOREIGN KEY (account_id, kind) REFERENCES vault_manifests ON DELETE CASCADE
      );
      CREATE TABLE office_manifest_steps (
        epoch integer NOT NULL,
        kind text NOT NULL,
        revision integer NOT NULL,
        sealed bytea NOT NULL,
        PRIMARY KEY (epoch, kind, revision),
        FOREIGN KEY (epoch, kind) REFERENCES office_manifests ON DELETE CASCADE
      );
      -- What was written since is found without looking at all there is.
      CREATE INDEX ON vault_items (account_id, kind, written_under);
      CREATE INDEX ON office_items (epoch, kind, written_under);
    `,
  },
];

const stepsOf = (db: Sequelize) =>
  new Umzug({
    migrations: steps.map(({ name, sql }) => ({ name, up: async () => void (await db.query(sql)) })),
    storage: new SequelizeStorage({ sequelize: db, tableName: 'migrations' }),
    logger: undefined,
  });

/** Brings the database up to date; safe to call from several processes at once (an advisory lock lets one go first). */
export async function migrate(db: Sequelize): Promise<void> {
  // Held by hand: the steps go by connections of their own meanwhile.
  const waiting = await db.transaction();
  try {
    await db.query('SELECT pg_advisory_xact_lock(8420)', { transaction: waiting });
    await stepsOf(db).up();
  } finally {
    await waiting.rollback();
  }
}

/** For a role that may change no tables. @throws Error when somebody who may has not brought the database up to date */
export async function requireCurrent(db: Sequelize): Promise<void> {
  const [[table]] = (await db.query(
    `SELECT EXISTS (SELECT FROM pg_tables WHERE schemaname = 'public' AND tablename = 'migrations') AS there`,
  )) as [{ there: boolean }[], unknown];
  const done =
    table?.there === true ? ((await db.query('SELECT name FROM migrations')) as [{ name: string }[], unknown])[0] : [];
  const missing = steps.filter(({ name }) => !done.some((one) => one.name === name));
  if (missing.length > 0)
    throw new Error(
      `The database is ${missing.length} ${missing.length === 1 ? 'step' : 'steps'} behind this program. Run npm run prepare-database as its owner first.`,
    );
}
