/**
 * What each recipient gets: the notice, and the reading room's own pages with nobody behind them, at a phone's and at a
 * desktop's width.
 */
import { type Office } from '@under-lock/contract/office';
import { type Room } from '@under-lock/contract/room';
import { type Handling } from '@under-lock/core/handling/handling';
import { type MessageContent } from '@under-lock/core/message/content';
import { type Notice, noticeText } from '@under-lock/core/notice/notice';
import { type Language } from '@under-lock/core/language';
import { type Correspondent } from '@under-lock/core/people/address';
import { type SightProps } from '@under-lock/reader/Sight';
import { Button, Choice, Dialog, Field, Loading, Row, space, Stack, Text, TextButton } from '@under-lock/ui';
import { AtWidth } from '@under-lock/ui/at-width';
import { HtmlFrame } from '@under-lock/ui/html-frame';
import { later } from '@under-lock/ui/later';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { languageWords } from '../people/words';
import { who } from '../handling/grant-words';
import { MessageViewLater } from './MessageViewLater';

const Sight = later(
  async () => (await import('@under-lock/reader/Seen')).Sight,
  () => <Loading what="Opening the page" />,
);

/** One recipient's side of it. */
export interface SeenBy {
  recipient: Correspondent;
  language: Language;
  /** Undefined for a colleague, who finds it in Received. */
  outside: { notice: Notice | undefined; room: Room; question: string | undefined } | undefined;
  handling: Handling;
}

interface Props {
  seen: readonly SeenBy[];
  content: MessageContent | undefined;
  /** Readers are asked to confirm having read it. */
  confirms: boolean;
  error: string | undefined;
  office: Office;
  now: Date;
  closeLabel: string;
  onClose: () => void;
}

const WIDTHS = { phone: 390, desktop: 1280 } as const;
type Step = 'notice' | SightProps['step'];
/** More than these are looked for by name. */
const SHOWN = 6;

/** Whose side is shown; among many they are looked for by name. */
function ForWhom({
  seen,
  address,
  onAddress,
}: Pick<Props, 'seen'> & { address: string; onAddress: (address: string) => void }) {
  const [find, setFind] = useState('');
  const wanted = find.trim().toLowerCase();
  const fitting = seen.filter(
    ({ recipient }) =>
      who(recipient).toLowerCase().includes(wanted) || recipient.address.toLowerCase().includes(wanted),
  );
  return (
    <>
      {seen.length > SHOWN ? (
        <Field
          label="Find a recipient"
          value={find}
          onChangeText={setFind}
          maxLength={200}
          autoComplete="off"
          hint={`${fitting.length} of ${seen.length} fit; the first ${Math.min(SHOWN, fitting.length)} are shown.`}
        />
      ) : null}
      {seen.length < 2 ? null : (
        <Choice
          label="For"
          row
          value={address}
          onChange={onAddress}
          options={fitting
            .slice(0, SHOWN)
            .map(({ recipient }) => ({ value: recipient.address, label: who(recipient) }))}
        />
      )}
    </>
  );
}

function Steps({ step, onStep }: { step: Step; onStep: (step: Step) => void }) {
  return (
    <Choice
      label="What they see"
      row
      value={step}
      onChange={onStep}
      options={[
        { value: 'notice', label: 'The notice' },
        { value: 'before', label: 'Before reading' },
        { value: 'message', label: 'The message' },
      ]}
    />
  );
}

export function AsTheySeeIt(props: Props) {
  const { seen, error, closeLabel, onClose } = props;
  const [address, setAddress] = useState(seen[0]?.recipient.address ?? '');
  const [step, setStep] = useState<Step>('notice');
  const [width, setWidth] = useState<keyof typeof WIDTHS>('phone');
  const one = seen.find(({ recipient }) => recipient.address === address);
  return (
    <Dialog
      title="As they see it"
      open
      broad
      onClose={onClose}
      said={error}
      actions={<Button kind="main" label={closeLabel} onPress={onClose} />}
    >
      <ForWhom seen={seen} address={address} onAddress={setAddress} />
      <View style={styles.beside}>
        {one?.outside === undefined ? null : <Steps step={step} onStep={setStep} />}
        <Choice
          label="On"
          row
          value={width}
          onChange={setWidth}
          options={[
            { value: 'phone', label: 'A phone' },
            { value: 'desktop', label: 'A desktop' },
          ]}
        />
      </View>
      <Text kind="small" tone="soft">
        {one?.outside === undefined
          ? 'A colleague gets no notice: it lies in their Received at once.'
          : `These are the real pages; nothing you do here is sent or counted. They follow the language of the reader’s browser and are shown in ${languageWords[one.language]}.`}
      </Text>
      <AtWidth
        width={WIDTHS[width]}
        onlyLooked="There is less room here than on a desktop: smaller as a whole, to look at only."
      >
        {one === undefined ? null : <Side {...props} one={one} step={step} onStep={setStep} />}
      </AtWidth>
    </Dialog>
  );
}

function Side({
  one: { outside, handling, recipient, language },
  step,
  onStep,
  seen,
  content,
  confirms,
  office,
  now,
}: Props & { one: SeenBy; step: Step; onStep: (step: Step) => void }) {
  const { address } = recipient;
  const opened =
    content === undefined ? undefined : { content, handling, reader: recipient, confirm: confirms ? {} : undefined };
  if (outside === undefined)
    return opened === undefined ? (
      <Loading what="Putting it together" />
    ) : (
      <MessageViewLater
        content={opened.content}
        handling={handling}
        reader={recipient}
        officeName={office.name}
        now={now}
        pdfBase="/pdf"
        headingLevel={2}
        onUse={async () => undefined}
      />
    );
  if (step === 'notice')
    return outside.notice === undefined ? (
      <Text>The notice of this access can’t be shown: none has left yet, or its link is not in your vault.</Text>
    ) : (
      <NoticeSeen notice={outside.notice} onOpen={() => onStep('before')} />
    );
  return (
    <Sight
      key={address}
      step={step}
      onStep={onStep}
      room={outside.room}
      question={outside.question}
      opened={opened}
      others={seen.flatMap((other) => (other.recipient.address === address ? [] : [other.recipient]))}
      maxBytes={office.limits.maxBytes}
      language={language}
      now={now}
      pdfBase="/pdf"
    />
  );
}

function NoticeSeen({ notice, onOpen }: { notice: Notice; onOpen: () => void }) {
  const { subject, html } = noticeText(notice);
  return (
    <Stack style={styles.mail}>
      <Text kind="strong">{subject}</Text>
      <HtmlFrame html={html} title={subject} />
      <Row>
        <TextButton label="On to what its link opens" onPress={onOpen} />
      </Row>
    </Stack>
  );
}

const styles = StyleSheet.create({
  beside: { flexDirection: 'row', flexWrap: 'wrap', columnGap: space.xxl, rowGap: space.m },
  mail: { padding: space.l },
});
