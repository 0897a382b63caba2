/** A sent message: who can read it, what happened, and what can still be changed. */
import { type Grant, type SentCopy } from '@under-lock/contract/outgoing';
import { isProblem } from '@under-lock/contract/problem';
import { isIdentityCheck } from '@under-lock/core/handling/handling';
import { distanceInWords, momentInWords } from '@under-lock/core/when';
import {
  Banner,
  Button,
  Check,
  Empty,
  Line,
  Loading,
  Panel,
  Row,
  Section,
  space,
  StateMark,
  Text,
  TimeBar,
} from '@under-lock/ui';
import { LockShape } from '@under-lock/ui/lock-shape';
import { router, useLocalSearchParams } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { useNow, useSecond, zone } from '../clock';
import { checkWords, handlingSentence } from '../handling/words';
import { useOffice } from '../office/useOffice';
import { sendPasswordText } from '../passwords/send-text';
import { noteTold } from '../passwords/told';
import { usePasswords } from '../passwords/usePasswords';
import { problemWords } from '../problem-words';
import { personAt } from '@under-lock/core/people/find';
import { usePeople } from '../people/person';
import { useOpenSession } from '../session/session';
import { keysDoor } from '../threads/keys/door';
import { StatementDialog } from '../statement/StatementDialog';
import { WayLink } from '../shell/WayLink';
import { Screen } from '../shell/Screen';
import { CopiesPanel, sentReadable } from './CopiesPanel';
import {
  AddReaderDialog,
  ChangeChannelDialog,
  GiveAgainDialog,
  MoveClosingDialog,
  WithdrawDialog,
} from './MessageDialogs';
import { grantMark, endWords, noticeWords, openedWords, who } from './grant-words';
import { History } from './History';
import { FEW, GrantFilter, type GrantShelf, matches, Selection } from './GrantSelection';
import { copyLink, letThemTryAgain, tellAgainNow, tellAll } from './message-actions';
import { SeenAfterSending } from './SeenAfterSending';
import { ThreadPanel } from './ThreadPanel';
import { takeMessageBack, useClearedDraft } from './waiting';
import { subjectOf, useSentMessage } from './useSent';

type Asking =
  | { what: 'move' | 'withdraw'; grants: Grant[] }
  | { what: 'channel' | 'again' | 'seen'; grant: Grant }
  | { what: 'add'; corrects: Grant | undefined }
  | { what: 'statement' };

