/**
 * Dispatch: one transaction that makes the message, its grants, the sender's record and an outbox row per notice; the
 * message's id makes it happen once.
 */
import { builtLimit } from '@under-lock/core/message/built-size';
import { type Language } from '@under-lock/core/language';
import { createHash } from 'node:crypto';
import { type NewCopy, type NewGrant } from '@under-lock/contract/outgoing';
import { grantHolds } from '@under-lock/core/access/holds';
import { type Handling, LOOSEST_TERMS, NO_RIGHTS } from '@under-lock/core/handling/handling';
import { latestClosing } from '@under-lock/core/handling/closing';
import { addressKey, isAtDomain } from '@under-lock/core/people/address';
import { type Transaction } from 'sequelize';
import { isOwnAddress } from '../account/addresses';
import { type Context } from '../context';
import { mailIdHash } from '../mail/answered';
import { ownBlob, contentCompleteAndFrozen } from '../blob/blob';
import { AccountRow, type BlobRow, MessageRow, ReaderRow } from '../data/models';
import { invalid, Problem } from '../problem';
import { putItem } from '../vault/vault';
import { type Permitted } from '@under-lock/core/outgoing/handling';
import { requirePreset } from '../handling/preset';
import { addCopies, readyCopies, type ReadyCopy } from './copies';
import { keepWords } from '../search/words';
import { countHeld } from '../rules/figures';
import { noteTells } from '../rules/tell';
import { requireKept, whatItAnswers } from './answers';
import { type Held, heldAgainstRules, requireWays } from './ruled';
import { afterWaiting, leavingTime } from './leaving';
import { type Dispatch } from './handed-over';
import { alreadyWaits, keepWaiting } from './waits';
import { type AccessReader, makeAccess, type NewAccess } from '../access/make';
import { keptChannel } from '../access/channel';
import { record } from '../access/grants';
import { type MadeBefore, once } from './once';
import { type OwnDevice } from '../submission/devices';
import { settleHanded } from '../submission/handed';

/** `from` is when the message leaves. */
export function requireClosing(context: Context, closesAt: Date, from = context.clock()): void {
  const now = from;
  if (closesAt <= now || closesAt > latestClosing(now, context.config.office.calendar)) {
    throw new Problem('closing-out-of-range', 400, 'The closing date is past or later than the office allows');
  }
}

async function requireColleague(
  accountId: string,
  grantAddress: string,
  transaction: Transaction,
): Promise<AccountRow> {
  const account = await AccountRow.findByPk(accountId, { transaction });
  if (account?.publicKey == null || account.endedAt != null || !isOwnAddress(account, grantAddress))
    throw invalid(`There is no colleague at ${grantAddress} who can be written to.`);
  return account;
}

/** @throws Problem `conflict` */
async function requireRegistered(readerId: string, grantAddress: string, transaction: Transaction): Promise<ReaderRow> {
  const reader = await ReaderRow.findByPk(readerId, { transaction });
  if (reader === null || reader.addressKey !== addressKey(grantAddress)) throw noLongerKnown(grantAddress);
  return reader;
}

const noLongerKnown = (address: string): Problem =>
  new Problem('conflict', 409, 'A password has gone', {
    detail: `${address} can’t be known by a password of their own any more. Nothing was sent; try again, and they are known in another way.`,
  });

/** What a registered reader chose goes before what whoever writes to them has put down. */
const languageOf = (
  reader: Pick<ReaderRow, 'language' | 'languageChosen'> | null,
  said: Language | undefined,
): Language => (reader?.languageChosen === true ? reader.language : (said ?? 'en'));

/**
 * The reader that a browser names, as the house knows them. @throws Problem `invalid-input`, `conflict`, `own-number`
 */
