/** Writing back: recipients are fixed, what is written stays until it has gone, and what was sent can be read again. */
import { isProblem } from '@under-lock/contract/problem';
import { type MessageContent } from '@under-lock/core/message/content';
import { type Correspondent, hostOf } from '@under-lock/core/people/address';
import { type Rights } from '@under-lock/core/handling/handling';
import { momentInWords, sizeInWords } from '@under-lock/core/when';
import {
  Banner,
  border,
  Button,
  colour,
  Field,
  Line,
  Panel,
  Progress,
  Result,
  Row,
  Section,
  space,
  Stack,
  Text,
} from '@under-lock/ui';
import { type RefObject, useCallback, useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { FilePicker, tooLarge } from './FilePicker';
import { type ReplyDraft } from './reply-draft';
import { type ReplyTargets, type SentReply, type WritingDoor } from './replies';
import { markOf, useSealedOnce } from './sealed-once';
import { SentContent } from './SentContent';
import { type SealedReply } from './threads/reply';
import { language, words } from './words/words';
import { named } from './named';
import { zone } from './zone';

interface Props {
  door: WritingDoor;
  answered: MessageContent;
  reader: Correspondent;
  rights: Pick<Rights, 'reply' | 'replyAll'>;
  now: Date;
  draft: RefObject<ReplyDraft | undefined>;
  /** The access has ended, or the identity check is over: the page is another one now. */
  onProblem: (error: unknown) => void;
}

export function ReplyPanel({ door, answered, reader, rights, now, draft, onProblem }: Props) {
  const [writing, setWriting] = useState(draft.current?.to);
  const [targets, setTargets] = useState<ReplyTargets | undefined>();
  const [sent, setSent] = useState<SentReply[]>([]);
  const [thanks, setThanks] = useState(false);
  const load = useCallback(async () => {
    try {
      setSent(await door.listReplies());
      if (rights.reply || rights.replyAll) setTargets(await door.replyTargets());
    } catch (error) {
      // Without the list the message can be read all the same.
      if (!isProblem(error, 'unreachable', 'not-found', 'server-error')) onProblem(error);
    }
  }, [door, rights, onProblem]);
  useEffect(() => void load(), [load]);
  const stop = (): void => {
    draft.current = undefined;
    setWriting(undefined);
  };
  const done = (): void => {
    stop();
    setThanks(true);
    void load();
  };
  return (
    <>
      {sent.length === 0 ? null : (
        <Section title={words.replies} aside={String(sent.length)}>
          <Panel>
            {sent.map((one, index) => (
              <SentLine key={one.id} door={door} reply={one} now={now} last={index === sent.length - 1} />
            ))}
          </Panel>
        </Section>
      )}
      {thanks && writing === undefined ? <Banner tone="sea">{words.replyThanks}</Banner> : null}
      {targets === undefined ? null : writing === undefined ? (
        <Row style={styles.underThumb}>
          {rights.reply ? (
            <Button label={words.replyTo(named(targets.sender))} onPress={() => setWriting('sender')} />
          ) : null}
          {rights.replyAll && targets.others.length > 0 ? (
            <Button label={words.replyToAll} onPress={() => setWriting('all')} />
          ) : null}
        </Row>
      ) : (
        <ReplyForm
          key={writing}
          door={door}
          answered={answered}
          reader={reader}
          targets={targets}
          to={writing}
          draft={draft}
          onCancel={stop}
          onSent={done}
          onChanged={load}
          onProblem={onProblem}
        />
      )}
    </>
  );
}

function SentLine({ door, reply, now, last }: { door: WritingDoor; reply: SentReply; now: Date; last: boolean }) {
  const date = momentInWords(reply.sentAt, now, zone, language);
  const title = reply.toAll ? words.replySentAll(date) : words.replySent(date);
  return (
    <Line last={last}>
      <Row>
        <Text kind="strong">{title}</Text>
      </Row>
      <SentContent open={() => door.openReply(reply)} labels={words} what={` ${title}`} />
    </Line>
  );
}

interface FormProps extends Pick<Props, 'door' | 'answered' | 'reader' | 'draft' | 'onProblem'> {
  targets: ReplyTargets;
  to: 'sender' | 'all';
  onCancel: () => void;
  onSent: () => void;
  onChanged: () => Promise<void>;
}

type Sending = { step: 'sealing' } | { step: 'sending'; done: number };

function whyNotSent(problem: unknown, limit: string): string {
  if (isProblem(problem, 'unreachable')) return words.replyOffline;
  return isProblem(problem, 'too-large') ? words.replyTooLarge(limit) : words.replyFailed;
}

const recipientsOf = ({ to, targets }: Pick<FormProps, 'to' | 'targets'>): ReplyTargets['others'] =>
  to === 'all' ? [targets.sender, ...targets.others] : [targets.sender];

/** The same again where a try has sealed it. */
function useSealedReply({ door, answered, reader, ...given }: FormProps) {
  const once = useSealedOnce<SealedReply>();
  const recipients = recipientsOf(given);
  const seal = (text: string, files: File[]): Promise<SealedReply> =>
    once.of([text, markOf(files), recipients.map(({ address }) => address)], () => {
      const message = {
        messageId: `${crypto.randomUUID()}@${hostOf(reader.address)}`,
        from: reader,
        to: recipients.map(({ name, address }) => ({ name, address })),
        cc: [],
        subject: /^re:/i.test(answered.subject) ? answered.subject : `Re: ${answered.subject}`,
        date: new Date(),
        reference: answered.reference,
        text,
        html: '',
      };
      return door.sealReply({ message, files, targets: recipients });
    });
  return { seal, forget: () => once.forget() };
}

/** What is written, and how far it has gone. */
function useReplying(props: FormProps) {
  const { door, targets, to, draft, onSent, onChanged, onProblem } = props;
  const [text, setText] = useState(draft.current?.text ?? '');
  const [files, setFiles] = useState<File[]>(draft.current?.files ?? []);
  const [error, setError] = useState<string | undefined>(
    draft.current?.lost === undefined ? undefined : words.replyFilesAgain,
  );
  const [sending, setSending] = useState<Sending | undefined>();
  useEffect(() => {
    draft.current = { to, text, files };
  }, [draft, to, text, files]);
  const { seal, forget } = useSealedReply(props);
  const limit = sizeInWords(targets.maxBytes);
  const failed = async (problem: unknown): Promise<void> => {
    setSending(undefined);
    if (isProblem(problem, 'grant-closed', 'grant-withdrawn', 'not-identified')) return onProblem(problem);
    if (!isProblem(problem, 'conflict')) return setError(whyNotSent(problem, limit));
    forget();
    await onChanged();
    setError(words.replyChanged);
  };
  const send = async (): Promise<void> => {
    if (text.trim() === '' && files.length === 0) return setError(words.replyEmpty);
    if (tooLarge(files, targets.maxBytes)) return setError(words.replyTooLarge(limit));
    setError(undefined);
    setSending({ step: 'sealing' });
    try {
      const reply = await seal(text, files);
      setSending({ step: 'sending', done: 0 });
      await door.sendReply(reply, to === 'all', (done) => setSending({ step: 'sending', done }));
      onSent();
    } catch (problem) {
      await failed(problem);
    }
  };
  return { text, setText, files, setFiles, error, sending, send };
}

/** To whom it goes, and to whom not. */
function GoesTo({ to, targets }: Pick<FormProps, 'to' | 'targets'>) {
  return (
    <View>
      <Text kind="small">{words.replyGoesTo(recipientsOf({ to, targets }).map(named))}</Text>
      {to === 'all' && targets.unreachable.length > 0 ? (
        <Text kind="small" tone="amber">{`▲ ${words.replyUnreachable(targets.unreachable.map(named))}`}</Text>
      ) : null}
      <Text kind="small" tone="soft">
        {words.replyHeld}
      </Text>
    </View>
  );
}

function ReplyForm(props: FormProps) {
  const { targets, to, onCancel } = props;
  const { text, setText, files, setFiles, error, sending, send } = useReplying(props);
  return (
    <Section title={to === 'all' ? words.replyToAll : words.replyTo(named(targets.sender))}>
      <Stack>
        <GoesTo to={to} targets={targets} />
        <Field
          label={words.replyText}
          value={text}
          onChangeText={setText}
          multiline
          numberOfLines={8}
          maxLength={100_000}
          autoFocus
        />
        <FilePicker files={files} maxBytes={targets.maxBytes} onChange={setFiles} />
        <Result said={error} />
        {sending === undefined ? null : (
          <Progress
            done={sending.step === 'sending' ? sending.done : 0}
            label={sending.step === 'sealing' ? words.replySealing : words.replySending}
          />
        )}
        <Row>
          <Button kind="main" label={words.replySend} onPress={() => void send()} busy={sending !== undefined} />
          <Button kind="quiet" label={words.cancel} onPress={onCancel} disabled={sending !== undefined} />
        </Row>
      </Stack>
    </Section>
  );
}

const styles = StyleSheet.create({
  // At the foot of the window until its place after the message comes.
  underThumb: {
    position: 'sticky',
    bottom: 0,
    zIndex: 6,
    paddingVertical: space.s,
    backgroundColor: colour.paper,
    borderTopWidth: border.hair,
    borderTopColor: colour.line,
  } as object,
});
