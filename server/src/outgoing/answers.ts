/** What is known here of whatever a message answers, and what its answer keeps of that. */
import { forAnybody, type Handling, type HandlingTerms, isAsStrict } from '@under-lock/core/handling/handling';
import { keptOfLock } from '@under-lock/core/handling/preset';
import { type Context } from '../context';
import { type AccountRow, GrantRow, MessageRow } from '../data/models';
import { type Answered, answeredByIds, answeredMail } from '../mail/answered';
import { notFound, Problem } from '../problem';
import { type Dispatch } from './handed-over';

/** What a message answers: where it belongs, whether that had a lock, and what an answer to it keeps at the least. */
export interface WhatItAnswers {
  conversationId: string;
  /** Undefined where the server does not know. */
  hadLock: boolean | undefined;
  keeps: HandlingTerms | undefined;
}

const known = (answered: Omit<Answered, 'byNotice'> | undefined): WhatItAnswers | undefined =>
  answered && {
    conversationId: answered.conversationId,
    hadLock: answered.hadLock,
    keeps: keptOfLock(answered),
  };

/**
 * What it answers, where its sender wrote or received that; undefined where it answers nothing that is known here.
 * @throws Problem `not-found`, `right-not-given`
 */
export async function whatItAnswers(
  context: Context,
  sender: AccountRow,
  { inReplyTo, answers = [] }: Pick<Dispatch, 'inReplyTo' | 'answers'>,
): Promise<WhatItAnswers | undefined> {
  if (inReplyTo === undefined) return known(await answeredByIds(context, sender.id, answers));
  const mail = await answeredMail(context, sender.id, inReplyTo);
  if (mail !== undefined) return known(mail);
  const answered = await MessageRow.findByPk(inReplyTo);
  const isOwner = answered?.accountId === sender.id;
  const received =
    answered !== null &&
    !isOwner &&
    (await GrantRow.count({ where: { messageId: inReplyTo, readerAccountId: sender.id } })) > 0;
  if (answered === null || (!isOwner && !received)) throw notFound('The message this answers');
  const { reply, replyAll } = answered.handling.rights;
  if (received && answered.senderGrantId == null && !reply && !replyAll)
    throw new Problem('right-not-given', 403, 'The sender has switched replies off');
  const { conversationId, handling } = answered;
  return { conversationId, hadLock: !handling.clear, keeps: forAnybody(handling) };
}

/**
 * A mail program’s rule lets nothing leave open that answers something locked: nobody has done that on purpose.
 * @throws Problem `below-preset`
 */
export function requireKept(
  handling: Handling,
  { keeps, hadLock }: Omit<WhatItAnswers, 'conversationId'>,
  byProgram: boolean,
): void {
  const isLess = keeps !== undefined && !isAsStrict(handling, { ...keeps, closesAt: handling.closesAt });
  if (isLess || (byProgram && hadLock === true && handling.clear))
    throw new Problem('below-preset', 400, 'This asks less than the message it answers');
}