async function readerOf(
  context: Context,
  { id, address, reader }: Pick<NewGrant, 'id' | 'address' | 'reader'>,
  sender: AccountRow,
  demanded: Demanded,
  transaction: Transaction,
): Promise<AccessReader> {
  if (reader.kind === 'account')
    return { ...reader, account: await requireColleague(reader.accountId, address, transaction) };
  if (reader.kind === 'registered') {
    const registered = await requireRegistered(reader.readerId, address, transaction);
    // Their password was worth more when the plan was made: said as what has changed, not as a mistake of the plan.
    if (
      grantHolds(demanded.handling, demanded.floor, {
        kind: 'registered',
        knownBy: registered.knownBy ?? undefined,
      }) !== undefined
    )
      throw noLongerKnown(address);
    return { ...reader, reader: registered, language: languageOf(registered, reader.language) };
  }
  // A registered reader who is to prove more than their password finds it in their list once they have opened it by its
  // link.
  const registered = await ReaderRow.findOne({
    where: { addressKey: addressKey(address) },
    attributes: ['id', 'language', 'languageChosen'],
    transaction,
  });
  return {
    kind: 'link',
    readerShare: reader.readerShare,
    language: languageOf(registered, reader.language),
    registeredId: registered?.id ?? null,
    way: await keptChannel(context, id, address, reader.channel, sender),
  };
}

/** What a message demands, and what the office demands of it. */
export type Demanded = Pick<NewAccess, 'handling' | 'floor'>;

/**
 * Adds one access of a worker's message. @throws Problem `audience`, `below-preset`, `invalid-input`, `own-number`,
 * `conflict`
 */
export async function addGrant(
  context: Context,
  input: {
    sender: AccountRow;
    messageId: string;
    position: number;
    grant: NewGrant;
    demanded: Demanded;
    closesAt: Date;
    leavesAt?: Date;
  },
  transaction: Transaction,
): Promise<void> {
  const { sender, messageId, position, grant, demanded, closesAt, leavesAt = context.clock() } = input;
  const { reader, carried = false, ...rest } = grant;
  await makeAccess(
    context,
    {
      ...rest,
      ...demanded,
      messageId,
      owner: sender,
      position,
      closesAt,
      arrivesAt: leavesAt,
      carried,
      reader: await readerOf(context, grant, sender, demanded, transaction),
    },
    transaction,
  );
}

/** What makes two dispatches the same: everything but what is sealed for the sender, whose nonces differ each time. */
function digestOf({
  contentBlobId,
  reference,
  handling,
  presetId,
  openReason,
  inReplyTo,
  leavesAt,
  from,
  grants,
  copies = [],
}: Dispatch): Buffer {
  const hash = createHash('sha256').update(
    JSON.stringify({ contentBlobId, reference, handling, presetId, openReason, inReplyTo, leavesAt, from }),
  );
  // Sealing the same again gives other bytes: who gets a copy counts, not the blob.
  for (const { id, lock, recipients } of copies) hash.update(JSON.stringify([id, lock, recipients]));
  for (const grant of grants)
    hash
      .update(
        JSON.stringify([
          grant.id,
          grant.address,
          grant.role,
          ...(grant.carried === true ? ['carried'] : []),
          grant.reader.kind === 'link'
            ? [grant.reader.channel.kind, 'target' in grant.reader.channel ? grant.reader.channel.target : '']
            : grant.reader.kind === 'account'
              ? grant.reader.accountId
              : grant.reader.readerId,
        ]),
      )
      .update(grant.wrappedKey);
  return hash.digest();
}

async function alreadySent(sender: AccountRow, dispatch: Dispatch): Promise<MadeBefore | undefined> {
  const existing = await MessageRow.findByPk(dispatch.id);
  if (existing === null) return undefined;
  if (existing.accountId !== sender.id || !existing.requestDigest.equals(digestOf(dispatch)))
    throw new Problem('conflict', 409, 'A different message has been sent under this number');
  return { sentAt: existing.sentAt, already: true };
}

/**
 * Who may be written to under this handling. Staff have an account here; whoever has none reads by a link. @throws
 * Problem `audience`
 */
