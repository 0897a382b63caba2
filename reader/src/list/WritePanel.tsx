/** A new message to somebody of the office who has written before. What is written stays until it has gone. */
import { oneLine } from '@under-lock/core/one-line';
import { isProblem } from '@under-lock/contract/problem';
import { type ReaderDraft } from '@under-lock/core/account/reader-account';
import { hostOf } from '@under-lock/core/people/address';
import { Banner, Button, Choice, Field, Progress, Row, Section, Stack, Text } from '@under-lock/ui';
import { sizeInWords } from '@under-lock/core/when';
import { useState } from 'react';
import { FilePicker, tooLarge } from '../FilePicker';
import { markOf, useSealedOnce } from '../sealed-once';
import { named } from '../named';
import { words } from '../words/words';
import { type HeldPage, sealWritten, sendWritten, type Session } from './account';
import { type SealedWritten } from '../threads/account';
import { useKeptDraft } from './useKeptDraft';
import { sayProblem } from './problems';
import { listWords } from './words';

interface Props {
  session: Session;
  senders: HeldPage['senders'];
  maxBytes: number;
  /** Of the draft. */
  id: string;
  draft: ReaderDraft | undefined;
  /** How it was kept, if it was. */
  onClose: (kept?: 'whole' | 'without-files') => void;
  onSent: (name: string) => void;
}

type Sender = HeldPage['senders'][number];
type Reachable = Sender & { key: NonNullable<Sender['key']> };

const isReachable = (sender: Sender): sender is Reachable => sender.key !== undefined;

interface Written {
  to: string;
  subject: string;
  text: string;
  files: readonly File[];
}

interface Wrong {
  at: 'subject' | 'form';
  text: string;
}

/** Undefined where nothing is wrong with it. */
function wrongWith({ subject, text, files }: Written, maxBytes: number): Wrong | undefined {
  if (subject.trim() === '') return { at: 'subject', text: listWords.writeNoSubject };
  if (text.trim() === '' && files.length === 0) return { at: 'form', text: listWords.writeEmpty };
  if (tooLarge(files, maxBytes)) return { at: 'form', text: words.replyTooLarge(sizeInWords(maxBytes)) };
  return undefined;
}
/** The same again where a try has sealed it. */
function useSealed({ reader, key }: Session, recipient: Reachable) {
  const once = useSealedOnce<SealedWritten>();
  return ({ to, subject, text, files }: Written): Promise<SealedWritten> =>
    once.of([to, subject, text, markOf(files)], () => {
      const message = {
        messageId: `${crypto.randomUUID()}@${hostOf(reader.address)}`,
        from: { name: reader.name, address: reader.address },
        to: [{ name: recipient.name, address: recipient.address }],
        cc: [],
        subject: oneLine(subject),
        date: new Date(),
        reference: '',
        text,
        html: '',
      };
      return sealWritten({ message, files: [...files], to: recipient.key, own: key });
    });
}

/** What is written, how far it has gone, and the three ways out of it. */
function useWriting({ session, maxBytes, id, draft, onClose, onSent }: Props, reachable: readonly Reachable[]) {
  const first = reachable.some((one) => one.id === draft?.to) ? draft!.to : reachable[0]!.id;
  const [said, setSaid] = useState<Written>({
    to: first,
    subject: draft?.subject ?? '',
    text: draft?.text ?? '',
    files: [],
  });
  const [wrong, setWrong] = useState<Wrong | undefined>();
  const [sending, setSending] = useState<{ done: number; sealing: boolean } | undefined>();
  const { to, subject, text, files } = said;
  const recipient = reachable.find((one) => one.id === to) ?? reachable[0]!;
  const seal = useSealed(session, recipient);
  const kept = useKeptDraft(session, id, { to, subject, text }, draft);
  const send = async (): Promise<void> => {
    const problem = wrongWith(said, maxBytes);
    setWrong(problem);
    if (problem !== undefined) return;
    setSending({ done: 0, sealing: true });
    try {
      const written = await seal(said);
      await sendWritten(to, written, (done) => setSending({ done, sealing: false }));
      await kept.drop().catch(() => undefined);
      onSent(named(recipient));
    } catch (cause) {
      setSending(undefined);
      setWrong({ at: 'form', text: isProblem(cause, 'unreachable') ? sayProblem(cause) : listWords.writeFailed });
    }
  };
  const close = (): Promise<void> =>
    kept.keepNow().then(() => {
      if (subject.trim() === '' && text.trim() === '') return onClose();
      onClose(files.length > 0 ? 'without-files' : 'whole');
    });
  const throwAway = (): Promise<void> =>
    kept.drop().then(
      () => onClose(),
      (cause: unknown) => setWrong({ at: 'form', text: sayProblem(cause) }),
    );
  const change = (part: Partial<Written>): void => setSaid((before) => ({ ...before, ...part }));
  return { said, change, recipient, wrong, sending, notKept: kept.failed, send, close, throwAway };
}

export function WritePanel(props: Props) {
  const reachable = props.senders.filter(isReachable);
  if (reachable.length === 0)
    return (
      <Banner tone="amber" actions={<Button label={words.cancel} onPress={() => props.onClose()} />}>
        {listWords.writeNobody}
      </Banner>
    );
  return <WriteForm {...props} reachable={reachable} />;
}

function WriteForm({ reachable, ...props }: Props & { reachable: readonly Reachable[] }) {
  const { said, change, recipient, wrong, sending, notKept, send, close, throwAway } = useWriting(props, reachable);
  return (
    <Section title={listWords.write}>
      <Stack>
        <Text kind="small" tone="soft">
          {listWords.writeHint}
        </Text>
        {reachable.length < 2 ? (
          <Text>{`${listWords.writeTo}: ${named(recipient)}`}</Text>
        ) : (
          <Choice
            label={listWords.writeTo}
            value={said.to}
            onChange={(to) => change({ to })}
            options={reachable.map((one) => ({ value: one.id, label: named(one) }))}
          />
        )}
        <Field
          label={listWords.writeSubject}
          value={said.subject}
          onChangeText={(subject) => change({ subject })}
          maxLength={300}
          autoComplete="off"
          autoFocus
          error={wrong?.at === 'subject' ? wrong.text : undefined}
        />
        <Field
          label={listWords.writeText}
          value={said.text}
          onChangeText={(text) => change({ text })}
          multiline
          numberOfLines={8}
          maxLength={100_000}
        />
        <FilePicker files={said.files} maxBytes={props.maxBytes} onChange={(files) => change({ files })} />
        {notKept ? <Banner tone="amber">{listWords.draftNotKept}</Banner> : null}
        {wrong?.at === 'form' ? <Banner tone="brick">{wrong.text}</Banner> : null}
        {sending === undefined ? null : (
          <Progress done={sending.done} label={sending.sealing ? words.replySealing : words.replySending} />
        )}
        <Row>
          <Button kind="main" label={listWords.writeSend} onPress={() => void send()} busy={sending !== undefined} />
          <Button label={listWords.closeKeep} disabled={sending !== undefined} onPress={() => void close()} />
          <Button
            kind="quiet"
            label={listWords.throwAway}
            disabled={sending !== undefined}
            onPress={() => void throwAway()}
          />
        </Row>
      </Stack>
    </Section>
  );
}
