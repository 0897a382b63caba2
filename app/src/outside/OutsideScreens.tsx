/** The outside world: mailboxes and phones of the demo's people, and how their hosts behave. */
import { MAIL_BEHAVIOURS, PHONE_BEHAVIOURS } from '@under-lock/contract/outside';
import { momentInWords, sizeInWords } from '@under-lock/core/when';
import { Banner, Button, Choice, Empty, Line, Loading, Panel, Row, Section, StateMark, Text } from '@under-lock/ui';
import { HtmlFrame } from '@under-lock/ui/html-frame';
import { router, useLocalSearchParams } from 'expo-router';
import { type ReactNode, useEffect, useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import { useNow, zone } from '../clock';
import { useOffice } from '../office/useOffice';
import { WayLink } from '../shell/WayLink';
import { Screen } from '../shell/Screen';
import { LetterForm } from './LetterForm';
import { markRead, setBehaviour, useBehaviour, useMail, useMailbox, useMailboxes, usePhones } from './useOutside';

const silent = <Banner tone="amber">The outside world does not answer. It runs beside the office in the demo; a real office has real mail hosts and phones instead.</Banner>;

function Page({ title, back, children }: { title: string; back: ReactNode; children: ReactNode }) {
  return <Screen title={title} back={back}>{children}</Screen>;
}

export function OutsideScreen() {
  const { data: office } = useOffice();
  const { data: boxes, error } = useMailboxes();
  const { data: phones } = usePhones();
  const now = useNow();
  return (
    <Page title="Outside world" back={<WayLink href="/desk" label="Into the office" />}>
      <Text tone="soft">Other people’s mailboxes and phones, made up for trying things out. In a real office these are real.</Text>
      {error !== undefined || (office !== undefined && office.outsideUrl === undefined) ? silent : null}
      <Section title="Mailboxes">
        <Panel>
          {boxes === undefined ? <Loading what="Looking into the mailboxes" /> : boxes.mailboxes.map(({ address, count, unread, junk, latest }, index) => (
            <Pressable key={address} role="link" aria-label={`Mailbox ${address}, ${count} mails`} onPress={() => router.push(`/outside/mailbox/${encodeURIComponent(address)}` as never)}>
              <Line last={index === boxes.mailboxes.length - 1}>
                <Row style={styles.between}>
                  <Text kind="strong" style={styles.wrap}>{address}</Text>
                  {unread > 0 ? <StateMark tone="wants" word={`${unread} new`} /> : null}
                </Row>
                <Text kind="small" tone="soft">{count === 0 ? 'Empty' : `${count} ${count === 1 ? 'mail' : 'mails'}${junk === 0 ? '' : `, ${junk} in junk`}${latest === undefined ? '' : ` · newest ${momentInWords(latest, now, zone)}`}`}</Text>
              </Line>
            </Pressable>
          ))}
        </Panel>
      </Section>
      <Section title="Phones">
        <Panel>
          {phones === undefined ? <Loading what="Looking at the phones" /> : phones.phones.map(({ number, owner, texts }, index) => (
            <Line key={number} last={index === phones.phones.length - 1}>
              <Text kind="strong">{owner === '' ? number : `${owner}, ${number}`}</Text>
              {texts.length === 0 ? <Text kind="small" tone="soft">No texts or calls</Text> : texts.map((text) => (
                <View key={text.id}>
                  <Text kind="small" tone="soft">{`${momentInWords(text.at, now, zone)}${text.spoken ? ' · a call, read out:' : ''}`}</Text>
                  <Text selectable>{text.text}</Text>
                </View>
              ))}
            </Line>
          ))}
        </Panel>
      </Section>
      <Behaviours />
    </Page>
  );
}

const mailWords: Record<(typeof MAIL_BEHAVIOURS)[number], string> = { deliver: 'Takes every mail', junk: 'Files mail as junk', slow: 'Is slow', refuse: 'Refuses every mail', bounce: 'Takes mail and sends it back', down: 'Is down for now' };
const phoneWords: Record<(typeof PHONE_BEHAVIOURS)[number], string> = { deliver: 'Delivers every text', slow: 'Is slow', refuse: 'Refuses every text', down: 'Is down' };

function Behaviours() {
  const { data: office } = useOffice();
  const { data: behaviour } = useBehaviour();
  if (behaviour === undefined || office?.outsideUrl === undefined) return null;
  const url = office.outsideUrl;
  return (
    <Section title="How it behaves">
      <Panel>
        <Line><Choice label="The mail host" value={behaviour.mail} onChange={(mail) => void setBehaviour(url, { ...behaviour, mail })} options={MAIL_BEHAVIOURS.map((value) => ({ value, label: mailWords[value] }))} /></Line>
        <Line last><Choice label="The phone operator" value={behaviour.phone} onChange={(phone) => void setBehaviour(url, { ...behaviour, phone })} options={PHONE_BEHAVIOURS.map((value) => ({ value, label: phoneWords[value] }))} /></Line>
      </Panel>
    </Section>
  );
}

export function MailboxScreen() {
  const { address } = useLocalSearchParams<{ address: string }>();
  const { data, error } = useMailbox(address);
  const now = useNow();
  return (
    <Page title={address} back={<WayLink href="/outside" label="Outside world" />}>
      {error === undefined ? null : silent}
      {data === undefined ? null : <LetterForm from={address} certificate={data.certificate} />}
      <Panel>
        {data === undefined ? <Loading what="Looking into the mailbox" /> : data.messages.length === 0 ? <Empty title="No mail">Nothing has arrived here yet. This page looks again by itself.</Empty> : data.messages.map((mail, index) => (
          <Pressable key={mail.id} role="link" aria-label={`${mail.subject}, from ${mail.from.name || mail.from.address}`} onPress={() => router.push(`/outside/mail/${mail.id}` as never)}>
            <Line last={index === data.messages.length - 1}>
              <Row style={styles.between}>
                <Text kind={mail.read ? 'body' : 'strong'} style={styles.wrap}>{mail.subject}</Text>
                {mail.junk ? <StateMark tone="wants" word="Junk" /> : mail.read ? null : <StateMark tone="done" word="New" />}
              </Row>
              <Text kind="small" tone="soft">{`${mail.from.name || mail.from.address} · ${momentInWords(mail.receivedAt, now, zone)} · ${sizeInWords(mail.size)}`}</Text>
            </Line>
          </Pressable>
        ))}
      </Panel>
    </Page>
  );
}

export function MailScreen() {
  const { id } = useLocalSearchParams<{ id: string }>();
  const { data: office } = useOffice();
  const { data: mail, error } = useMail(id);
  const { data: mailbox } = useMailbox(mail?.mailbox);
  const now = useNow();
  const [source, setSource] = useState(false);
  const url = office?.outsideUrl;
  useEffect(() => {
    if (url !== undefined) void markRead(url, id);
  }, [url, id]);
  if (mail === undefined) return <Page title="Mail" back={<WayLink href="/outside" label="Outside world" />}>{error === undefined ? <Loading what="Opening the mail" /> : silent}</Page>;
  const box = mail.mailbox;
  return (
    <Page title={mail.subject} back={<WayLink href={`/outside/mailbox/${encodeURIComponent(box)}`} label={box} />}>
      <Text kind="small" tone="soft">{`From ${mail.from.name} <${mail.from.address}> · to ${mail.to.map((one) => one.address).join(', ')} · ${momentInWords(mail.receivedAt, now, zone)}`}</Text>
      {mail.lock === undefined ? null : <Banner tone="sea">{`${mail.lock.encrypted ? 'Their mail program opened it with their certificate.' : 'Not encrypted.'} ${mail.lock.signedBy.length === 0 ? 'It is not signed.' : `Signed by ${mail.lock.signedBy.join(' and ')}.`}`}</Banner>}
      {mail.junk ? <Banner tone="amber">Their mail host filed this as junk.</Banner> : null}
      <Panel>
        <Line last>{mail.html === '' ? <Text style={styles.text} selectable>{mail.text}</Text> : <HtmlFrame html={mail.html} title={mail.subject} />}</Line>
      </Panel>
      {mail.files.length === 0 ? null : <Text kind="small">{`Files: ${mail.files.map((file) => `${file.name} (${sizeInWords(file.size)})`).join(', ')}`}</Text>}
      {mailbox === undefined ? null : <LetterForm key={mail.id} from={box} certificate={mailbox.certificate} to={mail.from.address} subject={/^re:/i.test(mail.subject) ? mail.subject : `Re: ${mail.subject}`} answers={mail.thread} />}
      <Row><Button label={source ? 'Hide the source' : 'Show the source'} expanded={source} onPress={() => setSource(!source)} /></Row>
      {source ? <Panel><Line last><Text kind="mono" style={styles.text} selectable>{mail.source}</Text></Line></Panel> : null}
    </Page>
  );
}

const styles = StyleSheet.create({
  between: { justifyContent: 'space-between', alignItems: 'flex-start', flexWrap: 'nowrap' },
  wrap: { overflowWrap: 'anywhere', flexShrink: 1 } as object,
  text: { whiteSpace: 'pre-wrap', overflowWrap: 'anywhere' } as object,
});
