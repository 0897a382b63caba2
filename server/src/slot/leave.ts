/**
 * Leaving something in a mail slot: a mailbox is proved, an upload begun under a ticket, and at the end each colleague
 * behind the slot has a mail that came in. Nothing here can be read but the address while it is being proved.
 */
import { type Reply } from '@under-lock/contract/client';
import { type beginLeaving, type leaveInSlot, type lookAtSlot, type sendSlotCode } from '@under-lock/contract/slot';
import { firstSpoken } from '@under-lock/core/language';
import { buildSlotReceipt } from '@under-lock/core/notice/notice';
import { checkAddress } from '@under-lock/core/people/address';
import { makeReceiptNumber } from '@under-lock/core/slot/answer-code';
import { sealSlotProof, type SlotProof } from '@under-lock/core/slot/left';
import { SLOT_BYTES } from '@under-lock/core/slot/limits';
import { randomBytes, randomUUID } from 'node:crypto';
import { type Transaction } from 'sequelize';
import { type z } from 'zod';
import { placeOf } from '../account/place';
import { contentCompleteAndFrozen, putPart, receivedParts } from '../blob/blob';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { BlobRow } from '../data/models';
import { MailboxFullError, requireRoom } from '../incoming/incoming';
import { giveBack, takeTry, type Throttle } from '../limits/throttle';
import { officeMail, sendUnfollowed } from '../mail/office-mail';
import { currentLook } from '../office/look';
import { busy, invalid, notFound, Problem } from '../problem';
import { sendMailboxCode, spendMailboxCode } from '../registered/mailbox-code';
import { requireWelcome } from './senders';
import { openSlot, peopleBehind, type SlotRow } from './slots';
import { forgetWork, makeWork, spendWork } from './work';

const TICKET_BYTES = 32;
const DAY_MS = 86_400_000;
/** Begun and not left, at one slot. */
const MOST_BEGUN = 40;
/** Numbers of receipts are known so long, for whoever did not hear that it was left. */
const KEPT_DAYS = 7;

export const slotSenderContext = (id: string): string => `slot-left/sender/${id}`;

type Behind = { id: string; accountId: string }[];
/** What somebody has begun to leave. */
export interface LeftRow {
  id: string;
  slot_id: string;
  number: string;
  sealed_sender: Buffer | null;
  language: string;
  proved: boolean;
  behind: Behind;
  left_at: Date | null;
}

/** Those to whom something can be sealed. @throws Problem `not-found` as for a closed one */
async function readersOf(
  context: Context,
  slotId: string,
): Promise<{ id: string; suite: number; publicKey: Buffer }[]> {
  const ready = (await peopleBehind(context, slotId)).flatMap(({ id, suite, public_key }) =>
    suite === null || public_key === null ? [] : [{ id, suite, publicKey: public_key }],
  );
  if (ready.length === 0) throw notFound('This mail slot');
  return ready;
}

export async function lookAt(context: Context, token: string): Promise<Reply<typeof lookAtSlot>> {
  const { id, name, proves } = await openSlot(context, 'token', token);
  await readersOf(context, id);
  return {
    officeName: context.config.office.name,
    colour: (await currentLook(context)).look.colour,
    name,
    proves,
    maxBytes: SLOT_BYTES,
    work: makeWork(context, id),
  };
}

/** What one place may begin, and what one slot takes from all of them. */
const budgetsFor = (slotId: string, ip: string): Throttle[] => [
  { purpose: 'slot/place', who: placeOf(ip), free: 20, firstWaitMs: 30_000, longestWaitMs: 3_600_000 },
  { purpose: 'slot/all', who: slotId, free: 200, firstWaitMs: 1_000, longestWaitMs: 60_000 },
];

function readAddress(typed: string): string {
  const checked = checkAddress(typed);
  if (!checked.ok) throw invalid('This is no mail address.');
  return checked.address;
}

const asker = (slotId: string, attempt: string): string => `slot/${slotId}/${attempt}`;

