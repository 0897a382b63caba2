/** Releasing what is held to whoever has been found to be its reader, by whichever door they came. */
import { type USES } from '@under-lock/contract/access';
import { type Bytes } from '@under-lock/core/bytes';
import { asItsWriterMeant, type HandlingTerms } from '@under-lock/core/handling/handling';
import { type Transaction } from 'sequelize';
import { readPart } from '../blob/blob';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { type GrantRow, type MessageRow } from '../data/models';
import { notFound, Problem } from '../problem';
import { houseShareContext, record } from './grants';

export interface HeldGrant {
  id: string;
  message_id: string;
  name: string;
  address: string;
  closes_at: Date;
  house_share: Buffer;
  wrapped_key: Buffer;
  sealed_share: Buffer | null;
  open_count: number;
  last_opened_at: Date | null;
  unread: boolean;
  receipt: boolean;
  confirm: boolean;
  confirmed_at: Date | null;
  /** Its reader may say how they want to be written to, and there is an office book for it. */
  choose: boolean;
  handling: MessageRow['handling'];
  size: string;
  content_blob_id: string | null;
  carried: boolean;
}

/**
 * Who asks: somebody in the reading room, whose session says who they are; or the account of a colleague the share was
 * sealed to.
 */
export type Reader = { kind: 'room' } | { kind: 'account'; accountId: string };

/**
 * The handling as it holds for one reader: what came from outside carries its writer's terms for colleagues, and the
 * message's own for everybody else.
 */
export const handlingFor = <Terms extends HandlingTerms>(
  terms: Terms,
  reader: Reader['kind'],
  fromOutside: boolean,
): Terms => (reader === 'account' && fromOutside ? asItsWriterMeant(terms) : terms);

/** @throws Problem `grant-closed`, `grant-withdrawn` */
export function requireOpen(state: GrantRow['state'], closesAt: Date, now: Date): void {
  if (state === 'withdrawn') throw new Problem('grant-withdrawn', 410, 'The sender has withdrawn this message');
  if (state === 'closed' || closesAt <= now) throw new Problem('grant-closed', 410, 'This message is closed');
}

/** A grant `g` with its message `m`, as `heldIn` reads them. */
export const HELD_COLUMNS = `g.id, g.message_id, g.name, g.address, g.state, g.closes_at, g.house_share, g.wrapped_key,
  g.sealed_share, g.open_count, g.last_opened_at, g.unread, g.carried, g.confirmed_at, m.receipt, m.confirm, m.handling, m.size, m.content_blob_id,
  m.choose AND EXISTS (SELECT FROM office_keys WHERE finished_at IS NOT NULL) AS choose,
  m.sender_grant_id IS NOT NULL AS from_outside`;
/** Which grants have come to their reader by the moment `now`, a place in the query. */
export const hasArrived = (now: string): string => `(g.arrived_at IS NULL OR g.arrived_at <= ${now})`;

export type HeldColumns = HeldGrant & { state: GrantRow['state']; from_outside: boolean };

/** What was read of a grant, if it can be read now. @throws Problem `not-found`, `grant-closed`, `grant-withdrawn` */
export function heldIn(context: Context, reader: Reader, row: HeldColumns | undefined): HeldGrant {
  if (row === undefined) throw notFound('This message');
  requireOpen(row.state, row.closes_at, context.clock());
  const { from_outside: fromOutside, ...grant } = row;
  return { ...grant, handling: handlingFor(grant.handling, reader.kind, fromOutside) };
}

/**
 * The grant and its message if they can be read now, in one query; locked when a transaction is given. Read without a
 * lock it is still all or nothing: ending an access takes its shares in one transaction. @throws Problem `not-found`,
 * `grant-closed`, `grant-withdrawn`
 */
export async function heldFor(
  context: Context,
  reader: Reader,
  id: string,
  transaction?: Transaction,
): Promise<HeldGrant> {
  const [row] = await rows<HeldColumns>(
    context.db,
    `SELECT ${HELD_COLUMNS} FROM grants g JOIN messages m ON m.id = g.message_id
     WHERE g.id = $1 AND (g.reader_kind = 'account') = $2 AND g.reader_account_id IS NOT DISTINCT FROM $3
       AND ${hasArrived('$4')}${transaction === undefined ? '' : ' FOR UPDATE OF g'}`,
    [id, reader.kind === 'account', reader.kind === 'account' ? reader.accountId : null, context.clock()],
    transaction,
  );
  return heldIn(context, reader, row);
}

/** Counts an opening of a locked grant. */
export async function countOpening(context: Context, grant: HeldGrant, transaction: Transaction): Promise<void> {
  await run(
    context.db,
    'UPDATE grants SET open_count = open_count + 1, first_opened_at = coalesce(first_opened_at, $2), last_opened_at = $2, unread = false WHERE id = $1',
    [grant.id, context.clock()],
    transaction,
  );
  await record(context, { messageId: grant.message_id, grantId: grant.id, kind: 'opened' }, transaction);
  if (grant.receipt && grant.open_count === 0) await context.jobs.sendReceipt(grant.id, transaction);
}

/** Whether the reader is asked to confirm having read it, and when they did. */
const confirmingOf = ({ confirm, confirmed_at }: HeldGrant): { confirm?: { at?: Date } } =>
  confirm ? { confirm: confirmed_at === null ? {} : { at: confirmed_at } } : {};

/**
 * The reader has read it, and says so; once, whatever is repeated. @throws Problem `conflict` when it was not opened, or
 * nobody asks
 */
export async function confirmReading(context: Context, reader: Reader, id: string): Promise<{ at: Date }> {
  return context.db.transaction(async (transaction) => {
    const grant = await heldFor(context, reader, id, transaction);
    if (grant.confirmed_at !== null) return { at: grant.confirmed_at };
    if (!grant.confirm || grant.open_count === 0)
      throw new Problem('conflict', 409, 'Nobody asks to have the reading of this message confirmed');
    const at = context.clock();
    await run(context.db, 'UPDATE grants SET confirmed_at = $2 WHERE id = $1', [id, at], transaction);
    await record(context, { messageId: grant.message_id, grantId: id, kind: 'confirmed' }, transaction);
    return { at };
  });
}

/** The house's half of the key, and what frames the message. */
export const released = async (context: Context, grant: HeldGrant) => ({
  messageId: grant.message_id,
  houseShare: await context.secrets.openBytes(grant.house_share, houseShareContext(grant.id)),
  wrappedKey: new Uint8Array(grant.wrapped_key),
  size: Number(grant.size),
  handling: { ...grant.handling, closesAt: grant.closes_at },
  carried: grant.carried,
  ...confirmingOf(grant),
});

/** @throws Problem `not-found` also for a carried page, whose content nobody has but its reader */
export async function readHeldPart(
  context: Context,
  { content_blob_id, carried }: HeldGrant,
  index: number,
): Promise<Bytes> {
  if (carried) throw notFound('The content');
  if (content_blob_id === null) throw notFound('The content');
  return readPart(context, content_blob_id, index);
}

export type Use = (typeof USES)[number];
const rightFor = { saved: 'save', printed: 'print' } as const;

/** Records that a reader saves or prints. @throws Problem `right-not-given` */
export async function recordUse(context: Context, grant: HeldGrant, what: Use): Promise<void> {
  if (!grant.handling.rights[rightFor[what]])
    throw new Problem('right-not-given', 403, 'The sender does not allow this');
  await record(context, { messageId: grant.message_id, grantId: grant.id, kind: what });
}
