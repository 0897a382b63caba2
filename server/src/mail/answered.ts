/** What a message or a mail answers: by the number it has here, or by the Message-IDs it names (RFC 5322 §3.6.4). */
import { type Context } from '../context';
import { rows } from '../data/database';

const PURPOSE = 'incoming-mail-id';

/** Message-IDs of other people's programs are kept as keyed hashes: they name hosts and sometimes people. */
export const mailIdHash = ({ secrets }: Context, id: string): Buffer => secrets.keyedHash(PURPOSE, id);

interface Known {
  conversation_id: string;
  by_notice: boolean;
  had_lock: boolean | null;
  text_open: boolean;
}

export interface Answered {
  conversationId: string;
  /** It is the mail that told of a message. */
  byNotice: boolean;
  /** Undefined of mail that came in before this was kept. */
  hadLock: boolean | undefined;
  /** Of it only the files were locked. */
  textOpen: boolean;
}

/**
 * The newest thing of this account's that it answers: a copy, a notice, a mail before, or what a mail program of theirs
 * wrote under that Message-ID.
 */
export async function answeredByIds(
  { db, secrets }: Context,
  accountId: string,
  ids: readonly string[],
): Promise<Answered | undefined> {
  if (ids.length === 0) return undefined;
  const [found] = await rows<Known>(
    db,
    `SELECT conversation_id, by_notice, coalesce(had_lock, NOT (handling->>'clear')::boolean) AS had_lock, coalesce((handling->>'textOpen')::boolean, false) AS text_open FROM (
       SELECT m.conversation_id, m.sent_at AS at, false AS by_notice, NULL::boolean AS had_lock, m.handling FROM copies c JOIN messages m ON m.id = c.message_id WHERE c.account_id = $1 AND c.mail_id = ANY($2)
       UNION ALL SELECT m.conversation_id, m.sent_at, true, NULL, m.handling FROM outbox o JOIN grants g ON g.id = o.grant_id JOIN messages m ON m.id = g.message_id WHERE g.account_id = $1 AND o.message_id_header = ANY($2)
       UNION ALL SELECT conversation_id, sent_at, false, NULL, handling FROM messages WHERE account_id = $1 AND mail_id_hash = ANY($3)
       UNION ALL SELECT conversation_id, arrived_at, false, had_lock, NULL FROM incoming WHERE account_id = $1 AND mail_id_hash = ANY($3)
     ) AS known ORDER BY at DESC LIMIT 1`,
    [accountId, ids, ids.flatMap((id) => secrets.keyedHashes(PURPOSE, id))],
  );
  return (
    found && {
      conversationId: found.conversation_id,
      byNotice: found.by_notice,
      hadLock: found.had_lock ?? undefined,
      textOpen: found.text_open,
    }
  );
}

/** Of mail that came to this account, by its number here. */
export async function answeredMail(
  { db }: Context,
  accountId: string,
  id: string,
): Promise<Omit<Answered, 'byNotice'> | undefined> {
  const [found] = await rows<Pick<Known, 'conversation_id' | 'had_lock'>>(
    db,
    'SELECT conversation_id, had_lock FROM incoming WHERE id = $1 AND account_id = $2',
    [id, accountId],
  );
  return found && { conversationId: found.conversation_id, hadLock: found.had_lock ?? undefined, textOpen: false };
}