export function MessageScreen() {
  const { id, sent } = useLocalSearchParams<{ id: string; sent?: string }>();
  const { data: message, error, mutate } = useSentMessage(id);
  const { data: office } = useOffice();
  const { data: book } = usePasswords();
  const { data: people } = usePeople();
  const { account } = useOpenSession();
  const now = useNow();
  const soon = useSecond(message?.sentAt, now);
  const [asking, setAsking] = useState<Asking | undefined>();
  const [find, setFind] = useState('');
  const [filter, setFilter] = useState<GrantShelf>('all');
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  const [said, setSaid] = useState<{ tone: 'sea' | 'brick'; text: string } | undefined>();
  const back = <WayLink href="/mail" label="Sent" />;
  const leaving = message !== undefined && message.sentAt > soon;
  useClearedDraft(message, message !== undefined && !leaving);
  if (message === undefined || office === undefined) {
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
  const everybody = [...message.grants, ...message.copies];
  const held = message.grants.filter(({ state }) => state === 'held');
  const ended = message.grants.filter(({ state }) => state !== 'held');
  const closesAt = held.reduce<Date | undefined>(
    (latest, grant) => (latest === undefined || grant.closesAt > latest ? grant.closesAt : latest),
    undefined,
  );
  // A page of many readers is filtered and worked on by selection.
  const many = message.grants.length > FEW;
  const shown = many ? message.grants.filter((grant) => matches(grant, find, filter)) : message.grants;
  const chosen = held.filter(({ id: grantId }) => selected.has(grantId));
  const nameOf = (grantId: string | undefined): string => {
    const grant = message.grants.find((one) => one.id === grantId);
    return grant === undefined ? 'a reader' : who(grant);
  };
  const act = async (task: () => Promise<string>): Promise<void> => {
    try {
      setSaid({ tone: 'sea', text: await task() });
    } catch (problem) {
      setSaid({ tone: 'brick', text: problemWords(problem) });
    } finally {
      await mutate();
    }
  };
  const secondsLeft = Math.max(0, Math.ceil((message.sentAt.getTime() - soon.getTime()) / 1000));
  const takeItBack = async (): Promise<void> => {
    try {
      const draftId = await takeMessageBack(message);
      router.replace((draftId === undefined ? '/mail' : `/write/${draftId}`) as never);
    } catch (problem) {
      setSaid({
        tone: 'brick',
        text: isProblem(problem, 'conflict')
          ? 'It had already left a moment before. You can still withdraw it.'
          : problemWords(problem),
      });
      await mutate();
    }
  };
  const told = async (copy: SentCopy): Promise<void> => {
    await noteTold({ messageId: id, recipientId: copy.id, address: copy.address, book: book ?? [], now: new Date() });
    await mutate();
  };
  const textTo = (copy: SentCopy): (() => Promise<void>) | undefined => {
    const person = personAt(people ?? [], copy.address)?.value;
    const kept = message.opened?.passwords?.[copy.id];
    if (person?.phone === undefined || kept === undefined) return undefined;
    return async () => {
      await sendPasswordText(
        person.phone!,
        await keysDoor().file.passwordText(person.language ?? 'en', account.name, office.name, kept.password),
      );
      await told(copy);
    };
  };
  const done = (text: string): void => {
    setAsking(undefined);
    setSaid({ tone: 'sea', text });
    void mutate();
  };

  return (
    <Screen title={subjectOf(message.opened)} back={back}>
      <Text kind="small" tone="soft">
        {`${leaving ? 'Leaves' : 'Sent'} ${momentInWords(message.sentAt, now, zone)}${message.from === undefined ? '' : ` from ${message.from}`}`}
        {message.presetName === '' ? '' : ` · ${message.presetName}`}
        {message.reference === '' ? '' : ` · ${message.reference}`}
      </Text>
      {sent === '1' && said === undefined && !leaving ? (
        <Banner tone="sea">{`${message.handling.clear ? sentReadable(message.copies) : 'Sent under lock'} to ${everybody.length === 1 ? who(everybody[0]!) : `${everybody.length} people`}. ${message.grants.length === 0 ? 'This page shows whether it got there.' : 'This page shows who has been told and who has opened it.'}`}</Banner>
      ) : null}
      {leaving ? (
        <Banner
          tone="amber"
          actions={<Button label="Take it back" onPress={() => void takeItBack()} />}
        >{`It has not left yet: it leaves ${secondsLeft > 90 ? momentInWords(message.sentAt, now, zone) : `in ${secondsLeft} ${secondsLeft === 1 ? 'second' : 'seconds'}`}. Until then nobody is told and nobody can read it.`}</Banner>
      ) : null}
      {said === undefined ? null : <Banner tone={said.tone}>{said.text}</Banner>}
      <Panel>
        <Line last>
          {closesAt === undefined ? (
            <Text kind="strong">
              {message.copies.length === 0
                ? 'Nobody can read it any more'
                : 'What they have is theirs: nothing here can close it'}
            </Text>
          ) : (
            <>
              <Text>{handlingSentence(closesAt, message.handling, now, zone)}</Text>
              <TimeBar
                left={(closesAt.getTime() - now.getTime()) / Math.max(1, closesAt.getTime() - message.sentAt.getTime())}
              />
              <Text
                kind="small"
                tone="soft"
              >{`Closes ${momentInWords(closesAt, now, zone)}, ${distanceInWords(closesAt, now, zone)}`}</Text>
            </>
          )}
          <Row>
            {held.length === 0 ? null : (
              <Button
                label={held.length === 1 ? 'Move the date' : 'Move the date for all'}
                onPress={() => setAsking({ what: 'move', grants: held })}
              />
            )}
            {held.length === 0 ? null : (
              <Button
                kind="stop"
                label={held.length === 1 ? 'Withdraw' : 'Withdraw all'}
                onPress={() => setAsking({ what: 'withdraw', grants: held })}
              />
            )}
            <LeftLink id={id} />
          </Row>
        </Line>
      </Panel>
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
      {message.grants.length === 0 ? null : (
        <Section title="Who can read it" aside={`${held.length} of ${message.grants.length}`}>
          {many ? <GrantFilter find={find} filter={filter} onFind={setFind} onFilter={setFilter} /> : null}
          {many ? (
            <Selection
              shown={shown.filter(({ state }) => state === 'held')}
              selected={chosen}
              onSelect={(ids) => setSelected(new Set(ids))}
              onMove={() => setAsking({ what: 'move', grants: chosen })}
              onWithdraw={() => setAsking({ what: 'withdraw', grants: chosen })}
              onTell={() => void act(() => tellAll(message, chosen))}
            />
          ) : null}
          <Panel>
            {shown.length === 0 ? (
              <Empty title="Nobody">No reader of this message fits what you are looking for.</Empty>
            ) : null}
            {shown.map((grant, index) => (
              <GrantLine
                key={grant.id}
                grant={grant}
                leaving={leaving}
                now={now}
                last={index === shown.length - 1}
                {...(many && grant.state === 'held'
                  ? {
                      selected: selected.has(grant.id),
                      onSelect: (on: boolean) =>
                        setSelected((before) => {
                          const next = new Set(before);
                          if (on) next.add(grant.id);
                          else next.delete(grant.id);
                          return next;
                        }),
                    }
                  : {})}
                several={message.grants.length > 1}
                canGiveAgain={message.contentBlobId !== undefined && message.opened !== undefined}
                onAsk={setAsking}
                onTell={() => void act(() => tellAgainNow(message, grant))}
                onRenew={() => void act(() => letThemTryAgain(message, grant))}
                onCopy={() => void act(() => copyLink(office.roomOrigin, message, grant))}
              />
            ))}
          </Panel>
          {message.contentBlobId === undefined || message.opened === undefined || leaving ? null : (
            <Row>
              <Button
                label="Let somebody else read it"
                onPress={() => setAsking({ what: 'add', corrects: undefined })}
              />
            </Row>
          )}
        </Section>
      )}
      {ended.length === 0 ? null : (
        <Row>
          <Button label="Statement of what ended" onPress={() => setAsking({ what: 'statement' })} />
        </Row>
      )}
      <ThreadPanel threadId={message.threadId} here={message.id} now={now} zone={zone} />
      <History
        messageId={message.id}
        events={message.events}
        earlier={message.earlierEvents}
        nameOf={nameOf}
        now={now}
      />
      {asking?.what === 'move' ? (
        <MoveClosingDialog
          message={message}
          grants={asking.grants}
          office={office}
          now={now}
          onClose={() => setAsking(undefined)}
          onDone={done}
        />
      ) : null}
      {asking?.what === 'withdraw' ? (
        <WithdrawDialog
          message={message}
          grants={asking.grants}
          now={now}
          onClose={() => setAsking(undefined)}
          onDone={done}
        />
      ) : null}
      {asking?.what === 'channel' ? (
        <ChangeChannelDialog
          message={message}
          grant={asking.grant}
          onClose={() => setAsking(undefined)}
          onDone={done}
        />
      ) : null}
      {asking?.what === 'statement' ? (
        <StatementDialog
          messageId={message.id}
          subject={subjectOf(message.opened)}
          ended={ended}
          office={office}
          now={now}
          onClose={() => setAsking(undefined)}
        />
      ) : null}
      {asking?.what === 'seen' ? (
        <SeenAfterSending
          message={message}
          grant={asking.grant}
          office={office}
          now={now}
          onClose={() => setAsking(undefined)}
        />
      ) : null}
      {asking?.what === 'add' ? (
        <AddReaderDialog
          message={message}
          corrects={asking.corrects}
          office={office}
          now={now}
          onClose={() => setAsking(undefined)}
          onDone={done}
        />
      ) : null}
      {asking?.what === 'again' ? (
        <GiveAgainDialog
          message={message}
          grant={asking.grant}
          office={office}
          now={now}
          onClose={() => setAsking(undefined)}
          onDone={done}
        />
      ) : null}
    </Screen>
  );
}

const LeftLink = ({ id }: { id: string }) => <WayLink href={`/mail/${id}/left`} label="What left the house" forward />;

interface LineProps {
  grant: Grant;
  leaving: boolean;
  selected?: boolean;
  onSelect?: (on: boolean) => void;
  now: Date;
  last: boolean;
  several: boolean;
  canGiveAgain: boolean;
  onAsk: (asking: Asking) => void;
  onTell: () => void;
  onRenew: () => void;
  onCopy: () => void;
}

function GrantLine({
  grant,
  leaving,
  selected,
  onSelect,
  now,
  last,
  several,
  canGiveAgain,
  onAsk,
  onTell,
  onRenew,
  onCopy,
}: LineProps) {
  const [open, setOpen] = useState(false);
  const { tone, word } = grantMark(grant, leaving);
  const held = grant.state === 'held';
  const isTold = grant.check.kind !== 'account';
  const byLink = isIdentityCheck(grant.check.kind);
  // The link of what a reader passed on was never here.
  const hasLink = isTold && grant.passedOn === undefined && grant.lost === undefined;
  const name = who(grant);
  return (
    <Line last={last} testID={`grant-${grant.address}`}>
      <View style={styles.row}>
        <LockShape
          shape={grant.carried ? 'folded-arch' : 'arch'}
          state={grant.opened.here > 0 && held ? 'filled' : 'outline'}
        />
        <View style={styles.words}>
          <Row style={styles.between}>
            <Text kind="strong" tone={held ? 'ink' : 'soft'} style={styles.wrap}>
              {name}
            </Text>
            <StateMark tone={tone} word={word} />
          </Row>
          {grant.name === '' ? null : (
            <Text kind="small" tone="soft" style={styles.wrap}>
              {grant.address}
            </Text>
          )}
          {grant.role === 'bcc' ? (
            <Text kind="small" tone="soft">
              Unseen by the others
            </Text>
          ) : null}
          {onSelect === undefined ? null : (
            <Check label="Selected" describe={`Selected: ${name}`} value={selected === true} onChange={onSelect} />
          )}
          <Text
            kind="small"
            tone="soft"
          >{`${noticeWords(grant, now, leaving)}; ${leaving ? '' : `${openedWords(grant, now)}; `}${endWords(grant, now)}.`}</Text>
          {grant.wrongTries === 0 ? null : (
            <Text
              kind="small"
              tone="amber"
            >{`▲ ${grant.wrongTries} wrong ${grant.wrongTries === 1 ? 'try' : 'tries'}${grant.stopped ? ', none left' : ''}${grant.stopped || grant.pausedUntil === undefined ? '' : `, stopped until ${momentInWords(grant.pausedUntil, now, zone)}`}`}</Text>
          )}
          {grant.carried ? (
            <Text kind="small" tone="soft">
              Carried page: the content went with the mail, sealed
            </Text>
          ) : null}
          {held ? (
            <Text
              kind="small"
              tone="soft"
            >{`${checkWords[grant.check.kind]}${grant.check.hint === '' ? '' : ` to ${grant.check.hint}`}${grant.check.question && grant.check.kind !== 'question' ? ', and a question' : ''}`}</Text>
          ) : null}
          {grant.passedOn === undefined ? null : (
            <Text kind="small" tone="soft">{`Passed on by ${who(grant.passedOn)}; ends with theirs`}</Text>
          )}
          {grant.otherWay === undefined ? null : (
            <Text kind="small" tone="amber">{`▲ Asks for another way: “${grant.otherWay.wish}”`}</Text>
          )}
          {grant.lost === undefined ? null : (
            <Text
              kind="small"
              tone="brick"
            >{`■ Sealed to a password that is forgotten or removed${grant.lost.askedAt === undefined ? '' : `; asks you to give it again, ${momentInWords(grant.lost.askedAt, now, zone)}`}`}</Text>
          )}
          {held && canGiveAgain && isTold && (grant.notice.state === 'refused' || grant.notice.state === 'bounced') ? (
            <Row>
              <Button
                label="Correct the address"
                describe={`Correct the address of ${name}`}
                onPress={() => onAsk({ what: 'add', corrects: grant })}
              />
            </Row>
          ) : null}
          {grant.stopped || grant.otherWay !== undefined ? (
            <Row>
              {grant.stopped ? (
                <Button label="Let them try again" describe={`Let them try again: ${name}`} onPress={onRenew} />
              ) : null}
              <Button
                label="Change the way"
                describe={`Change the way ${name} proves who they are`}
                onPress={() => onAsk({ what: 'channel', grant })}
              />
            </Row>
          ) : null}
          {open && held ? (
            <Row>
              {isTold ? (
                <>
                  {hasLink ? <Button label="Tell again" describe={`Tell again: ${name}`} onPress={onTell} /> : null}
                  {hasLink ? (
                    <Button label="Copy the link" describe={`Copy the link for ${name}`} onPress={onCopy} />
                  ) : null}
                  {byLink ? (
                    <Button
                      label="Change the way"
                      describe={`Change the way ${name} proves who they are`}
                      onPress={() => onAsk({ what: 'channel', grant })}
                    />
                  ) : null}
                </>
              ) : null}
              <Button
                label="As they see it"
                describe={`As they see it: ${name}`}
                onPress={() => onAsk({ what: 'seen', grant })}
              />
              {several ? (
                <Button
                  label="Move the date"
                  describe={`Move the date for ${name}`}
                  onPress={() => onAsk({ what: 'move', grants: [grant] })}
                />
              ) : null}
              {several ? (
                <Button
                  kind="stop"
                  label="Withdraw"
                  describe={`Withdraw from ${name}`}
                  onPress={() => onAsk({ what: 'withdraw', grants: [grant] })}
                />
              ) : null}
            </Row>
          ) : null}
          {held ? (
            <Row>
              <Button
                kind="quiet"
                label={open ? 'Less' : 'More'}
                describe={`${open ? 'Less' : 'More'} for ${name}`}
                expanded={open}
                onPress={() => setOpen(!open)}
              />
            </Row>
          ) : null}
          {!held || grant.lost !== undefined ? (
            <Row>
              {canGiveAgain ? (
                <Button
                  label="Give access again"
                  describe={`Give access again to ${name}`}
                  onPress={() => onAsk({ what: 'again', grant })}
                />
              ) : null}
              {held ? null : (
                <Button
                  kind="quiet"
                  label="As they see it"
                  describe={`As they see it: ${name}`}
                  onPress={() => onAsk({ what: 'seen', grant })}
                />
              )}
            </Row>
          ) : null}
        </View>
      </View>
    </Line>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', gap: space.m },
  words: { flex: 1, gap: space.xs, minWidth: 0 },
  between: { justifyContent: 'space-between', alignItems: 'flex-start' },
  wrap: { overflowWrap: 'anywhere', flexShrink: 1 } as object,
});
