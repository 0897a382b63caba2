/**
 * What exactly left the house: the notices, rebuilt byte for byte and checked against what was recorded, and the held
 * content, opened again.
 */
import { toHex, sha256 } from '@under-lock/core/bytes';
import { buildNotice } from '@under-lock/core/locks/carried/notice';
import { type Notice, noticeText } from '@under-lock/core/notice/notice';
import { momentInWords, sizeInWords } from '@under-lock/core/when';
import { Banner, Button, Line, Loading, Panel, Row, Section, StateMark, Text } from '@under-lock/ui';
import { HtmlFrame } from '@under-lock/ui/html-frame';
import { useLocalSearchParams } from 'expo-router';
import { useState } from 'react';
import { StyleSheet } from 'react-native';
import useSWR from 'swr';
import { useNow, zone } from '../clock';
import { queryOf } from '../find/asked';
import { useAsked } from '../find/useAsked';
import { useOffice } from '../session/useOffice';
import { problemWords } from '../problem-words';
import { useOpenSession } from '../session/session';
import { WayLink } from '../shell/WayLink';
import { Screen } from '../shell/Screen';
import { door } from '../threads/main/door';
import { noticesOf } from './notices';
import { MessageViewLater } from './MessageViewLater';
import { listed } from '../handling/words';
import { type Sent, useSentMessage } from './useSent';
import { who } from '../handling/grant-words';

/**
 * Made again from what is known, with the sealed content where that went along. In the worker: a carried page is as
 * large as its files.
 */
const madeAgain = (notice: Notice, blobId: string | undefined): Promise<Uint8Array> =>
  notice.carried === undefined ? sha256(buildNotice(notice)) : door().message.noticeHash(notice, blobId!);

function NoticeView({
  notice,
  recorded,
  blobId,
  now,
}: {
  notice: Notice;
  recorded: Uint8Array;
  blobId: string | undefined;
  now: Date;
}) {
  const isGone = notice.carried !== undefined && blobId === undefined;
  const { data: matches } = useSWR(
    isGone ? null : ['notice-hash', notice.messageId, toHex(recorded)],
    async () => toHex(await madeAgain(notice, blobId)) === toHex(recorded),
  );
  const [open, setOpen] = useState(false);
  const { subject, html } = noticeText(notice);
  return (
    <>
      <Row>
        <Text kind="strong">{subject}</Text>
        {matches === undefined ? null : matches ? (
          <StateMark tone="done" word="Exactly this left" />
        ) : (
          <StateMark tone="wants" word="Changed since" />
        )}
      </Row>
      <Text kind="small" tone="soft">{`To ${notice.recipient.address}, ${momentInWords(notice.date, now, zone)}`}</Text>
      {notice.carried === undefined ? null : (
        <Text kind="small" tone="soft">
          {isGone
            ? 'It brought the sealed content along as a file. That has been deleted here, so the notice can’t be made again and compared.'
            : 'It brought the sealed content along as a file.'}
        </Text>
      )}
      {matches === false ? (
        <Text kind="small" tone="soft">
          The closing date or the way of the passcode has changed since this notice left, so it read differently then.
        </Text>
      ) : null}
      <Row>
        <Button
          label={open ? 'Hide' : 'Look'}
          describe={`${open ? 'Hide' : 'Look'} at the notice to ${who(notice.recipient)}`}
          expanded={open}
          onPress={() => setOpen(!open)}
        />
      </Row>
      {open ? <HtmlFrame html={html} title={subject} /> : null}
    </>
  );
}

const heldWords = (grants: Sent['grants']): string => {
  const carried = grants.filter((grant) => grant.carried).length;
  if (carried === 0) return 'The message itself stayed here, sealed; the server can’t open it.';
  return carried === grants.length
    ? 'The message itself went with them as a file, sealed; neither the server nor a mail host can open it.'
    : 'The message itself stayed here, sealed, and went along as a sealed file to whoever got a carried page; neither the server nor a mail host can open it.';
};

function leftWords({ grants, copyMails, handling }: Sent & { copyMails: readonly { lock: string }[] }): string {
  const mail = handling.clear
    ? 'ordinary mail, which anybody on its way could read'
    : copyMails.some(({ lock }) => lock === 'file')
      ? 'mail under lock: what is locked in it only its recipients and you can open'
      : 'encrypted mail, which only its recipients and you can open';
  if (copyMails.length === 0) return `By mail went only the notices below. ${heldWords(grants)}`;
  return grants.length === 0
    ? `What left is ${mail}. What is kept here is your own copy, sealed; the server can’t open it.`
    : `What left is ${mail}, and the notices below. ${heldWords(grants)}`;
}

type Message = NonNullable<ReturnType<typeof useSentMessage>['data']>;

const inGroups = (bytes: Uint8Array): string =>
  toHex(bytes)
    .match(/.{1,8}/g)!
    .join(' ');

