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
  Row,
  Section,
  space,
  Stack,
  Text,
} from '@under-lock/ui';
import { type RefObject, useCallback, useEffect, useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { FilePicker, tooLarge } from './FilePicker';
import { type ReplyDraft } from './reply-draft';
import { type ReplyTargets, type SentReply, type WritingDoor } from './replies';
import { SentContent } from './SentContent';
import { type SealedReply } from './threads/reply';
import { language, words } from './words/words';
import { zone } from './zone';

const named = ({ name, address }: { name: string; address: string }): string => name || address;

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

function ReplyForm({ door, answered, reader, targets, to, draft, onCancel, onSent, onChanged, onProblem }: FormProps) {
  const [text, setText] = useState(draft.current?.text ?? '');
  const [files, setFiles] = useState<File[]>(draft.current?.files ?? []);
  useEffect(() => {
    draft.current = { to, text, files };
  }, [draft, to, text, files]);
  const toAll = to === 'all';
  const [error, setError] = useState<string | undefined>(
    draft.current?.lost === undefined ? undefined : words.replyFilesAgain,
  );
  const [sending, setSending] = useState<{ step: 'sealing' } | { step: 'sending'; done: number } | undefined>();
  // What a try has sealed is sent again as it is, unless something was changed: then it is another reply.
  const sealed = useRef<{ for: string; reply: SealedReply } | undefined>(undefined);
  const recipients = toAll ? [targets.sender, ...targets.others] : [targets.sender];
  const limit = sizeInWords(targets.maxBytes);

  const seal = async (): Promise<SealedReply> => {
    const fingerprint = JSON.stringify([
      text,
      files.map(({ name, size: bytes, lastModified }) => [name, bytes, lastModified]),
      recipients.map(({ address }) => address),
    ]);
    if (sealed.current?.for === fingerprint) return sealed.current.reply;
    const subject = /^re:/i.test(answered.subject) ? answered.subject : `Re: ${answered.subject}`;
    const message = {
      messageId: `${crypto.randomUUID()}@${hostOf(reader.address)}`,
      from: reader,
      to: recipients.map(({ name, address }) => ({ name, address })),
      cc: [],
      subject,
      date: new Date(),
      reference: answered.reference,
      text,
      html: '',
    };
    const reply = await door.sealReply({ message, files, targets: recipients });
    sealed.current = { for: fingerprint, reply };
    return reply;
  };
  const send = async (): Promise<void> => {
    if (text.trim() === '' && files.length === 0) return setError(words.replyEmpty);
    if (tooLarge(files, targets.maxBytes)) return setError(words.replyTooLarge(limit));
    setError(undefined);
    setSending({ step: 'sealing' });
    try {
      const reply = await seal();
      setSending({ step: 'sending', done: 0 });
      await door.sendReply(reply, toAll, (done) => setSending({ step: 'sending', done }));
      onSent();
    } catch (problem) {
      setSending(undefined);
      if (isProblem(problem, 'grant-closed', 'grant-withdrawn', 'not-identified')) onProblem(problem);
      else if (isProblem(problem, 'conflict')) {
        sealed.current = undefined;
        await onChanged();
        setError(words.replyChanged);
      } else
        setError(
          isProblem(problem, 'unreachable')
            ? words.replyOffline
            : isProblem(problem, 'too-large')
              ? words.replyTooLarge(limit)
              : words.replyFailed,
        );
    }
    return undefined;
  };

  return (
    <Section title={toAll ? words.replyToAll : words.replyTo(named(targets.sender))}>
      <Stack>
        <View>
          <Text kind="small">{words.replyGoesTo(recipients.map(named))}</Text>
          {toAll && targets.unreachable.length > 0 ? (
            <Text kind="small" tone="amber">{`▲ ${words.replyUnreachable(targets.unreachable.map(named))}`}</Text>
          ) : null}
          <Text kind="small" tone="soft">
            {words.replyHeld}
          </Text>
        </View>
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
        {error === undefined ? null : <Banner tone="brick">{error}</Banner>}
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