/** @throws Problem `not-found`, `conflict`, `too-many-tries`, `invalid-input`, `passcode-too-soon` */
export async function sendCode(
  context: Context,
  token: string,
  { address: typed, language, work }: z.output<(typeof sendSlotCode)['body']>,
  ip: string,
): Promise<Reply<typeof sendSlotCode>> {
  const { id } = await openSlot(context, 'token', token);
  const address = readAddress(typed);
  const budgets = budgetsFor(id, ip);
  await takeTry(context, budgets);
  await spendWork(context, id, work);
  const attempt = randomBytes(TICKET_BYTES).toString('base64url');
  const { resendAt } = await sendMailboxCode(context, address, firstSpoken([language]), {
    asker: asker(id, attempt),
    trier: { ip },
  });
  // What was sent counts at the mailbox and its place.
  await giveBack(context, budgets);
  return { resendAt, attempt };
}

async function proved(
  context: Context,
  slot: SlotRow,
  address: string,
  { code, work }: Pick<z.output<(typeof beginLeaving)['body']>, 'code' | 'work'>,
): Promise<boolean> {
  if (code !== undefined) {
    await spendMailboxCode(context, address, code.digits, asker(slot.id, code.attempt));
    return true;
  }
  if (slot.proves) throw new Problem('not-identified', 401, 'This mail slot asks for six digits first');
  if (work === undefined) throw new Problem('conflict', 409, 'The work that comes with it is missing');
  await spendWork(context, slot.id, work);
  return false;
}

/** @throws Problem `busy` when too much was begun here and never left */
async function requireFew(context: Context, slotId: string): Promise<void> {
  const [begun] = await rows<{ count: number }>(
    context.db,
    'SELECT count(*)::int AS count FROM slot_left WHERE slot_id = $1 AND left_at IS NULL AND begun_at > $2',
    [slotId, new Date(context.clock().getTime() - DAY_MS)],
  );
  if (begun!.count >= MOST_BEGUN) throw busy();
}

/** Whom it is to be sealed to, as it was begun. */
async function begunFor(context: Context, { behind, number, slot_id }: LeftRow): Promise<Reply<typeof beginLeaving>> {
  const readers = await readersOf(context, slot_id);
  return {
    number,
    behind: behind.flatMap(({ id, accountId }) => {
      const reader = readers.find((one) => one.id === accountId);
      return reader === undefined ? [] : [{ id, suite: reader.suite, publicKey: new Uint8Array(reader.publicKey) }];
    }),
  };
}

/** @throws Problem `not-found`, `not-allowed`, `not-identified`, `wrong-code` and its like, `conflict`, `busy` */
export async function begin(
  context: Context,
  token: string,
  { ticket, address: typed, size, language, ...proof }: z.output<(typeof beginLeaving)['body']>,
  ip: string,
): Promise<Reply<typeof beginLeaving>> {
  const slot = await openSlot(context, 'token', token);
  const before = await findLeft(context, ticket);
  if (before?.slot_id === slot.id) return begunFor(context, before);
  const address = readAddress(typed);
  const readers = await readersOf(context, slot.id);
  const budgets = budgetsFor(slot.id, ip);
  await takeTry(context, budgets);
  await requireFew(context, slot.id);
  const isProved = await proved(context, slot, address, proof);
  // Its mailbox has counted it.
  if (isProved) await giveBack(context, budgets);
  // Said only to whoever has shown that the address is theirs, or done the work.
  await requireWelcome(context, slot.id, address);
  const id = randomUUID();
  const behind = readers.map((reader) => ({ id: randomUUID(), accountId: reader.id }));
  const sealedSender = await context.secrets.sealText(address, slotSenderContext(id));
  await context.db.transaction(async (transaction) => {
    await run(
      context.db,
      `INSERT INTO slot_left (id, ticket_hash, slot_id, number, sealed_sender, language, proved, behind, begun_at)
        VALUES ($1, $2, $3, $4, $5, $6, $7, $8::jsonb, $9)`,
      [
        id,
        context.secrets.keyedHash('slot-ticket', ticket),
        slot.id,
        makeReceiptNumber(),
        sealedSender,
        firstSpoken([language]),
        isProved,
        JSON.stringify(behind),
        context.clock(),
      ],
      transaction,
    );
    await run(
      context.db,
      'INSERT INTO blobs (id, account_id, left_id, size, created_at) VALUES ($1, $2, $3, $4, $5)',
      [randomUUID(), behind[0]!.accountId, id, size, context.clock()],
      transaction,
    );
  });
  return begunFor(context, await leftOf(context, ticket));
}

