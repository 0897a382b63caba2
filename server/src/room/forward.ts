/**
 * Passing on: a reader names one more person. Never wider and never longer than what they have themselves, and known in
 * a way of their own.
 */
import { type Channel } from '@under-lock/contract/outgoing';
import { addressKey, checkAddress } from '@under-lock/core/people/address';
import { type HandlingTerms } from '@under-lock/core/handling/handling';
import { type Transaction, UniqueConstraintError } from 'sequelize';
import { type Context } from '../context';
import { AccountRow, GrantRow, MessageRow } from '../data/models';
import { keptChannel } from '../access/channel';
import { heldForReader } from '../outgoing/ruled';
import { noteTells } from '../rules/tell';
import { makeAccess, requireHeld } from '../access/make';
import { floorOf } from '../handling/version';
import { channelContext, record } from '../access/grants';
import { heldFor } from '../access/release';
import { invalid, Problem } from '../problem';

const room = { kind: 'room' } as const;
/** How far from the sender it may travel, and to how many at most. */
const MAX_DEPTH = 5;

export interface Forward {
  id: string;
  address: string;
  name: string;
  houseShare: Uint8Array;
  wrappedKey: Uint8Array;
  readerShare: Uint8Array;
  channel: Channel;
}

async function depthOf(grant: GrantRow): Promise<number> {
  let depth = 0;
  for (let at: GrantRow | null = grant; at?.parentId != null; depth++)
    at = await GrantRow.findByPk(at.parentId, { attributes: ['id', 'parentId'] });
  return depth;
}

/** Whoever passes it on must not be the one who gets the passcode. */
async function requireAnotherWay(context: Context, parent: GrantRow, channel: Channel): Promise<void> {
  if (channel.kind === 'told') throw invalid('A one-time password is told by the office’s own sender only.');
  if (parent.channel === null || channel.kind === 'question') return;
  if ((await context.secrets.openText(parent.channel, channelContext(parent.id))) === channel.target)
    throw new Problem('own-number', 400, 'The passcode would go to your own phone or mailbox');
}

/** What is passed on, to whom, and on which terms. */
interface Passing {
  parent: GrantRow;
  sender: AccountRow;
  handling: HandlingTerms;
  floor: HandlingTerms;
  /** What the office's rules say; undefined while there are none. */
  verdict: Awaited<ReturnType<typeof heldForReader>>;
  address: string;
}

/** What the office's rules are called and say is no reader's to know. @throws Problem `breaks-rule` */
async function requireLetTo(...to: Parameters<typeof heldForReader>): ReturnType<typeof heldForReader> {
  try {
    return await heldForReader(...to);
  } catch (error) {
    if (!(error instanceof Problem) || error.code !== 'breaks-rule') throw error;
    throw new Problem('breaks-rule', 403, 'The office does not let this go to them');
  }
}

async function mayBePassedOn(context: Context, grantId: string, { address, channel }: Forward): Promise<Passing> {
  const { handling } = await heldFor(context, room, grantId);
  if (!handling.rights.forward)
    throw new Problem('right-not-given', 403, 'The sender does not allow this to be passed on');
  const checked = checkAddress(address);
  if (!checked.ok) throw invalid(`“${address}” is not a mail address.`);
  const parent = (await GrantRow.findByPk(grantId))!;
  const sender = (await AccountRow.findByPk(parent.accountId))!;
  const message = (await MessageRow.findByPk(parent.messageId, {
    attributes: ['id', 'senderAddress', 'reference', 'handling', 'presetVersion', 'ruled'],
  }))!;
  const floor = await floorOf(context, message.presetVersion);
  requireHeld(
    { handling, floor },
    { kind: 'link', check: channel.kind, question: channel.question !== undefined },
    checked.address,
  );
  if ((await depthOf(parent)) >= MAX_DEPTH)
    throw new Problem('right-not-given', 403, 'This message has been passed on as often as it may be');
  await requireAnotherWay(context, parent, channel);
  const { closesAt } = parent;
  const verdict = await requireLetTo(context, sender, { message, grant: { address: checked.address }, closesAt });
  return { parent, sender, handling, floor, verdict, address: checked.address };
}

/** The place of one reader more among those there are. @throws Problem `reads-already`, `invalid-input` */
async function nextPlace(
  context: Context,
  { parent, sender, address }: Passing,
  transaction: Transaction,
): Promise<number> {
  const others = await GrantRow.findAll({
    where: { messageId: parent.messageId },
    attributes: ['address', 'state', 'position'],
    transaction,
  });
  const { maxRecipients } = context.config.office.limits;
  if (others.length >= maxRecipients) throw invalid(`At most ${maxRecipients} people may read one message.`);
  const isTheirs = (one: string): boolean => addressKey(one) === addressKey(address);
  if (others.some((one) => one.state === 'held' && isTheirs(one.address)) || isTheirs(sender.address))
    throw new Problem('reads-already', 409, 'This person can read it already');
  return Math.max(...others.map(({ position }) => position)) + 1;
}

async function passOn(
  context: Context,
  passing: Passing,
  { id, name, houseShare, wrappedKey, readerShare }: Forward,
  way: Awaited<ReturnType<typeof keptChannel>>,
): Promise<void> {
  const { parent, sender, handling, floor, verdict, address } = passing;
  const { messageId } = parent;
  await context.db.transaction(async (transaction) => {
    // The message's row is locked, so that two readers at once don't name the same person twice; not its key, or
    // whoever records an event while holding an access would wait for us as we wait for them.
    await MessageRow.findByPk(messageId, {
      transaction,
      lock: transaction.LOCK.NO_KEY_UPDATE,
      attributes: ['id'],
    });
    const held = await heldFor(context, room, parent.id, transaction);
    await makeAccess(
      context,
      {
        id,
        name,
        houseShare,
        wrappedKey,
        messageId,
        owner: sender,
        handling,
        floor,
        parentId: parent.id,
        position: await nextPlace(context, passing, transaction),
        address,
        role: 'cc',
        closesAt: held.closes_at,
        arrivesAt: context.clock(),
        reader: { kind: 'link', readerShare, way, language: parent.language ?? 'en', registeredId: null },
      },
      transaction,
    );
    await noteTells(context, messageId, verdict, transaction);
    await record(context, { messageId, grantId: id, kind: 'passed-on' }, transaction);
  });
}

/** @throws Problem `right-not-given`, `reads-already`, `audience`, `breaks-rule`, `below-preset`, `own-number`, `invalid-input` */
export async function forward(context: Context, grantId: string, input: Forward): Promise<void> {
  const passing = await mayBePassedOn(context, grantId, input);
  const way = await keptChannel(context, input.id, passing.address, input.channel, passing.sender);
  try {
    await passOn(context, passing, input, way);
  } catch (error) {
    // The same number again: a repeated click whose first answer was lost.
    if (!(error instanceof UniqueConstraintError)) throw error;
    if ((await GrantRow.count({ where: { id: input.id, parentId: grantId } })) === 0)
      throw new Problem('conflict', 409, 'This number is taken');
  }
}

export async function listForwards(context: Context, grantId: string) {
  await heldFor(context, room, grantId);
  const children = await GrantRow.findAll({ where: { parentId: grantId }, order: ['position'] });
  return children.map(({ name, address, state, closesAt, noticeAt }) => ({
    name,
    address,
    at: noticeAt ?? context.clock(),
    state: state === 'held' && closesAt <= context.clock() ? ('closed' as const) : state,
  }));
}
