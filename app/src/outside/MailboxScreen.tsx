/** One mailbox of the outside world: what lies in it, and writing from it. */
import { momentInWords, sizeInWords } from '@under-lock/core/when';
import { Empty, Line, Loading, Panel, Row, StateMark, Text } from '@under-lock/ui';
import { useLocalSearchParams } from 'expo-router';
import { useNow, zone } from '../clock';
import { LinkArea } from '../shell/LinkArea';
import { WayLink } from '../shell/WayLink';
import { LetterForm } from './LetterForm';
import { Page, silent, styles } from './Page';
import { useMailbox } from './useOutside';

export function MailboxScreen() {
  const { address } = useLocalSearchParams<{ address: string }>();
  const { data, error } = useMailbox(address);
  const now = useNow();
  return (
    <Page title={address} back={<WayLink href="/outside" label="Outside world" />}>
      {error === undefined ? null : silent}
      {data === undefined ? null : <LetterForm from={address} certificate={data.certificate} openpgp={data.openpgp} />}
      <Panel>
        {data === undefined ? (
          <Loading what="Looking into the mailbox" />
        ) : data.messages.length === 0 ? (
          <Empty title="No mail">Nothing has arrived here yet. This page looks again by itself.</Empty>
        ) : (
          data.messages.map((mail, index) => (
            <LinkArea
              key={mail.id}
              href={`/outside/mail/${mail.id}`}
              label={`${mail.subject}, from ${mail.from.name || mail.from.address}`}
            >
              <Line last={index === data.messages.length - 1}>
                <Row style={styles.between}>
                  <Text kind={mail.read ? 'body' : 'strong'} style={styles.wrap}>
                    {mail.subject}
                  </Text>
                  {mail.junk ? (
                    <StateMark tone="wants" word="Junk" />
                  ) : mail.read ? null : (
                    <StateMark tone="done" word="New" />
                  )}
                </Row>
                <Text
                  kind="small"
                  tone="soft"
                >{`${mail.from.name || mail.from.address} · ${momentInWords(mail.receivedAt, now, zone)} · ${sizeInWords(mail.size)}`}</Text>
              </Line>
            </LinkArea>
          ))
        )}
      </Panel>
    </Page>
  );
}
