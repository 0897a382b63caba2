/** A sent message: who can read it, what happened, and what can still be changed. */
import { type Office } from '@under-lock/contract/office';
import { type SentMessage } from '@under-lock/contract/outgoing';
import { distanceInWords, momentInWords } from '@under-lock/core/when';
import { Columns } from '@under-lock/ui/columns';
import { Banner, Button, Line, Loading, Panel, Result, Row, space, Text, TimeLeft } from '@under-lock/ui';
import { useLocalSearchParams } from 'expo-router';
import { StyleSheet } from 'react-native';
import { queryOf } from '../find/asked';
import { useAsked } from '../find/useAsked';
import { useNow, useSecond, zone } from '../clock';
import { handlingSentence, quoted } from '../handling/words';
import { useOffice } from '../session/useOffice';
import { problemWords } from '../problem-words';
import { BackToMail } from '../mail/BackToMail';
import { Screen } from '../shell/Screen';
import { WayLink } from '../shell/WayLink';
import { Accesses } from './Accesses';
import { CopiesPanel, sentReadable } from './CopiesPanel';
import { who } from '../handling/grant-words';
import { History } from './History';
import { MessageAsked, type SentWithAll } from './MessageAsked';
import { ConversationPanel } from './ConversationPanel';
import { useMessageActs, useTellingPasswords } from './useMessageActs';
import { useNameOf } from './useNameOf';
import { useClearedDraft } from './waiting';
import { latestClosing, subjectOf, useSentMessage } from './useSent';

const back = <BackToMail shelf="sent" />;

/** The rules of the office that acted on it, and the reason that one asked for. */
const rulesSentence = (rules: SentMessage['rules']): string =>
  rules === undefined || rules.acted.length === 0
    ? ''
    : `Rules of the office that acted: ${quoted(rules.acted)}.${rules.reason === undefined ? '' : ` Your reason: “${rules.reason}”`}`;

export function MessageScreen() {
  const { id } = useLocalSearchParams<{ id: string }>();
  const { data: message, error, mutate } = useSentMessage(id);
  const { data: office } = useOffice();
  if (message === undefined || message.id !== id || office === undefined) {
    return (
      <Screen title="Message" back={back}>
        {error === undefined ? (
          <Loading what="Opening the message" />
        ) : (
          <Banner tone="brick">{problemWords(error)}</Banner>
        )}
      </Screen>
    );
  }
  return <MessagePage key={id} message={message} office={office} refresh={mutate} />;
}

interface PageProps {
  message: SentWithAll;
  office: Office;
  refresh: () => Promise<unknown>;
}

function MessagePage({ message, office, refresh }: PageProps) {
  const { sent } = useLocalSearchParams<{ sent?: string }>();
  const now = useNow();
  const soon = useSecond(message.sentAt, now);
  const acts = useMessageActs(message, refresh);
  const { told, textTo } = useTellingPasswords(message, refresh);
  const leaving = message.sentAt > soon;
  useClearedDraft(message, !leaving);
  const closesAt = latestClosing(message);
  const nameOf = useNameOf(message);
  return (
    <Screen title={subjectOf(message.opened)} back={back} broad>
      <Text kind="small" tone="soft">
        {`${leaving ? 'Leaves' : 'Sent'} ${momentInWords(message.sentAt, now, zone)}${message.from === undefined ? '' : ` from ${message.from}`}${message.byProgram === undefined ? '' : ` by mail program (${message.byProgram})`}`}
        {message.presetName === '' ? '' : ` · ${message.presetName}`}
        {message.reference === '' ? '' : ` · ${message.reference}`}
      </Text>
      {rulesSentence(message.rules) === '' ? null : (
        <Text kind="small" tone="soft">
          {rulesSentence(message.rules)}
        </Text>
      )}
      {sent === '1' && acts.said === undefined && !leaving ? <JustSent message={message} /> : null}
      {leaving ? <NotLeftYet leavesAt={message.sentAt} soon={soon} now={now} onTakeBack={acts.takeBack} /> : null}
      <Result said={acts.said} />
      <Columns>
        <>
          <Until message={message} closesAt={closesAt} now={now} onAsk={acts.ask} />
          {message.copies.length === 0 ? null : (
            <CopiesPanel
              copies={message.copies}
              clear={message.handling.clear}
              leaving={leaving}
              openReason={message.openReason}
              now={now}
              passwords={message.opened?.passwords}
              onTold={told}
              onText={textTo}
            />
          )}
          {message.grants.length === 0 ? null : <Accesses {...{ message, closesAt, leaving, now, acts }} />}
        </>
        <>
          <ConversationPanel conversationId={message.conversationId} here={message.id} now={now} zone={zone} />
          <History
            messageId={message.id}
            events={message.events}
            earlier={message.earlierEvents}
            nameOf={nameOf}
            now={now}
          />
        </>
      </Columns>
      {acts.asking === undefined ? null : (
        <MessageAsked
          asking={acts.asking}
          message={message}
          office={office}
          now={now}
          onClose={acts.close}
          onDone={acts.done}
        />
      )}
    </Screen>
  );
}

