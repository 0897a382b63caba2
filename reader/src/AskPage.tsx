/** Before reading: who wrote, what is asked, and the answers to it. Nothing is sent until the reader says so. */
import { isPasscodeWay } from '@under-lock/core/handling/handling';
import { distanceInWords, momentInWords } from '@under-lock/core/when';
import { Banner, Button, Field, Heading, Row, Stack, Text, TextButton } from '@under-lock/ui';
import { useState } from 'react';
import { type Asking, type AskingProps, type AskingState, useAsking } from './useAsking';
import { language, words } from './words/words';
import { zone } from './zone';

const asked = ({ kind, hint }: Asking['check'], senderName: string): string => {
  switch (kind) {
    case 'text':
      return words.byText(hint);
    case 'voice':
      return words.byVoice(hint);
    case 'email':
      return words.byEmail(hint);
    case 'told':
      return words.byTold(senderName);
    case 'question':
      return words.byQuestion;
  }
};
const onItsWay = ({ kind, hint }: Asking['check']): string =>
  kind === 'text'
    ? words.passcodeSentByText(hint)
    : kind === 'voice'
      ? words.passcodeSentByVoice(hint)
      : words.passcodeSentByEmail(hint);

interface Props extends AskingProps {
  now: Date;
  again: boolean;
}

export function AskPage({ now, again, ...props }: Props) {
  const asking = useAsking(props);
  const { room, sent, wish, setWish, sayNotMine } = asking;
  const { check } = room;
  const ready = !isPasscodeWay(check.kind) || sent;
  return (
    <Stack>
      {again ? <Banner tone="amber">{`${words.againTitle}. ${words.again}`}</Banner> : null}
      <Written room={room} now={now} />
      {ready ? (
        <Answers {...asking} />
      ) : (
        <>
          <WhatWeAsk room={room} />
          <Stack>
            <Failed {...asking} />
            <Button kind="main" label={sendLabel(asking)} onPress={asking.ask} busy={asking.busy} />
          </Stack>
        </>
      )}
      {wish === 'told' ? (
        <Banner tone="sea">{words.otherWayTold(room.senderName)}</Banner>
      ) : wish === 'writing' ? (
        <OtherWay
          senderName={room.senderName}
          busy={asking.busy}
          onCancel={() => setWish('none')}
          onTell={asking.tellWish}
        />
      ) : null}
      <Row>
        {check.kind === 'question' || wish !== 'none' ? null : (
          <TextButton label={words.otherWay} onPress={() => setWish('writing')} />
        )}
        <TextButton label={words.notMine} onPress={sayNotMine} />
      </Row>
    </Stack>
  );
}

const Written = ({ room, now }: { room: Asking; now: Date }) => (
  <Stack>
    <Heading level={1}>{words.hasWritten(room.senderName)}</Heading>
    <Text tone="soft">{room.senderAddress}</Text>
    <Text>
      {room.carried
        ? `${words.until(momentInWords(room.closesAt, now, zone, language))}.`
        : words.heldUntil(
            momentInWords(room.closesAt, now, zone, language),
            distanceInWords(room.closesAt, now, zone, language),
          )}
    </Text>
  </Stack>
);

/** Before a passcode is sent. */
const WhatWeAsk = ({ room: { check, senderName } }: { room: Asking }) => (
  <Stack>
    <Heading level={2}>{words.whatWeAsk}</Heading>
    <Text>{asked(check, senderName)}</Text>
    {check.question === undefined ? null : <Text>{words.alsoQuestion}</Text>}
    <Text tone="soft">{words.nothingSentYet}</Text>
  </Stack>
);

const sendLabel = ({ room: { check }, sent }: AskingState): string =>
  check.kind === 'voice' ? (sent ? words.callAgain : words.callMe) : sent ? words.sendAgain : words.sendPasscode;

function Failed({ wrongAt }: AskingState) {
  const wrong = wrongAt('page');
  return wrong === undefined ? null : <Banner tone="brick">{wrong}</Banner>;
}

function Answers(asking: AskingState) {
  const { room, wait, busy, ask, enter } = asking;
  const byPasscode = isPasscodeWay(room.check.kind);
  return (
    <Stack>
      {byPasscode || room.check.kind === 'told' ? <CodeField {...asking} /> : null}
      {room.check.question === undefined ? null : <QuestionField {...asking} />}
      <Failed {...asking} />
      <Button kind="main" label={words.open} onPress={enter} busy={busy} />
      {!byPasscode ? null : wait > 0 ? (
        <Text kind="small" tone="soft">
          {words.sendAgainIn(wait)}
        </Text>
      ) : (
        <Button label={sendLabel(asking)} onPress={ask} disabled={busy} />
      )}
    </Stack>
  );
}

/** What came to them, or was told to them. */
function CodeField({ room: { check, senderName }, typed, setTyped, enter, wrongAt }: AskingState) {
  const byTold = check.kind === 'told';
  return (
    <>
      <Text>{byTold ? asked(check, senderName) : onItsWay(check)}</Text>
      <Field
        label={byTold ? words.oneTime : words.passcode}
        value={typed}
        onChangeText={setTyped}
        onSubmitEditing={enter}
        error={wrongAt('passcode') ?? (check.used === true ? words.usedOneTime(senderName) : undefined)}
        code
        autoFocus
        inputMode="numeric"
        autoComplete={byTold ? 'off' : 'one-time-code'}
        maxLength={60}
      />
    </>
  );
}

function QuestionField({ room: { check }, question, answer, setAnswer, enter, wrongAt }: AskingState) {
  if (question === 'lost') return <Banner tone="brick">{words.questionLost}</Banner>;
  return (
    <>
      <Heading level={2}>{words.question}</Heading>
      <Text>{question?.text ?? words.loading}</Text>
      <Field
        label={words.answer}
        value={answer}
        onChangeText={setAnswer}
        onSubmitEditing={enter}
        error={wrongAt('answer')}
        hint={words.answerHint}
        maxLength={100}
        autoComplete="off"
        autoFocus={!isPasscodeWay(check.kind) && check.kind !== 'told'}
      />
    </>
  );
}

function OtherWay({
  senderName,
  busy,
  onTell,
  onCancel,
}: {
  senderName: string;
  busy: boolean;
  onTell: (wish: string) => void;
  onCancel: () => void;
}) {
  const [wish, setWish] = useState('');
  return (
    <Stack>
      <Heading level={2}>{words.otherWayTitle}</Heading>
      <Text>{words.otherWayWish(senderName)}</Text>
      <Field label={words.otherWayField} value={wish} onChangeText={setWish} maxLength={200} autoFocus />
      <Row>
        <Button
          label={words.otherWaySend}
          onPress={() => onTell(wish.replace(/\s+/g, ' ').trim())}
          busy={busy}
          disabled={wish.trim() === ''}
        />
        <Button kind="quiet" label={words.cancel} onPress={onCancel} />
      </Row>
    </Stack>
  );
}
