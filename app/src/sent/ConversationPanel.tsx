/** The conversation a message belongs to: what was sent and received, oldest first, each a way to its page. */
import { getConversation } from '@under-lock/contract/outgoing';
import { momentInWords } from '@under-lock/core/when';
import { Line, Panel, Row, Section, StateMark, Text } from '@under-lock/ui';
import { StyleSheet } from 'react-native';
import { LinkArea } from '../shell/LinkArea';
import useSWR from 'swr';
import { api } from '../api';
import { live } from '../live/live';
import { openSent } from '../vault/useVault';
import { door } from '../threads/main/door';
import { summarySchema } from '@under-lock/core/outgoing/draft';
import { who } from '../handling/grant-words';
import { heldMark } from '../handling/held-mark';

interface Entry {
  key: string;
  href: string;
  line: string;
  subject: string | undefined;
  at: Date;
  mark: { tone: 'wants' | 'over'; word: string } | undefined;
}

async function fetchConversation(id: string): Promise<Entry[]> {
  const { messages } = await api(getConversation, { params: { id } });
  const sent = messages.flatMap((one) => (one.kind === 'sent' ? [{ id: one.messageId, sealed: one.summary }] : []));
  const received = messages.flatMap((one) =>
    one.kind === 'received' && one.sealed !== undefined ? [{ grantId: one.grantId, ...one.sealed }] : [],
  );
  const mails = messages.flatMap((one) => (one.kind === 'mail' ? [one] : []));
  const [summaries, subjects, heads] = await Promise.all([
    openSent(summarySchema, sent),
    door().received.subjects(received),
    door().received.incoming(mails),
  ]);
  const headOf = new Map(mails.map(({ id: key }, index) => [key, heads[index]]));
  const subjectOf = new Map<string, string | undefined>([
    ...sent.map(({ id: key }, index): [string, string | undefined] => [key, summaries[index]?.subject]),
    ...received.map(({ grantId }, index): [string, string | undefined] => [grantId, subjects[index]]),
  ]);
  return messages.map((one): Entry => {
    if (one.kind === 'mail') {
      const head = headOf.get(one.id);
      return {
        key: one.id,
        href: `/mail/in/${one.id}`,
        line: `From ${head === undefined ? 'somebody' : who(head.from)}`,
        subject: head?.subject,
        at: one.at,
        mark: one.unread ? { tone: 'wants', word: 'Unread' } : undefined,
      };
    }
    return one.kind === 'sent'
      ? {
          key: one.messageId,
          href: `/mail/${one.messageId}`,
          line: `You to ${one.to.map(who).join(', ')}`,
          subject: subjectOf.get(one.messageId),
          at: one.at,
          mark: undefined,
        }
      : {
          key: one.grantId,
          href: `/mail/received/${one.grantId}`,
          line: `From ${who(one.from)}`,
          subject: subjectOf.get(one.grantId),
          at: one.at,
          mark: heldMark(one),
        };
  });
}

export function ConversationPanel({
  conversationId,
  here,
  now,
  zone,
}: {
  conversationId: string;
  here: string;
  now: Date;
  zone: string;
}) {
  const { data: entries } = useSWR(['conversation', conversationId], () => fetchConversation(conversationId), {
    use: [live('sent', 'received')],
  });
  if (entries === undefined || entries.length < 2) return null;
  return (
    <Section title="The conversation" aside={String(entries.length)}>
      <Panel>
        {entries.map(({ key, href, line, subject, at, mark }, index) => {
          const words = (
            <Line last={index === entries.length - 1}>
              <Row style={styles.between}>
                <Text kind={key === here ? 'strong' : 'body'} style={styles.wrap}>
                  {key === here ? `${line} (this one)` : line}
                </Text>
                {mark === undefined ? null : <StateMark {...mark} />}
              </Row>
              <Text
                kind="small"
                tone="soft"
                style={styles.wrap}
              >{`${subject ?? 'No longer readable'} · ${momentInWords(at, now, zone)}`}</Text>
            </Line>
          );
          return key === here ? (
            <Row key={key} style={styles.whole}>
              {words}
            </Row>
          ) : (
            <LinkArea key={key} href={href} label={`${line}, ${momentInWords(at, now, zone)}`} style={styles.whole}>
              {words}
            </LinkArea>
          );
        })}
      </Panel>
    </Section>
  );
}

const styles = StyleSheet.create({
  between: { justifyContent: 'space-between', flexWrap: 'nowrap', alignItems: 'flex-start' },
  wrap: { flexShrink: 1, overflowWrap: 'anywhere' } as object,
  whole: { display: 'flex', flexDirection: 'column', alignItems: 'stretch' },
});