function requireAudience({ config }: Context, { handling: { audience }, grants, copies = [] }: Dispatch): void {
  const [copied] = copies.flatMap(({ recipients }) => recipients);
  if (copied !== undefined && (audience === 'staff' || audience === 'nobody'))
    throw new Problem('audience', 400, `This handling is for staff only, and ${copied.address} would get a copy`);
  const outsider = grants.find(
    ({ reader, address }) => reader.kind !== 'account' && !isAtDomain(address, config.office.mailDomain),
  );
  const colleague = grants.find(({ reader }) => reader.kind === 'account');
  if (audience === 'nobody' || (audience === 'staff' && grants.some(({ reader }) => reader.kind !== 'account')))
    throw new Problem(
      'audience',
      400,
      `This handling is for staff only${outsider === undefined ? '' : `, and ${outsider.address} is an outsider`}`,
    );
  if (audience === 'outsiders' && colleague !== undefined)
    throw new Problem('audience', 400, `This handling is for outsiders only, and ${colleague.address} is a colleague`);
}

/**
 * @throws Problem `below-preset`, `rules-changed`, `breaks-rule`, `audience`, `upload-incomplete`,
 * `closing-out-of-range`, `own-number`, `invalid-input`, `too-large`, `conflict`
 */
export const dispatchMessage = (
  context: Context,
  sender: AccountRow,
  dispatch: Dispatch,
  device?: OwnDevice,
): Promise<{ sentAt: Date | undefined; already: boolean }> =>
  once<Date | undefined>(
    async () => (await alreadySent(sender, dispatch)) ?? alreadyWaits(context, sender, dispatch.id, digestOf(dispatch)),
    async () => {
      const { made, held } = await readyMessage(context, sender, dispatch, { byProgram: device !== undefined });
      if (held?.verdict.demand.release !== true) {
        await keepMessage(context, device === undefined ? made : { ...made, byProgram: device.name }, (transaction) =>
          settleHanded(context, dispatch.id, transaction),
        );
        return made.sentAt;
      }
      await keepWaiting(context, { sender, dispatch, held, digest: made.digest });
      return undefined;
    },
    'message',
  );

/**
 * Somebody else has let it go: it leaves now, or when it was to. `alongside` runs in the transaction that makes it.
 * @throws Problem what {@link dispatchMessage} throws
 */
export async function dispatchLetGo(
  context: Context,
  sender: AccountRow,
  { dispatch, closesFrom }: { dispatch: Dispatch; closesFrom: (leavesAt: Date) => Date },
  alongside: (transaction: Transaction) => Promise<void>,
): Promise<Date> {
  const { made } = await readyMessage(context, sender, dispatch, { closesFrom });
  await keepMessage(context, made, alongside);
  return made.sentAt;
}

/** Only from the door is taken what is permitted to mail programs. */
function permittedBy(
  { openBy, programsOpenBy, programsLockFiles }: Held['verdict'],
  byProgram: boolean,
): Permitted | undefined {
  if (!byProgram) return openBy.length > 0 ? 'open' : undefined;
  if (programsLockFiles !== undefined) return 'text';
  return programsOpenBy.length > 0 ? 'open' : undefined;
}

function requireRecipients({ config }: Context, dispatch: Dispatch): void {
  const { limits } = config.office;
  const addresses = [...dispatch.grants, ...(dispatch.copies ?? []).flatMap(({ recipients }) => recipients)].map(
    ({ address }) => addressKey(address),
  );
  if (addresses.length === 0) throw invalid('A message needs a recipient.');
  if (addresses.length > limits.maxRecipients)
    throw invalid(`At most ${limits.maxRecipients} recipients; this has ${addresses.length}.`);
  if (new Set(addresses).size !== addresses.length) throw invalid('A recipient is named twice.');
}

