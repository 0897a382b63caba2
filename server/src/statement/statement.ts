/** A signed statement of which accesses to a message have ended. Says only what the records hold at that moment. */
import { defined } from '@under-lock/core/defined';
import { createHash, randomUUID } from 'node:crypto';
import { partCount } from '@under-lock/contract/blob';
import {
  type AnyStatement,
  type StatedAccess,
  type StatedOpening,
  type Statement,
  STATEMENT_FORMAT,
  type StatementFile,
} from '@under-lock/core/statement/format';
import { signStatement } from '@under-lock/core/statement/statement';
import { Op } from 'sequelize';
import { readPart } from '../blob/blob';
import { type Context } from '../context';
import { type AccountRow, GrantRow, MessageRow } from '../data/models';
import { statementSigner } from './statement-key';
import { byAccount, telling } from '../log/log';
import { notFound, Problem } from '../problem';
import { endGrants, record, type Seen, seenIn } from '../access/grants';

async function contentHash(context: Context, { contentBlobId, size }: MessageRow): Promise<string | undefined> {
  if (contentBlobId === null) return undefined;
  const hash = createHash('sha256');
  for (let index = 0; index < partCount(Number(size)); index++)
    hash.update(await readPart(context, contentBlobId, index));
  return hash.digest('hex');
}

/** One that they sent. @throws Problem `not-found` */
export async function ownMessage({ id: accountId }: AccountRow, id: string): Promise<MessageRow> {
  const message = await MessageRow.findOne({ where: { id, accountId, senderGrantId: null } });
  if (message === null) throw notFound('This message');
  return message;
}

/** What every statement begins with. */
export async function aboutMessage(
  context: Context,
  sender: AccountRow,
  message: MessageRow,
): Promise<Pick<AnyStatement, 'id' | 'madeAt' | 'office' | 'message'>> {
  const { office } = context.config;
  return {
    id: randomUUID(),
    madeAt: context.clock().toISOString(),
    office: { name: office.name, domain: office.mailDomain },
    message: {
      id: message.id,
      reference: message.reference,
      sentAt: message.sentAt.toISOString(),
      sender: { name: sender.name, address: message.senderAddress ?? sender.address },
      ...defined({ contentSha256: await contentHash(context, message) }),
    },
  };
}

export const openingOf = ({ count, first, last }: Seen): StatedOpening => ({
  count,
  ...(first === null ? {} : { first: first.toISOString() }),
  ...(last === null ? {} : { last: last.toISOString() }),
});

/** `backupDays`: for how long what was in the database lies in the office's backups. */
function stated(
  { id, name, address, state, endedAt, houseShare, wrappedKey }: GrantRow,
  seen: Seen,
  backupDays: number,
): StatedAccess {
  if (state === 'held' || houseShare !== null || wrappedKey !== null)
    throw new Error('An access that has ended holds means');
  return {
    id,
    reader: { name, address },
    state,
    endedAt: endedAt!.toISOString(),
    given: false,
    backupsUntil: new Date(endedAt!.getTime() + backupDays * 86_400_000).toISOString(),
    opened: openingOf(seen),
  };
}

/**
 * Closes what is past its date first: a statement never says "ended" of what still holds means. @throws Problem
 * `not-found`, `conflict` when nothing has ended
 */
export async function makeStatement(
  context: Context,
  sender: AccountRow,
  messageId: string,
  grantIds: string[],
): Promise<StatementFile> {
  const message = await ownMessage(sender, messageId);
  const now = context.clock();
  await context.db.transaction(async (transaction) => {
    const due = await GrantRow.findAll({
      where: { messageId, state: 'held', closesAt: { [Op.lte]: now } },
      attributes: ['id'],
      lock: transaction.LOCK.UPDATE,
      transaction,
    });
    if (due.length > 0) await endGrants(context, due, { state: 'closed', at: now }, transaction);
  });
  const all = await GrantRow.findAll({ where: { messageId }, order: ['position', 'id'] });
  const ended = all.filter(({ id, state }) => state !== 'held' && grantIds.includes(id));
  if (ended.length === 0) throw new Problem('conflict', 409, 'None of these accesses has ended');
  const seen = seenIn(all);
  const statement: Statement = {
    format: STATEMENT_FORMAT,
    ...(await aboutMessage(context, sender, message)),
    ended: ended.map((row) => stated(row, seen(row), context.config.office.backupDays)),
    stillOpen: all.filter(({ state }) => state === 'held').length,
  };
  return signed(context, sender, statement, 'statement-made');
}

/** Signed, and put down with the message and in the office's log. */
export async function signed<Of extends AnyStatement>(
  context: Context,
  sender: AccountRow,
  statement: Of,
  kind: 'statement-made' | 'delivery-stated',
): Promise<StatementFile<Of>> {
  const messageId = statement.message.id;
  const signer = await statementSigner(context);
  const jws = await signStatement(statement, signer.id, signer.sign);
  await telling(
    context,
    { kind: 'statement-made', actor: byAccount(sender.id), about: { message: messageId, statement: statement.id } },
    (transaction) => record(context, { messageId, kind }, transaction),
  );
  return { statement, jws, key: signer.key };
}