async function findLeft(context: Context, ticket: string, transaction?: Transaction): Promise<LeftRow | undefined> {
  const [left] = await rows<LeftRow>(
    context.db,
    `SELECT id, slot_id, number, sealed_sender, language, proved, behind, left_at FROM slot_left WHERE ticket_hash = ANY($1) ${transaction === undefined ? '' : 'FOR UPDATE'}`,
    [context.secrets.keyedHashes('slot-ticket', ticket)],
    transaction,
  );
  return left;
}

/** Who holds the ticket of it, before anything that comes along is read. @throws Problem `not-identified` */
export async function leftOf(context: Context, ticket: string, transaction?: Transaction): Promise<LeftRow> {
  const left = await findLeft(context, ticket, transaction);
  if (left === undefined) throw new Problem('not-identified', 401, 'What you began to leave is not known here');
  return left;
}

async function uploadOf({ id }: LeftRow): Promise<BlobRow> {
  const blob = await BlobRow.findOne({ where: { leftId: id } });
  if (blob === null) throw notFound('This upload');
  return blob;
}

export async function leaving(context: Context, left: LeftRow): Promise<{ received: number[]; leftAt?: Date }> {
  if (left.left_at !== null) return { received: [], leftAt: left.left_at };
  return { received: await receivedParts(context, (await uploadOf(left)).id) };
}

export async function putPartOf(context: Context, left: LeftRow, index: number, bytes: Uint8Array): Promise<void> {
  await putPart(context, await uploadOf(left), index, bytes);
}

type Sealed = z.output<(typeof leaveInSlot)['body']>['left'][number];

/** A mail that came in for one of them; the first has the upload itself, the others a copy of it. */
async function keepFor(
  context: Context,
  { slot, blob, isFirst, proof }: { slot: SlotRow; blob: BlobRow; isFirst: boolean; proof: SlotProof },
  reader: { accountId: string; suite: number; publicKey: Buffer },
  { id, sealedKey, sealedSummary, sealedAnswer }: Sealed,
  transaction: Transaction,
): Promise<void> {
  const blobId = isFirst ? blob.id : randomUUID();
  if (isFirst)
    await run(
      context.db,
      'UPDATE blobs SET left_id = NULL, account_id = $2 WHERE id = $1',
      [blobId, reader.accountId],
      transaction,
    );
  else {
    await run(
      context.db,
      'INSERT INTO blobs (id, account_id, size, created_at) VALUES ($1, $2, $3, $4)',
      [blobId, reader.accountId, blob.size, context.clock()],
      transaction,
    );
    await run(
      context.db,
      'INSERT INTO blob_parts (blob_id, index, bytes) SELECT $1, index, bytes FROM blob_parts WHERE blob_id = $2',
      [blobId, blob.id],
      transaction,
    );
  }
  await run(
    context.db,
    `INSERT INTO incoming (id, account_id, arrived_at, blob_id, size, sealed_key, sealed_summary, digest, conversation_id, brings_means, slot_id, sealed_proof, sealed_answer, had_lock)
      VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $1, false, $9, $10, $11, true)`,
    [
      id,
      reader.accountId,
      context.clock(),
      blobId,
      blob.size,
      Buffer.from(sealedKey),
      Buffer.from(sealedSummary),
      context.secrets.keyedHash('incoming-mail', `slot/${id}`),
      slot.id,
      Buffer.from(await sealSlotProof(proof, reader, id)),
      Buffer.from(sealedAnswer),
    ],
    transaction,
  );
}

