/** A conversation as one account sees it: what it sent and what it received, oldest first. */
import { defined } from '@under-lock/core/defined';
import { type getConversation as endpoint } from '@under-lock/contract/outgoing';
import { type Reply } from '@under-lock/contract/client';
import { type Context } from '../context';
import { GrantRow, MessageRow } from '../data/models';
import { sentSummaries } from '../vault/vault';
import { incomingInConversation } from '../incoming/incoming';
import { receivedInConversation } from '../received/received';
import { copiesOf } from '../outgoing/copies';

type Entry = Reply<typeof endpoint>['messages'][number];

const MAX_CONVERSATION = 200;

export async function getConversation(context: Context, accountId: string, conversationId: string): Promise<Entry[]> {
  const sent = await MessageRow.findAll({
    where: { conversationId, accountId, senderGrantId: null },
    order: ['sentAt'],
    limit: MAX_CONVERSATION,
  });
  const ids = sent.map(({ id }) => id);
  const [grants, copied, summaryOf, received, mails] = await Promise.all([
    GrantRow.findAll({
      where: { messageId: ids, replacedBy: null },
      attributes: ['messageId', 'name', 'address'],
      order: ['position'],
    }),
    copiesOf(context, ids),
    sentSummaries(context, accountId, ids),
    receivedInConversation(context, accountId, conversationId, MAX_CONVERSATION),
    incomingInConversation(context, accountId, conversationId, MAX_CONVERSATION),
  ]);
  const entries: Entry[] = [
    ...sent.map(({ id, sentAt }): Entry => ({
      kind: 'sent',
      messageId: id,
      at: sentAt,
      to: [...grants.filter(({ messageId }) => messageId === id), ...(copied.get(id) ?? [])].map(
        ({ name, address }) => ({ name, address }),
      ),
      summary: summaryOf(id),
    })),
    ...received.map(({ grantId, arrivedAt, from, state, unread, sealed }): Entry => ({
      kind: 'received',
      grantId,
      at: arrivedAt,
      from,
      state,
      unread,
      ...defined({ sealed }),
    })),
    ...mails.map(({ id, arrivedAt, unread, sealedKey, sealedSummary }): Entry => ({
      kind: 'mail',
      id,
      at: arrivedAt,
      unread,
      sealedKey,
      sealedSummary,
    })),
  ];
  return entries.sort((a, b) => a.at.getTime() - b.at.getTime());
}