function JustSent({ message }: { message: SentWithAll }) {
  const everybody = [...message.grants, ...message.copies];
  const how = message.handling.clear ? sentReadable(message.copies) : 'Sent under lock';
  const whom = everybody.length === 1 ? who(everybody[0]!) : `${everybody.length} people`;
  const watch =
    message.grants.length === 0
      ? 'This page shows whether it got there.'
      : 'This page shows who has been told and who has opened it.';
  return <Banner tone="sea">{`${how} to ${whom}. ${watch}`}</Banner>;
}

function NotLeftYet({
  leavesAt,
  soon,
  now,
  onTakeBack,
}: {
  leavesAt: Date;
  soon: Date;
  now: Date;
  onTakeBack: () => Promise<void>;
}) {
  const seconds = Math.max(0, Math.ceil((leavesAt.getTime() - soon.getTime()) / 1000));
  const when =
    seconds > 90 ? momentInWords(leavesAt, now, zone) : `in ${seconds} ${seconds === 1 ? 'second' : 'seconds'}`;
  return (
    <Banner
      tone="amber"
      actions={<Button label="Take it back" onPress={() => void onTakeBack()} />}
    >{`It has not left yet: it leaves ${when}. Until then nobody is told and nobody can read it.`}</Banner>
  );
}

interface UntilProps {
  message: SentWithAll;
  closesAt: Date | undefined;
  now: Date;
  onAsk: ReturnType<typeof useMessageActs>['ask'];
}

/** Until when it can be read and what may be done with it; moved and ended here for everybody. */
function Until({ message, closesAt, now, onAsk }: UntilProps) {
  const { grants, copies, sentAt, handling, id } = message;
  const { asked } = useAsked();
  const held = grants.filter(({ state }) => state === 'held');
  const ended = grants.length - held.length;
  return (
    <Panel>
      <Line last>
        {closesAt === undefined ? (
          <Text kind="strong">
            {copies.length === 0
              ? 'Nobody can read it any more'
              : 'What they have is theirs: nothing here can close it'}
          </Text>
        ) : (
          <>
            <TimeLeft from={sentAt} until={closesAt} now={now} words={distanceInWords(closesAt, now, zone)} />
            <Text>{handlingSentence(closesAt, handling, now, zone)}</Text>
          </>
        )}
        <Row style={styles.acts}>
          {held.length === 0 ? null : (
            <>
              <Button
                label={held.length === 1 ? 'Move the date' : 'Move the date for all'}
                onPress={() => onAsk({ what: 'move', grants: held })}
              />
              <Button
                kind="stop"
                label={held.length === 1 ? 'Withdraw' : 'Withdraw all'}
                shortcut="w"
                onPress={() => onAsk({ what: 'withdraw', grants: held })}
              />
            </>
          )}
          {ended === 0 ? null : <Button label="Statement of what ended" onPress={() => onAsk({ what: 'statement' })} />}
          {sentAt <= now ? <Button label="Statement of delivery" onPress={() => onAsk({ what: 'delivery' })} /> : null}
          <WayLink href={`/mail/${id}/left${queryOf(asked)}`} label="What left the house" forward />
        </Row>
      </Line>
    </Panel>
  );
}

const styles = StyleSheet.create({ acts: { paddingTop: space.s, columnGap: space.m } });
