/** The desk: what needs attention, and what can still be read by whom until when. */
import { type Desk, getDesk } from '@under-lock/contract/outgoing';
import { dayInWords, distanceInWords, momentInWords } from '@under-lock/core/when';
import {
  Banner,
  Button,
  Empty,
  Line,
  Loading,
  Panel,
  Row,
  Section,
  space,
  Stack,
  StateMark,
  type StateTone,
  Text,
  TimeBar,
} from '@under-lock/ui';
import { LockShape } from '@under-lock/ui/lock-shape';
import { router } from 'expo-router';
import { lazy, Suspense, useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import useSWR from 'swr';
import { api } from '../api';
import { useNow, zone } from '../clock';
import { type Summary, summarySchema } from '@under-lock/core/outgoing/draft';
import { copyMark, noticeWords, who } from '../sent/grant-words';
import { tellAgainNow } from '../sent/message-actions';
import { subjectOf } from '../sent/useSent';
import { problemWords } from '../problem-words';
import { listed } from '../handling/words';
import { usePeopleRunningOut } from '../people/running-out';
import { type IncomingWithSummary, withSummaries } from '../received/useReceived';
import { Screen, useWide } from '../shell/Screen';
import { WayLink } from '../shell/WayLink';
import { openSent } from '../vault/useVault';

// The chart library is half as large as everything else on this page: it comes after the words.
const ClosingChart = lazy(async () => ({ default: (await import('./ClosingChart')).ClosingChart }));

type Need = Desk['needs'][number];

/** Where another notice may help. */
const tellable: ReadonlySet<Need['kind']> = new Set(['notice-failed', 'not-opened', 'closing-unopened']);

const useDesk = () =>
  useSWR(
    'desk',
    async () => {
      const desk = await api(getDesk, { query: { zone } });
      const sealed = [
        ...new Map(
          [...desk.needs, ...desk.copiesFailed, ...desk.open].map(({ messageId, summary }) => [
            messageId,
            { id: messageId, sealed: summary },
          ]),
        ).values(),
      ];
      const [opened, answers] = await Promise.all([openSent(summarySchema, sealed), withSummaries(desk.answers)]);
      const summaries = new Map<string, Summary | undefined>(sealed.map(({ id }, index) => [id, opened[index]]));
      return {
        ...desk,
        answers,
        summary: (messageId: string) => summaries.get(messageId),
        subject: (messageId: string) => subjectOf(summaries.get(messageId)),
      };
    },
    { refreshInterval: 5_000 },
  );

function needMark({ kind, grant, sentAt }: Need, now: Date): { tone: StateTone; word: string; sentence: string } {
  const name = who(grant);
  const until = `closes ${momentInWords(grant.closesAt, now, zone)}`;
  switch (kind) {
    case 'notice-failed':
      return {
        tone: grant.notice.state === 'junk' ? 'wants' : 'stopped',
        word: grant.notice.state === 'junk' ? 'In junk' : 'Not reached',
        sentence: `${noticeWords(grant, now)} · ${until}`,
      };
    case 'give-again':
      return {
        tone: 'wants',
        word: 'Asks for it again',
        sentence: `${name} has forgotten their password and can’t open it any more. Give access again on its page · ${until}`,
      };
    case 'other-way':
      return {
        tone: 'wants',
        word: 'Asks for another way',
        sentence: `${name} can’t be reached for the passcode: “${grant.otherWay?.wish ?? ''}” · ${until}`,
      };
    case 'passcode-paused':
      return {
        tone: 'stopped',
        word: 'Passcode stopped',
        sentence: grant.stopped
          ? `${name} has no tries left; only you can let them try again`
          : `Too many wrong passcodes; ${name} can try again ${momentInWords(grant.pausedUntil ?? now, now, zone)}`,
      };
    case 'closing-unopened':
      return {
        tone: 'wants',
        word: 'Closing unread',
        sentence: `${name} has not opened it; ${until}, ${distanceInWords(grant.closesAt, now, zone)}`,
      };
    case 'not-opened':
      return {
        tone: 'wants',
        word: 'Not opened',
        sentence: `Sent ${distanceInWords(sentAt, now, zone)} to ${name} · ${until}`,
      };
    case 'not-for-me':
      return {
        tone: 'stopped',
        word: 'Wrong reader',
        sentence: `Somebody with ${name}’s link said it is not for them. Check the phone or address.`,
      };
  }
}

/** Somebody has answered a request for a signed message. */
function Answer({ mail: { id, summary, arrivedAt, requestId }, now }: { mail: IncomingWithSummary; now: Date }) {
  const from = summary === undefined ? 'Somebody' : summary.from.name || summary.from.address;
  return (
    <Line>
      <Row style={styles.between}>
        <Text kind="strong" style={styles.grow}>
          {requestId === undefined
            ? `${from} has answered, and a key or a certificate came along`
            : `${from} has answered your request for a signed message`}
        </Text>
        <StateMark tone="wants" word="Answered" />
      </Row>
      <Text
        kind="small"
        tone="soft"
      >{`Came ${momentInWords(arrivedAt, now, zone)}. Look at who signed it and at what came along, and keep it; then they can get copies.`}</Text>
      <Row>
        <Button
          label="Look"
          describe={`Look at the answer of ${from}`}
          onPress={() => router.push(`/mail/in/${id}` as never)}
        />
      </Row>
    </Line>
  );
}

/** A certificate that runs out soon, one's own or others'. */
function RunsOut({
  at,
  title,
  sentence,
  href,
  label,
  now,
}: {
  at: Date;
  title: string;
  sentence: string;
  href: string;
  label: string;
  now: Date;
}) {
  return (
    <Line>
      <Row style={styles.between}>
        <Text kind="strong" style={styles.grow}>
          {title}
        </Text>
        <StateMark tone="wants" word={distanceInWords(at, now, zone)} />
      </Row>
      <Text kind="small" tone="soft">{`Valid until ${dayInWords(at, now, zone)}. ${sentence}`}</Text>
      <Row>
        <Button label={label} describe={`${label}: ${title}`} onPress={() => router.push(href as never)} />
      </Row>
    </Line>
  );
}

function FailedCopy({ messageId, copy, subject, now }: Desk['copiesFailed'][number] & { subject: string; now: Date }) {
  return (
    <Line>
      <Row style={styles.between}>
        <Text kind="strong" style={styles.grow}>{`${subject}, ${who(copy)}`}</Text>
        <StateMark {...copyMark(copy)} />
      </Row>
      <Text
        kind="small"
        tone="soft"
        style={styles.grow}
      >{`Their mail host did not take it${copy.at === undefined ? '' : `, ${momentInWords(copy.at, now, zone)}`}${copy.answer === undefined || copy.answer === '' ? '' : `: ${copy.answer}`}`}</Text>
      <Row>
        <Button
          label="Look"
          describe={`Look at ${subject}, ${who(copy)}`}
          onPress={() => router.push(`/mail/${messageId}` as never)}
        />
      </Row>
    </Line>
  );
}

export function DeskScreen() {
  const { data: desk, error, mutate } = useDesk();
  const now = useNow();
  const wide = useWide();
  const more =
    desk === undefined
      ? 0
      : desk.needsTotal - desk.needs.length - desk.answers.length - desk.copiesFailed.length - desk.runningOut.length;
  const theirs = usePeopleRunningOut(now);
  const [said, setSaid] = useState<{ tone: 'sea' | 'brick'; text: string } | undefined>();
  const tell = async ({ messageId, grant }: Need): Promise<void> => {
    try {
      setSaid({ tone: 'sea', text: await tellAgainNow({ id: messageId, opened: desk?.summary(messageId) }, grant) });
    } catch (problem) {
      setSaid({ tone: 'brick', text: problemWords(problem) });
    } finally {
      await mutate();
    }
  };
  return (
    <Screen title="Desk" aside={dayInWords(now, now, zone)} broad>
      {said === undefined ? null : <Banner tone={said.tone}>{said.text}</Banner>}
      {error === undefined ? null : <Banner tone="brick">{problemWords(error)}</Banner>}
      {desk === undefined ? (
        error === undefined ? (
          <Loading what="Looking over your desk" />
        ) : null
      ) : (
        <View style={wide ? styles.columns : styles.stack}>
          <Stack style={wide ? styles.column : undefined}>
            {desk.unread === 0 ? null : (
              <Banner
                tone="sea"
                actions={
                  <Button
                    label="Read"
                    describe="Read what was received"
                    onPress={() => router.push('/mail/received' as never)}
                  />
                }
              >{`${desk.unread} unread ${desk.unread === 1 ? 'message' : 'messages'} in Received`}</Banner>
            )}
            <Section title="Needs you" aside={String(desk.needsTotal + (theirs.length > 0 ? 1 : 0))}>
              <Panel>
                {desk.needsTotal + theirs.length === 0 ? (
                  <Empty title="Nothing needs you">
                    Everybody who should read something has been told, and nothing is about to close unread.
                  </Empty>
                ) : null}
                {desk.runningOut.map((one) => (
                  <RunsOut
                    key={one.fingerprint}
                    at={one.notAfter}
                    title="Your certificate runs out"
                    sentence="After that you can’t sign with it, and nobody should encrypt to it. Renew it before."
                    href="/keys"
                    label="Renew"
                    now={now}
                  />
                ))}
                {theirs.length === 0 ? null : (
                  <RunsOut
                    at={theirs[0]!.at}
                    title={
                      theirs.length === 1
                        ? `The ${theirs[0]!.what === 'key' ? 'OpenPGP key' : 'certificate'} of ${theirs[0]!.who} runs out`
                        : `Certificates or keys of ${theirs.length} people run out`
                    }
                    sentence={`After that ${
                      theirs.length === 1
                        ? 'they get'
                        : `${listed(
                            theirs.slice(0, 4).map(({ who: name }) => name),
                            'and',
                          )}${theirs.length > 4 ? ' and others' : ''} get`
                    } no copies; the reading room stays. Ask for the new ones.`}
                    href="/people"
                    label="People"
                    now={now}
                  />
                )}
                {desk.answers.map((mail) => (
                  <Answer key={mail.id} mail={mail} now={now} />
                ))}
                {desk.copiesFailed.map((one) => (
                  <FailedCopy key={one.copy.id} {...one} subject={desk.subject(one.messageId)} now={now} />
                ))}
                {desk.needs.map((need, index) => {
                  const { tone, word, sentence } = needMark(need, now);
                  return (
                    <Line key={need.grant.id} last={index === desk.needs.length - 1}>
                      <Row style={styles.between}>
                        <Text
                          kind="strong"
                          style={styles.grow}
                        >{`${desk.subject(need.messageId)}, ${who(need.grant)}`}</Text>
                        <StateMark tone={tone} word={word} />
                      </Row>
                      <Text kind="small" tone="soft">
                        {sentence}
                      </Text>
                      <Row>
                        {tellable.has(need.kind) && desk.summary(need.messageId)?.links[need.grant.id] !== undefined ? (
                          <Button
                            label="Tell again"
                            describe={`Tell again: ${who(need.grant)}, ${desk.subject(need.messageId)}`}
                            onPress={() => void tell(need)}
                          />
                        ) : null}
                        <Button
                          label="Look"
                          describe={`Look at ${desk.subject(need.messageId)}, ${who(need.grant)}`}
                          onPress={() => router.push(`/mail/${need.messageId}` as never)}
                        />
                      </Row>
                    </Line>
                  );
                })}
                {more > 0 ? (
                  <Line last>
                    <Text kind="small" tone="soft">{`and ${more} more, in Mail`}</Text>
                  </Line>
                ) : null}
              </Panel>
            </Section>
          </Stack>
          <Stack style={wide ? styles.column : undefined}>
            <Section
              title="Open now: who can still read what"
              aside={`${desk.accessTotal} ${desk.accessTotal === 1 ? 'access' : 'accesses'}`}
            >
              <Panel>
                {desk.open.length === 0 ? (
                  <Empty
                    title="Nobody can read anything"
                    action={<Button kind="main" label="Write a message" onPress={() => router.push('/write')} />}
                  >
                    What you send shows here until it closes.
                  </Empty>
                ) : (
                  desk.open.map((one) => (
                    <Pressable
                      key={one.messageId}
                      role="link"
                      aria-label={`${desk.subject(one.messageId)}, closes ${momentInWords(one.closesAt, now, zone)}`}
                      onPress={() => router.push(`/mail/${one.messageId}` as never)}
                    >
                      <Line>
                        <View style={styles.head}>
                          <LockShape shape="arch" state={one.opened > 0 ? 'filled' : 'outline'} />
                          <Text style={styles.grow}>
                            <Text kind="strong">{desk.subject(one.messageId)}</Text>
                            {` · ${one.readers} ${one.readers === 1 ? 'reader' : 'readers'}`}
                          </Text>
                          <Text kind="small">{distanceInWords(one.closesAt, now, zone)}</Text>
                        </View>
                        <TimeBar
                          left={
                            (one.closesAt.getTime() - now.getTime()) /
                            Math.max(1, one.closesAt.getTime() - one.sentAt.getTime())
                          }
                        />
                        <Text
                          kind="small"
                          tone="soft"
                        >{`${one.readers === 1 ? `${one.names[0]}, ${one.opened === 1 ? 'opened' : 'not opened yet'}` : `${one.opened} of ${one.readers} opened`} · closes ${momentInWords(one.closesAt, now, zone)}`}</Text>
                      </Line>
                    </Pressable>
                  ))
                )}
                {desk.open.length === 0 ? null : (
                  <Line last={desk.openTotal <= desk.open.length}>
                    <WayLink href="/readers" label="By person and firm" forward />
                  </Line>
                )}
                {desk.openTotal > desk.open.length ? (
                  <Line last>
                    <Text
                      kind="small"
                      tone="soft"
                    >{`and ${desk.openTotal - desk.open.length} more messages, closing later`}</Text>
                  </Line>
                ) : null}
              </Panel>
            </Section>
            {desk.open.length === 0 ? null : (
              <Section title="Accesses closing, next 30 days">
                <Panel>
                  <Line last>
                    <Suspense fallback={<Loading what="Drawing" />}>
                      <ClosingChart perDay={desk.closingPerDay} now={now} />
                    </Suspense>
                  </Line>
                </Panel>
              </Section>
            )}
          </Stack>
        </View>
      )}
    </Screen>
  );
}

const styles = StyleSheet.create({
  columns: { flexDirection: 'row', gap: space.xl, alignItems: 'flex-start' },
  column: { flex: 1, minWidth: 0 },
  stack: { gap: space.l },
  between: { justifyContent: 'space-between', alignItems: 'flex-start', flexWrap: 'nowrap' },
  head: { flexDirection: 'row', gap: space.m, alignItems: 'flex-start' },
  grow: { flex: 1, overflowWrap: 'anywhere' } as object,
});
