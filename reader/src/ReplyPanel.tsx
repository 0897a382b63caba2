/** Writing back: recipients are fixed, what is written stays until it has gone, and what was sent can be read again. */
import { isProblem } from '@under-lock/contract/problem';
import { type MessageContent } from '@under-lock/core/message/content';
import { type Correspondent } from '@under-lock/core/people/address';
import { type Rights } from '@under-lock/core/handling/handling';
import { momentInWords, sizeInWords } from '@under-lock/core/when';
import { Banner, Button, Field, Line, Loading, Panel, Progress, Row, Section, Stack, Text } from '@under-lock/ui';
import { type RefObject, useCallback, useEffect, useRef, useState } from 'react';
import { View } from 'react-native';
import { listReplies, openReply, replyTargets, sealReply, sendSealed } from './replies';
import { type SealedReply } from './reply-worker';
import { type Visit } from './visit';
import { language, words } from './words/words';

const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
const named = ({ name, address }: { name: string; address: string }): string => name || address;

type Targets = Awaited<ReturnType<typeof replyTargets>>;
type Sent = Awaited<ReturnType<typeof listReplies>>[number];

/** What is being written, kept by the page around. */
export interface ReplyDraft { to: 'sender' | 'all'; text: string; files: File[] }

interface Props {
  visit: Visit;
  answered: MessageContent;
  reader: Correspondent;
  rights: Pick<Rights, 'reply' | 'replyAll'>;
  now: Date;
  draft: RefObject<ReplyDraft | undefined>;
  /** The access has ended, or the identity check is over: the page is another one now. */
  onProblem: (error: unknown) => void;
}

export function ReplyPanel({ visit, answered, reader, rights, now, draft, onProblem }: Props) {
  const [writing, setWriting] = useState(draft.current?.to);
  const [targets, setTargets] = useState<Targets | undefined>();
  const [sent, setSent] = useState<Sent[]>([]);
  const [thanks, setThanks] = useState(false);
  const load = useCallback(async () => {
    try {
      setSent(await listReplies(visit));
      if (rights.reply || rights.replyAll) setTargets(await replyTargets(visit));
    } catch (error) {
      // Without the list the message can be read all the same.
      if (!isProblem(error, 'unreachable', 'not-found', 'server-error')) onProblem(error);
    }
  }, [visit, rights, onProblem]);
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
    <Stack>
      {sent.length === 0 ? null : (
        <Section title={words.replies} aside={String(sent.length)}>
          <Panel>{sent.map((one, index) => <SentReply key={one.id} visit={visit} reply={one} now={now} last={index === sent.length - 1} />)}</Panel>
        </Section>
      )}
      {thanks && writing === undefined ? <Banner tone="sea">{words.replyThanks}</Banner> : null}
      {targets === undefined ? null : writing === undefined ? (
        <Row>
          {rights.reply ? <Button label={words.replyTo(named(targets.sender))} onPress={() => setWriting('sender')} /> : null}
          {rights.replyAll && targets.others.length > 0 ? <Button label={words.replyToAll} onPress={() => setWriting('all')} /> : null}
        </Row>
      ) : (
        <ReplyForm key={writing} visit={visit} answered={answered} reader={reader} targets={targets} to={writing} draft={draft} onCancel={stop} onSent={done} onChanged={load} onProblem={onProblem} />
      )}
    </Stack>
  );
}

function SentReply({ visit, reply, now, last }: { visit: Visit; reply: Sent; now: Date; last: boolean }) {
  const [content, setContent] = useState<MessageContent | 'opening' | 'failed' | undefined>();
  const date = momentInWords(reply.sentAt, now, zone, language);
  const title = reply.toAll ? words.replySentAll(date) : words.replySent(date);
  const open = (): void => {
    setContent('opening');
    openReply(visit, reply).then(setContent, () => setContent('failed'));
  };
  const shown = typeof content === 'object';
  return (
    <Line last={last}>
      <Row><Text kind="strong">{title}</Text></Row>
      {shown ? <Text style={{ whiteSpace: 'pre-wrap', overflowWrap: 'anywhere' } as object}>{content.text}</Text> : null}
      {shown && content.files.length > 0 ? <Text kind="small" tone="soft">{content.files.map((file) => `${file.name}, ${sizeInWords(file.bytes.length)}`).join(' · ')}</Text> : null}
      {content === 'failed' ? <Text kind="small" tone="brick">{`■ ${words.failed}`}</Text> : null}
      {content === 'opening' ? <Loading what={words.opening} /> : <Row><Button label={shown ? words.hide : words.look} describe={`${shown ? words.hide : words.look} ${title}`} expanded={shown} onPress={() => (shown ? setContent(undefined) : open())} /></Row>}
    </Line>
  );
}

interface FormProps extends Pick<Props, 'visit' | 'answered' | 'reader' | 'draft' | 'onProblem'> {
  targets: Targets;
  to: 'sender' | 'all';
  onCancel: () => void;
  onSent: () => void;
  onChanged: () => Promise<void>;
}