/** What it holds, of the sender's own and all there. @throws Problem `not-found`, `too-large`, `upload-incomplete` */
async function requireContent(context: Context, sender: AccountRow, { contentBlobId }: Dispatch): Promise<BlobRow> {
  const blob = await ownBlob(sender.id, contentBlobId);
  if (Number(blob.size) > builtLimit(context.config.office.limits.maxBytes))
    throw new Problem('too-large', 413, 'The message is larger than the office allows');
  await contentCompleteAndFrozen(context, blob);
  return blob;
}

/** Every copy, under its lock and as rules say. @throws Problem `invalid-input`, `below-preset`, `breaks-rule` */
async function heldCopies(
  context: Context,
  author: { sender: AccountRow; from: string },
  { copies = [], handling }: Dispatch,
  held: Held | undefined,
): Promise<ReadyCopy[]> {
  const ready = await readyCopies(context, author, copies, handling);
  if (held !== undefined) requireWays(held, ready);
  return ready;
}

/**
 * Judges all of it; nothing is written yet. `closesFrom`: it was let go, and its closing date is counted from when it
 * leaves. `byProgram`: a mail program handed it in.
 */
async function readyMessage(
  context: Context,
  sender: AccountRow,
  asked: Dispatch,
  { closesFrom, byProgram = false }: { closesFrom?: (leavesAt: Date) => Date; byProgram?: boolean },
): Promise<{ made: Made; held: Held | undefined }> {
  requireRecipients(context, asked);
  const soonest = leavingTime(context, asked.leavesAt);
  const answered = await whatItAnswers(context, sender, asked);
  const held = await heldAgainstRules(
    context,
    sender,
    { ...asked, answered },
    { leavesAt: soonest, isLetGo: closesFrom !== undefined },
  );
  const sentAt = afterWaiting(context, soonest, held?.verdict.demand.waitMinutes);
  const dispatch: Dispatch =
    closesFrom === undefined ? asked : { ...asked, handling: { ...asked.handling, closesAt: closesFrom(sentAt) } };
  requireClosing(context, dispatch.handling.closesAt, sentAt);
  if (dispatch.handling.clear && (dispatch.openReason ?? '').trim() === '')
    throw invalid('A message that leaves open needs a reason.');
  requireAudience(context, dispatch);
  const preset = await requirePreset(
    context,
    dispatch.presetId,
    dispatch.handling,
    sentAt,
    sender.departments,
    held === undefined ? undefined : permittedBy(held.verdict, byProgram),
  );
  if (answered !== undefined) requireKept(dispatch.handling, answered, byProgram);
  const blob = await requireContent(context, sender, dispatch);
  const { from = sender.address } = dispatch;
  if (!isOwnAddress(sender, from)) throw invalid(`“${from}” is not your address.`);
  const copies = await heldCopies(context, { sender, from }, dispatch, held);
  const made: Made = {
    sender,
    dispatch,
    sentAt,
    size: Number(blob.size),
    conversationId: answered?.conversationId ?? dispatch.id,
    copies,
    preset,
    held,
    purpose: 'message',
    digest: digestOf(asked),
    mailIdHash: dispatch.mailId === undefined ? null : mailIdHash(context, dispatch.mailId),
  };
  return { made, held };
}

interface Made {
  sender: AccountRow;
  dispatch: Dispatch;
  sentAt: Date;
  size: number;
  conversationId: string;
  copies: readonly ReadyCopy[];
  preset: Awaited<ReturnType<typeof requirePreset>>;
  held: Held | undefined;
  purpose: 'message' | 'request';
  digest: Buffer;
  /** The mail program it came by. */
  byProgram?: string;
  /** Of the Message-ID that program gave it. */
  mailIdHash: Buffer | null;
}

