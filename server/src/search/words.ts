/** The sealed words that messages are found by. */
import { type Reply } from '@under-lock/contract/client';
import { type fetchWords } from '@under-lock/contract/search';
import { type Transaction } from 'sequelize';
import { type Context } from '../context';
import { rows, run } from '../data/database';

export const keepWords = (
  context: Context,
  messageId: string,
  words: Uint8Array,
  transaction: Transaction,
): Promise<unknown> =>
  run(context.db, 'UPDATE messages SET sealed_words = $2 WHERE id = $1', [messageId, Buffer.from(words)], transaction);

interface WordsRow {
  id: string;
  sealed_words: Buffer;
}
const wordsOf = ({ id, sealed_words: sealed }: WordsRow) => ({ id, sealed: new Uint8Array(sealed) });

export async function wordsFor(
  context: Context,
  accountId: string,
  asked: { sent: string[]; mails: string[]; held: string[] },
): Promise<Reply<typeof fetchWords>> {
  const [sent, mails, held] = await Promise.all([
    rows<WordsRow>(
      context.db,
      `SELECT id, sealed_words FROM messages WHERE account_id = $1 AND id = ANY($2) AND sender_grant_id IS NULL AND sealed_words IS NOT NULL`,
      [accountId, asked.sent],
    ),
    rows<WordsRow>(
      context.db,
      `SELECT id, sealed_words FROM incoming WHERE account_id = $1 AND id = ANY($2) AND deleted_at IS NULL AND sealed_words IS NOT NULL`,
      [accountId, asked.mails],
    ),
    rows<{ id: string }>(
      context.db,
      `SELECT id FROM grants WHERE reader_account_id = $1 AND reader_kind = 'account' AND id = ANY($2) AND state = 'held' AND closes_at > $3`,
      [accountId, asked.held, context.clock()],
    ),
  ]);
  return { sent: sent.map(wordsOf), mails: mails.map(wordsOf), held: held.map(({ id }) => id) };
}