function ReplyForm({ visit, answered, reader, targets, to, draft, onCancel, onSent, onChanged, onProblem }: FormProps) {
  const [text, setText] = useState(draft.current?.text ?? '');
  const [files, setFiles] = useState<File[]>(draft.current?.files ?? []);
  useEffect(() => {
    draft.current = { to, text, files };
  }, [draft, to, text, files]);
  const toAll = to === 'all';
  const [error, setError] = useState<string | undefined>();
  const [sending, setSending] = useState<{ step: 'sealing' } | { step: 'sending'; done: number } | undefined>();
  // What a try has sealed is sent again as it is, unless something was changed: then it is another reply.
  const sealed = useRef<{ for: string; reply: SealedReply } | undefined>(undefined);
  const picker = useRef<HTMLInputElement>(null);
  const recipients = toAll ? [targets.sender, ...targets.others] : [targets.sender];
  const size = files.reduce((sum, file) => sum + file.size, 0);
  const limit = sizeInWords(targets.maxBytes);

  const seal = async (): Promise<SealedReply> => {
    const fingerprint = JSON.stringify([text, files.map(({ name, size: bytes, lastModified }) => [name, bytes, lastModified]), recipients.map(({ address }) => address)]);
    if (sealed.current?.for === fingerprint) return sealed.current.reply;
    const subject = /^re:/i.test(answered.subject) ? answered.subject : `Re: ${answered.subject}`;
    const message = {
      messageId: `${crypto.randomUUID()}@${reader.address.slice(reader.address.lastIndexOf('@') + 1)}`, from: reader, to: recipients.map(({ name, address }) => ({ name, address })), cc: [], subject, date: new Date(),
      reference: answered.reference, text, html: '',
    };
    const reply = await sealReply({ message, files, targets: recipients, share: visit.share });
    sealed.current = { for: fingerprint, reply };
    return reply;
  };
  const send = async (): Promise<void> => {
    if (text.trim() === '' && files.length === 0) return setError(words.replyEmpty);
    if (size > targets.maxBytes) return setError(words.replyTooLarge(limit));
    setError(undefined);
    setSending({ step: 'sealing' });
    try {
      const reply = await seal();
      setSending({ step: 'sending', done: 0 });
      await sendSealed(visit, reply, toAll, (done) => setSending({ step: 'sending', done }));
      onSent();
    } catch (problem) {
      setSending(undefined);
      if (isProblem(problem, 'grant-closed', 'grant-withdrawn', 'not-identified')) onProblem(problem);
      else if (isProblem(problem, 'conflict')) {
        sealed.current = undefined;
        await onChanged();
        setError(words.replyChanged);
      } else setError(isProblem(problem, 'unreachable') ? words.replyOffline : isProblem(problem, 'too-large') ? words.replyTooLarge(limit) : words.replyFailed);
    }
    return undefined;
  };

  return (
    <Section title={toAll ? words.replyToAll : words.replyTo(named(targets.sender))}>
      <Stack>
        <View>
          <Text kind="small">{words.replyGoesTo(recipients.map(named))}</Text>
          {toAll && targets.unreachable.length > 0 ? <Text kind="small" tone="amber">{`▲ ${words.replyUnreachable(targets.unreachable.map(named))}`}</Text> : null}
          <Text kind="small" tone="soft">{words.replyHeld}</Text>
        </View>
        <Field label={words.replyText} value={text} onChangeText={setText} multiline numberOfLines={8} maxLength={100_000} autoFocus />
        {files.map((file, index) => (
          <Row key={`${file.name}${index}`}>
            <Text kind="small">{`${file.name}, ${sizeInWords(file.size)}`}</Text>
            <Button kind="quiet" label={words.remove} describe={`${words.remove} ${file.name}`} onPress={() => setFiles(files.filter((_, at) => at !== index))} />
          </Row>
        ))}
        <input ref={picker} type="file" multiple hidden aria-label={words.replyFiles} onChange={(event) => { setFiles([...files, ...(event.target.files ?? [])].slice(0, 50)); event.target.value = ''; }} />
        <Row>
          <Button label={words.replyFiles} onPress={() => picker.current?.click()} />
          <Text kind="small" tone={size > targets.maxBytes ? 'brick' : 'soft'}>{size > targets.maxBytes ? `■ ${words.replyTooLarge(limit)}` : words.replyFilesHint(limit)}</Text>
        </Row>
        {error === undefined ? null : <Banner tone="brick">{error}</Banner>}
        {sending === undefined ? null : <Progress done={sending.step === 'sending' ? sending.done : 0} label={sending.step === 'sealing' ? words.replySealing : words.replySending} />}
        <Row>
          <Button kind="main" label={words.replySend} onPress={() => void send()} busy={sending !== undefined} />
          <Button kind="quiet" label={words.cancel} onPress={onCancel} disabled={sending !== undefined} />
        </Row>
      </Stack>
    </Section>
  );
}