const messageOf = ({
  sender,
  dispatch,
  sentAt,
  size,
  conversationId,
  preset,
  held,
  purpose,
  digest,
  byProgram,
  mailIdHash,
}: Made) => ({
  id: dispatch.id,
  accountId: sender.id,
  contentBlobId: dispatch.contentBlobId,
  reference: dispatch.reference,
  size,
  sentAt,
  purpose,
  senderAddress: dispatch.from === undefined || addressKey(dispatch.from) === sender.addressKey ? null : dispatch.from,
  handling: { ...dispatch.handling, closesAt: dispatch.handling.closesAt.toISOString() },
  requestDigest: digest,
  conversationId,
  inReplyTo: dispatch.inReplyTo ?? null,
  openReason: dispatch.handling.clear ? (dispatch.openReason?.trim() ?? null) : null,
  ruled: held?.ruled ?? null,
  byProgram: byProgram ?? null,
  mailIdHash,
  ...(preset === undefined
    ? {}
    : {
        presetVersion: preset.version,
        presetName: preset.name,
        receipt: preset.receipt,
        confirm: preset.confirm,
        choose: preset.choose,
        remindHours: preset.remindHours,
      }),
});

/** Everything about a message in one transaction: neither notice nor copy without the other. */
async function keepMessage(
  context: Context,
  made: Made,
  alongside?: (transaction: Transaction) => Promise<unknown>,
): Promise<void> {
  const { sender, dispatch, sentAt, copies, preset, held } = made;
  await context.db.transaction(async (transaction) => {
    await MessageRow.create(messageOf(made), { transaction });
    await putItem(
      context,
      { accountId: sender.id, kind: 'sent', id: dispatch.id, revision: 0, sealed: dispatch.summary },
      transaction,
    );
    if (held !== undefined) {
      await countHeld(context, held, transaction);
      await noteTells(context, dispatch.id, held.verdict, transaction);
    }
    if (dispatch.words !== undefined) await keepWords(context, dispatch.id, dispatch.words, transaction);
    await record(context, { messageId: dispatch.id, kind: 'dispatched' }, transaction);
    for (const [position, grant] of dispatch.grants.entries()) {
      await addGrant(
        context,
        {
          sender,
          messageId: dispatch.id,
          position,
          grant,
          demanded: { handling: dispatch.handling, floor: preset?.floor ?? LOOSEST_TERMS },
          closesAt: dispatch.handling.closesAt,
          leavesAt: sentAt,
        },
        transaction,
      );
    }
    await addCopies(context, { sender, messageId: dispatch.id, ready: copies, leavesAt: sentAt }, transaction);
    await alongside?.(transaction);
  });
}

/** Nothing is held and nothing closes: there is only the copy, and what it says is no secret. */
const REQUEST_HANDLING: Handling = {
  check: 'question',
  question: false,
  rights: NO_RIGHTS,
  watermark: false,
  copies: false,
  clear: true,
  textOpen: false,
  audience: 'outsiders',
  closesAt: new Date(0),
};

/** Asks somebody for a signed message. @throws Problem `invalid-input`, `upload-incomplete`, `conflict` */
export function sendRequest(
  context: Context,
  sender: AccountRow,
  { id, contentBlobId, summary, copy }: Pick<Dispatch, 'id' | 'contentBlobId' | 'summary'> & { copy: NewCopy },
): Promise<{ sentAt: Date; already: boolean }> {
  const dispatch: Dispatch = {
    id,
    contentBlobId,
    summary,
    reference: '',
    handling: REQUEST_HANDLING,
    grants: [],
    copies: [copy],
  };
  return once(
    () => alreadySent(sender, dispatch),
    async () => {
      const sentAt = context.clock();
      const blob = await ownBlob(sender.id, contentBlobId);
      await contentCompleteAndFrozen(context, blob);
      const copies = await readyCopies(context, { sender, from: sender.address }, [copy], 'request');
      await keepMessage(context, {
        sender,
        dispatch,
        sentAt,
        size: Number(blob.size),
        conversationId: id,
        copies,
        preset: undefined,
        held: undefined,
        mailIdHash: null,
        purpose: 'request',
        digest: digestOf(dispatch),
      });
      return sentAt;
    },
    'message',
  );
}
