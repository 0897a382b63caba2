/** Who can still read what of an account, by person, and ending it across messages. */
import { type Reply } from '@under-lock/contract/client';
import { type listAccesses as listAccessesEndpoint, type OpenReader } from '@under-lock/contract/outgoing';
import { addressKey } from '@under-lock/core/people/address';
import { type Context } from '../context';
import { rows } from '../data/database';
import { sentSummaries } from '../vault/vault';
import { endGrants, grantOf, grantsOf, seenIn } from './grants';

const MAX_READERS = 5000;

export async function listReaders(context: Context, accountId: string): Promise<OpenReader[]> {
  const found = await rows<{
    address: string;
    name: string;
    accesses: number;
    opened: number;
    messages: number;
    latest: Date;
  }>(
    context.db,
    `SELECT lower(g.address) AS address, (array_agg(g.name ORDER BY (g.name = ''), m.sent_at DESC))[1] AS name, count(*)::int AS accesses, count(*) FILTER (WHERE g.open_count > 0)::int AS opened,
       count(DISTINCT g.message_id)::int AS messages, max(g.closes_at) AS latest
     FROM grants g JOIN messages m ON m.id = g.message_id
     WHERE g.account_id = $1 AND g.state = 'held' AND g.closes_at > $2 AND m.sender_grant_id IS NULL GROUP BY lower(g.address) ORDER BY split_part(lower(g.address), '@', 2), lower(g.address) LIMIT ${MAX_READERS}`,
    [accountId, context.clock()],
  );
  return found;
}

const SHOWN_ACCESSES = 100;

interface HeldBy {
  id: string;
  message_id: string;
  sent_at: Date;
}

export async function listAccesses(
  context: Context,
  accountId: string,
  address: string,
): Promise<Reply<typeof listAccessesEndpoint>> {
  const now = context.clock();
  const held = await rows<HeldBy>(
    context.db,
    `SELECT g.id, g.message_id, m.sent_at FROM grants g JOIN messages m ON m.id = g.message_id
     WHERE g.account_id = $1 AND g.state = 'held' AND g.closes_at > $2 AND lower(g.address) = $3 AND m.sender_grant_id IS NULL
     ORDER BY g.closes_at, g.id`,
    [accountId, now, addressKey(address)],
  );
  const shown = held.slice(0, SHOWN_ACCESSES);
  const messageIds = [...new Set(shown.map(({ message_id: id }) => id))];
  const [grants, summaryOf] = await Promise.all([
    grantsOf(context, messageIds),
    sentSummaries(context, accountId, messageIds),
  ]);
  const byId = new Map(grants.map((grant) => [grant.id, grant]));
  const seen = seenIn(grants);
  return {
    accesses: shown.flatMap(({ id, message_id: messageId, sent_at: sentAt }) => {
      const row = byId.get(id);
      return row === undefined
        ? []
        : [{ messageId, sentAt, summary: summaryOf(messageId), grant: grantOf(row, now, seen(row), byId) }];
    }),
    total: held.length,
  };
}

export async function withdrawFromReaders(
  context: Context,
  accountId: string,
  addresses: string[],
): Promise<{ withdrawn: number; hadOpened: number; messages: number }> {
  const keys = addresses.map(addressKey);
  return context.db.transaction(async (transaction) => {
    const held = await rows<{ id: string }>(
      context.db,
      `SELECT g.id FROM grants g JOIN messages m ON m.id = g.message_id WHERE g.account_id = $1 AND g.state = 'held' AND m.sender_grant_id IS NULL AND lower(g.address) = ANY($2) ORDER BY g.id FOR UPDATE OF g`,
      [accountId, keys],
      transaction,
    );
    const ended = await endGrants(context, held, { state: 'withdrawn', at: context.clock() }, transaction);
    return {
      withdrawn: ended.length,
      hadOpened: ended.filter(({ hadOpened }) => hadOpened).length,
      messages: new Set(ended.map(({ messageId }) => messageId)).size,
    };
  });
}
