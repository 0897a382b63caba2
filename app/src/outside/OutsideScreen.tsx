/** The outside world: mailboxes and phones of the demo's people, and how their hosts behave. */
import { MAIL_BEHAVIOURS, PHONE_BEHAVIOURS } from '@under-lock/contract/outside';
import { momentInWords } from '@under-lock/core/when';
import { Choice, Line, Loading, Panel, Row, Section, StateMark, Text } from '@under-lock/ui';
import { View } from 'react-native';
import { useNow, zone } from '../clock';
import { useOffice } from '../session/useOffice';
import { LinkArea } from '../shell/LinkArea';
import { WayLink } from '../shell/WayLink';
import { Page, silent, styles } from './Page';
import { setBehaviour, useBehaviour, useMailboxes, usePhones } from './useOutside';

export function OutsideScreen() {
  const { data: office } = useOffice();
  const { data: boxes, error } = useMailboxes();
  const { data: phones } = usePhones();
  const now = useNow();
  return (
    <Page title="Outside world" back={<WayLink href="/desk" label="Into the office" />}>
      <Text tone="soft">
        Other people’s mailboxes and phones, made up for trying things out. In a real office these are real.
      </Text>
      {error !== undefined || (office !== undefined && office.outsideUrl === undefined) ? silent : null}
      <Section title="Mailboxes">
        <Panel>
          {boxes === undefined ? (
            <Loading what="Looking into the mailboxes" />
          ) : (
            boxes.mailboxes.map(({ address, count, unread, junk, latest }, index) => (
              <LinkArea
                key={address}
                href={`/outside/mailbox/${encodeURIComponent(address)}`}
                label={`Mailbox ${address}, ${count} mails`}
              >
                <Line last={index === boxes.mailboxes.length - 1}>
                  <Row style={styles.between}>
                    <Text kind="strong" style={styles.wrap}>
                      {address}
                    </Text>
                    {unread > 0 ? <StateMark tone="wants" word={`${unread} new`} /> : null}
                  </Row>
                  <Text kind="small" tone="soft">
                    {count === 0
                      ? 'Empty'
                      : `${count} ${count === 1 ? 'mail' : 'mails'}${junk === 0 ? '' : `, ${junk} in junk`}${latest === undefined ? '' : ` · newest ${momentInWords(latest, now, zone)}`}`}
                  </Text>
                </Line>
              </LinkArea>
            ))
          )}
        </Panel>
      </Section>
      <Section title="Phones">
        <Panel>
          {phones === undefined ? (
            <Loading what="Looking at the phones" />
          ) : (
            phones.phones.map(({ number, owner, texts }, index) => (
              <Line key={number} last={index === phones.phones.length - 1}>
                <Text kind="strong">{owner === '' ? number : `${owner}, ${number}`}</Text>
                {texts.length === 0 ? (
                  <Text kind="small" tone="soft">
                    No texts or calls
                  </Text>
                ) : (
                  texts.map((text) => (
                    <View key={text.id}>
                      <Text
                        kind="small"
                        tone="soft"
                      >{`${momentInWords(text.at, now, zone)}${text.spoken ? ' · a call, read out:' : ''}`}</Text>
                      <Text selectable>{text.text}</Text>
                    </View>
                  ))
                )}
              </Line>
            ))
          )}
        </Panel>
      </Section>
      <Behaviours />
    </Page>
  );
}

const mailWords: Record<(typeof MAIL_BEHAVIOURS)[number], string> = {
  deliver: 'Takes every mail',
  junk: 'Files mail as junk',
  slow: 'Is slow',
  refuse: 'Refuses every mail',
  bounce: 'Takes mail and sends it back',
  down: 'Is down for now',
};
const phoneWords: Record<(typeof PHONE_BEHAVIOURS)[number], string> = {
  deliver: 'Delivers every text',
  slow: 'Is slow',
  refuse: 'Refuses every text',
  down: 'Is down',
};

function Behaviours() {
  const { data: office } = useOffice();
  const { data: behaviour } = useBehaviour();
  if (behaviour === undefined || office?.outsideUrl === undefined) return null;
  const url = office.outsideUrl;
  return (
    <Section title="How it behaves">
      <Panel>
        <Line>
          <Choice
            label="The mail host"
            value={behaviour.mail}
            onChange={(mail) => void setBehaviour(url, { ...behaviour, mail })}
            options={MAIL_BEHAVIOURS.map((value) => ({ value, label: mailWords[value] }))}
          />
        </Line>
        <Line last>
          <Choice
            label="The phone operator"
            value={behaviour.phone}
            onChange={(phone) => void setBehaviour(url, { ...behaviour, phone })}
            options={PHONE_BEHAVIOURS.map((value) => ({ value, label: phoneWords[value] }))}
          />
        </Line>
      </Panel>
    </Section>
  );
}
