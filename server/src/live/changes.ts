/**
 * What changed: lines that the database's triggers write in the transaction of the change (step 020). Read once a
 * second by each process that somebody listens to, and asked for an account's version.
 */
import { type ChangeKind, isChangeKind } from '@under-lock/contract/live';
import { type Context } from '../context';
import { askedOften, type NamedStatement, run } from '../data/database';

/** About the office as a whole. */
export const OF_ALL = '00000000-0000-0000-0000-000000000000';

/** What closes by its time alone is as good as closed before the job has seen to it. */
const VERSION: NamedStatement = {
  name: 'changes-version',
  sql: `SELECT coalesce(max(by_transaction), '0')::text || '.' || count(*) || '.' ||
      (SELECT count(*) FROM grants WHERE state = 'held' AND closes_at <= $3 AND (account_id = $1 OR reader_account_id = $1)) AS version
    FROM changes WHERE about = ANY(ARRAY[$1::uuid, $2::uuid])`,
};

/** What depends on the hour alone (what closes soon, what nobody has opened for days) is told this late at most. */
const TURNS_MS = 5 * 60_000;

/** An ETag: the same as before only while nothing that this account can be shown has changed. */
export async function versionOf(context: Context, accountId: string): Promise<string> {
  const now = context.clock();
  const [row] = await askedOften<{ version: string }>(context.db, VERSION, [accountId, OF_ALL, now]);
  return `"${accountId}.${row!.version}.${Math.floor(now.getTime() / TURNS_MS)}"`;
}

const SINCE: NamedStatement = {
  name: 'changes-since',
  sql: `SELECT pg_snapshot_xmin(pg_current_snapshot())::text AS until, c.id, c.about, c.kind
    FROM (SELECT) AS one LEFT JOIN changes c ON c.by_transaction >= $1::xid8`,
};

/** Later than any there will be. */
const NO_TRANSACTION = '18446744073709551615';

const CLOSED: NamedStatement = {
  name: 'changes-closed',
  sql: `SELECT DISTINCT account_id, reader_account_id FROM grants WHERE state = 'held' AND closes_at > $1 AND closes_at <= $2`,
};

/** By account, or {@link OF_ALL}. */
export type Changes = Map<string, Set<ChangeKind>>;

function add(changes: Changes, about: string, kind: string): void {
  if (!isChangeKind(kind)) return;
  const kinds = changes.get(about) ?? new Set();
  changes.set(about, kinds.add(kind));
}

/**
 * Gives what changed since the last time. Transactions end in any order: asked for is what those have written that had
 * not ended then, less what was told.
 */
export class ChangeReader {
  private told = new Set<string>();
  private closedUntil: Date;

  private constructor(
    private readonly context: Context,
    private from: string,
  ) {
    this.closedUntil = context.clock();
  }

  /** From now on: what was done before is in what whoever listens asks for first. */
  static async start(context: Context): Promise<ChangeReader> {
    const [first] = await askedOften<{ until: string }>(context.db, SINCE, [NO_TRANSACTION]);
    const reader = new ChangeReader(context, first!.until);
    // While anybody anywhere writes for long, what others have done before is among it, too.
    await reader.next();
    return reader;
  }

  async next(): Promise<Changes> {
    const changes: Changes = new Map();
    const found = await askedOften<{ until: string; id: string | null; about: string; kind: string }>(
      this.context.db,
      SINCE,
      [this.from],
    );
    const seen = new Set<string>();
    for (const { id, about, kind } of found) {
      if (id === null) continue;
      seen.add(id);
      if (!this.told.has(id)) add(changes, about, kind);
    }
    const now = this.context.clock();
    const closed = await askedOften<{ account_id: string; reader_account_id: string | null }>(this.context.db, CLOSED, [
      this.closedUntil,
      now,
    ]);
    for (const { account_id: sender, reader_account_id: reader } of closed) {
      add(changes, sender, 'sent');
      if (reader !== null) add(changes, reader, 'received');
    }
    // Only now: had one of the two failed, both would be asked again.
    this.from = found[0]!.until;
    this.told = seen;
    this.closedUntil = now;
    return changes;
  }
}

const KEPT_MS = 60 * 60_000;

/**
 * Old lines go; the newest of each account stays, so that no version comes back. So do all that a backup brought along
 * from another database: transactions are numbered anew in each, and theirs would count as to come.
 */
export async function tidyChanges({ db }: Context): Promise<void> {
  await run(db, 'DELETE FROM changes WHERE by_transaction > pg_current_xact_id()');
  await run(
    db,
    `DELETE FROM changes c WHERE at < $1
       AND EXISTS (SELECT FROM changes n WHERE n.about = c.about AND (n.by_transaction, n.id) > (c.by_transaction, c.id))`,
    [new Date(Date.now() - KEPT_MS)],
  );
}
