/** Which conversation a mail belongs to by what it says it answers (RFC 5322 §3.6.4). */
import { type Context } from '../context';
import { rows } from '../data/database';

const PURPOSE = 'incoming-mail-id';

/** Message-IDs of other people's programs are kept as keyed hashes: they name hosts and sometimes people. */
export const mailIdHash = ({ secrets }: Context, id: string): Buffer => secrets.keyedHash(PURPOSE, id);

/**
 * The conversation of the newest thing of this account's that it answers: a copy, a notice, a mail before, or what a mail
 * program of theirs wrote under that Message-ID.
 */
export async function conversationAnswered(
  { db, secrets }: Context,
  accountId: string,
  answers: readonly string[],
): Promise<{ id: string; byNotice: boolean } | undefined> {
  if (answers.length === 0) return undefined;
  const [found] = await rows<{ conversation_id: string; by_notice: boolean }>(
    db,
    `SELECT conversation_id, by_notice FROM (
       SELECT m.conversation_id, m.sent_at AS at, false AS by_notice FROM copies c JOIN messages m ON m.id = c.message_id WHERE c.account_id = $1 AND c.mail_id = ANY($2)
       UNION ALL SELECT m.conversation_id, m.sent_at, true FROM outbox o JOIN grants g ON g.id = o.grant_id JOIN messages m ON m.id = g.message_id WHERE g.account_id = $1 AND o.message_id_header = ANY($2)
       UNION ALL SELECT conversation_id, sent_at, false FROM messages WHERE account_id = $1 AND mail_id_hash = ANY($3)
       UNION ALL SELECT conversation_id, arrived_at, false FROM incoming WHERE account_id = $1 AND mail_id_hash = ANY($3)
     ) AS known ORDER BY at DESC LIMIT 1`,
    [accountId, answers, answers.flatMap((id) => secrets.keyedHashes(PURPOSE, id))],
  );
  return found && { id: found.conversation_id, byNotice: found.by_notice };
}