function CopyMails({ mails }: { mails: Message['copyMails'] }) {
  return (
    <Section title="Mail" aside={String(mails.length)}>
      <Panel>
        {mails.map(({ id, size, sha256: hash, mailId, addresses }, index) => (
          <Line key={id} last={index === mails.length - 1}>
            <Text
              style={styles.wrap}
            >{`To ${listed(addresses, 'and')}: ${sizeInWords(size)}, made in your browser and sent as it was.`}</Text>
            <Text kind="small" tone="soft" style={styles.wrap}>{`Message-ID ${mailId}. SHA-256 of the mail:`}</Text>
            <Text kind="mono" style={styles.wrap}>
              {inGroups(hash)}
            </Text>
            <Text kind="small" tone="soft">
              Its bytes are not kept once they are delivered. Save theirs as a file, without what mail hosts put in
              front, and its SHA-256 is the same.
            </Text>
          </Line>
        ))}
      </Panel>
    </Section>
  );
}

function Notices({
  notices,
  blobId,
  now,
}: {
  notices: ReturnType<typeof noticesOf>;
  blobId: string | undefined;
  now: Date;
}) {
  return (
    <Section title="Notices" aside={String(notices.length)}>
      <Panel>
        {notices.length === 0 ? (
          <Line last>
            <Text tone="soft">No notice has left yet.</Text>
          </Line>
        ) : (
          notices.map((one, index) => (
            <Line key={one.notice.messageId} last={index === notices.length - 1}>
              <NoticeView {...one} blobId={blobId} now={now} />
            </Line>
          ))
        )}
      </Panel>
    </Section>
  );
}

/** What is kept at the server, opened here with the sender's own key. */
function Held({ message, officeName, now }: { message: Message; officeName: string; now: Date }) {
  const { account } = useOpenSession();
  const blobId = message.contentBlobId;
  const key = message.opened?.key;
  const { data: content, error } = useSWR(
    blobId === undefined || key === undefined ? null : ['held', blobId],
    () => door().message.openSent(blobId!, key!),
    { revalidateOnFocus: false, revalidateIfStale: false },
  );
  if (blobId === undefined)
    return (
      <Panel>
        <Line last>
          <Text>
            The sealed content has been deleted. Nobody can read it any more, and access can’t be given again.
          </Text>
        </Line>
      </Panel>
    );
  if (error !== undefined) return <Banner tone="brick">{problemWords(error)}</Banner>;
  if (content === undefined)
    return (
      <Panel>
        <Loading what="Fetching and opening what is held" />
      </Panel>
    );
  return (
    <Panel>
      <Line>
        <Text kind="small">{`Sealed with AES-256-GCM as an OpenPGP message, ${sizeInWords(content.sealedSize)}`}</Text>
        <Text kind="small" tone="soft">
          SHA-256 of the sealed bytes
        </Text>
        <Text kind="mono" style={styles.wrap}>
          {inGroups(content.sha256)}
        </Text>
      </Line>
      <Line last>
        <MessageViewLater
          content={content.content}
          handling={message.handling}
          reader={account}
          officeName={officeName}
          now={now}
          pdfBase="/pdf"
          headingLevel={2}
          free={message.grants.length === 0}
          onUse={async () => undefined}
        />
      </Line>
    </Panel>
  );
}

function heldTitle(grants: Sent['grants']): string {
  if (grants.length === 0) return 'Your own sealed copy';
  return grants.every(({ carried }) => carried) ? 'Your own sealed copy, the same bytes' : 'Held in the reading room';
}

export function LeftScreen() {
  const { id } = useLocalSearchParams<{ id: string }>();
  const { data: message, error } = useSentMessage(id);
  const { data: office } = useOffice();
  const { account } = useOpenSession();
  const now = useNow();
  const { asked } = useAsked();
  const back = <WayLink href={`/mail/${id}${queryOf(asked)}`} label="Message" />;
  if (message === undefined || office === undefined)
    return (
      <Screen title="What left the house" back={back}>
        {error === undefined ? (
          <Loading what="Opening the message" />
        ) : (
          <Banner tone="brick">{problemWords(error)}</Banner>
        )}
      </Screen>
    );
  return (
    <Screen title="What left the house" back={back}>
      <Text>{leftWords(message)}</Text>
      {message.copyMails.length === 0 ? null : <CopyMails mails={message.copyMails} />}
      {message.grants.length === 0 ? null : (
        <Notices notices={noticesOf(message, account, office)} blobId={message.contentBlobId} now={now} />
      )}
      <Section title={heldTitle(message.grants)}>
        <Held message={message} officeName={office.name} now={now} />
      </Section>
    </Screen>
  );
}

const styles = StyleSheet.create({ wrap: { overflowWrap: 'anywhere' } as object });