/** Those behind the slot who were so as it was begun, with what was sealed to each and room for it. */
async function whoGetsIt(context: Context, { behind, slot_id }: LeftRow, sealed: readonly Sealed[], size: number) {
  const readers = await readersOf(context, slot_id);
  const meant = behind.flatMap(({ id, accountId }) => {
    const reader = readers.find((one) => one.id === accountId);
    if (reader === undefined) return [];
    const own = sealed.find((one) => one.id === id);
    if (own === undefined) throw invalid('It is not sealed to everybody behind this mail slot.');
    return [{ reader: { ...reader, accountId }, own }];
  });
  const room = await Promise.all(
    meant.map(({ reader }) =>
      requireRoom(context, reader.accountId, size).then(
        () => true,
        (error: unknown) => {
          if (error instanceof MailboxFullError) return false;
          throw error;
        },
      ),
    ),
  );
  const takes = meant.filter((_, index) => room[index]);
  if (meant.length > 0 && takes.length === 0)
    throw new Problem('storage-full', 507, 'There is no room left behind this mail slot');
  if (takes.length === 0) throw notFound('This mail slot');
  return takes;
}

/** @throws Problem `not-found`, `upload-incomplete`, `invalid-input`, `storage-full` */
export async function leave(
  context: Context,
  before: LeftRow,
  ticket: string,
  sealed: readonly Sealed[],
): Promise<Reply<typeof leaveInSlot>> {
  if (before.left_at !== null) return { leftAt: before.left_at };
  // One that was closed meanwhile takes nothing more.
  const slot = await openSlot(context, 'id', before.slot_id);
  const blob = await uploadOf(before);
  await contentCompleteAndFrozen(context, blob);
  const address = await context.secrets.openText(before.sealed_sender!, slotSenderContext(before.id));
  await requireWelcome(context, slot.id, address);
  const takes = await whoGetsIt(context, before, sealed, Number(blob.size));
  const proof = { slot: slot.name, number: before.number, address, proved: before.proved };
  const done = await context.db.transaction(async (transaction) => {
    const left = await leftOf(context, ticket, transaction);
    // The same came twice at once, and the other was first.
    if (left.left_at !== null) return { leftAt: left.left_at, first: false };
    for (const [index, { reader, own }] of takes.entries())
      await keepFor(context, { slot, blob, isFirst: index === 0, proof }, reader, own, transaction);
    const leftAt = context.clock();
    await run(
      context.db,
      'UPDATE slot_left SET left_at = $2, sealed_sender = NULL WHERE id = $1',
      [left.id, leftAt],
      transaction,
    );
    return { leftAt, first: true };
  });
  if (done.first) {
    context.log.info('left-in-slot', { slot: slot.id, size: Number(blob.size), people: takes.length });
    if (before.proved) void sendReceipt(context, before, slot, address);
  }
  return { leftAt: done.leftAt };
}

/** To a mailbox that was proved, and to no other: nobody is written to because somebody typed an address. */
async function sendReceipt(context: Context, left: LeftRow, slot: SlotRow, address: string): Promise<void> {
  const raw = buildSlotReceipt({
    ...officeMail(context, { name: '', address }),
    language: left.language,
    slot: slot.name,
    number: left.number,
  });
  await sendUnfollowed(context, address, raw).catch((error: unknown) => context.log.error('slot-receipt', error));
}

/** What was begun and never left goes with what arrived of it. */
export async function tidySlots(context: Context): Promise<void> {
  const now = context.clock().getTime();
  await run(context.db, 'DELETE FROM slot_left WHERE (left_at IS NULL AND begun_at < $1) OR begun_at < $2', [
    new Date(now - DAY_MS),
    new Date(now - KEPT_DAYS * DAY_MS),
  ]);
  await forgetWork(context);
}
