/** A new message to somebody of the office who has written before. What is written stays until it has gone. */
import { oneLine } from '@under-lock/core/one-line';
import { isProblem } from '@under-lock/contract/problem';
import { type ReaderDraft } from '@under-lock/core/account/reader-account';
import { hostOf } from '@under-lock/core/people/address';
import { Banner, Button, Choice, Field, Progress, Row, Section, Stack, Text } from '@under-lock/ui';
import { sizeInWords } from '@under-lock/core/when';
import { useRef, useState } from 'react';
import { FilePicker, tooLarge } from '../FilePicker';
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
  /** `kept`: as a draft. */
  /** How it was kept, if it was. */
  onClose: (kept?: 'whole' | 'without-files') => void;
  onSent: (name: string) => void;
}

export function WritePanel({ session, senders, maxBytes, id: draftId, draft, onClose, onSent }: Props) {
  const reachable = senders.filter(({ key }) => key !== undefined);
  const [to, setTo] = useState(reachable.some(({ id }) => id === draft?.to) ? draft!.to : (reachable[0]?.id ?? ''));
  const [subject, setSubject] = useState(draft?.subject ?? '');
  const [text, setText] = useState(draft?.text ?? '');
  const [files, setFiles] = useState<File[]>([]);
  const [error, setError] = useState<{ at: 'subject' | 'form'; text: string } | undefined>();
  const [sending, setSending] = useState<{ done: number; sealing: boolean } | undefined>();
  // What a try has sealed is sent again as it is, unless something was changed: then it is another message.
  const sealed = useRef<{ for: string; written: SealedWritten } | undefined>(undefined);
  const kept = useKeptDraft(session, draftId, { to, subject, text }, draft);
  const recipient = reachable.find(({ id }) => id === to);
  if (recipient === undefined)
    return (
      <Banner tone="amber" actions={<Button label={words.cancel} onPress={() => onClose()} />}>
        {listWords.writeNobody}
      </Banner>
    );
  const { reader } = session;
  const howKept = (): Parameters<Props['onClose']>[0] =>
    subject.trim() === '' && text.trim() === '' ? undefined : files.length > 0 ? 'without-files' : 'whole';

  const seal = async (): Promise<SealedWritten> => {
    const fingerprint = JSON.stringify([
      to,
      subject,
      text,
      files.map(({ name, size, lastModified }) => [name, size, lastModified]),
    ]);
    if (sealed.current?.for === fingerprint) return sealed.current.written;
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
    const written = await sealWritten({ message, files, to: recipient.key!, own: session.key });
    sealed.current = { for: fingerprint, written };
    return written;
  };
  const send = async (): Promise<void> => {
    if (subject.trim() === '') return setError({ at: 'subject', text: listWords.writeNoSubject });
    if (text.trim() === '' && files.length === 0) return setError({ at: 'form', text: listWords.writeEmpty });
    if (tooLarge(files, maxBytes)) return setError({ at: 'form', text: words.replyTooLarge(sizeInWords(maxBytes)) });
    setError(undefined);
    setSending({ done: 0, sealing: true });
    try {
      const written = await seal();
      await sendWritten(to, written, (done) => setSending({ done, sealing: false }));
      await kept.drop().catch(() => undefined);
      onSent(recipient.name || recipient.address);
    } catch (problem) {
      setSending(undefined);
      setError({ at: 'form', text: isProblem(problem, 'unreachable') ? sayProblem(problem) : listWords.writeFailed });
    }
    return undefined;
  };
  return (
    <Section title={listWords.write}>
      <Stack>
        <Text kind="small" tone="soft">
          {listWords.writeHint}
        </Text>
        {reachable.length < 2 ? (
          <Text>{`${listWords.writeTo}: ${recipient.name || recipient.address}`}</Text>
        ) : (
          <Choice
            label={listWords.writeTo}
            value={to}
            onChange={setTo}
            options={reachable.map(({ id, name, address }) => ({ value: id, label: name || address }))}
          />
        )}
        <Field
          label={listWords.writeSubject}
          value={subject}
          onChangeText={setSubject}
          maxLength={300}
          autoComplete="off"
          autoFocus
          error={error?.at === 'subject' ? error.text : undefined}
        />
        <Field
          label={listWords.writeText}
          value={text}
          onChangeText={setText}
          multiline
          numberOfLines={8}
          maxLength={100_000}
        />
        <FilePicker files={files} maxBytes={maxBytes} onChange={setFiles} />
        {kept.failed ? <Banner tone="amber">{listWords.draftNotKept}</Banner> : null}
        {error?.at === 'form' ? <Banner tone="brick">{error.text}</Banner> : null}
        {sending === undefined ? null : (
          <Progress done={sending.done} label={sending.sealing ? words.replySealing : words.replySending} />
        )}
        <Row>
          <Button kind="main" label={listWords.writeSend} onPress={() => void send()} busy={sending !== undefined} />
          <Button
            label={listWords.closeKeep}
            disabled={sending !== undefined}
            onPress={() => void kept.keepNow().then(() => onClose(howKept()))}
          />
          <Button
            kind="quiet"
            label={listWords.throwAway}
            disabled={sending !== undefined}
            onPress={() =>
              void kept.drop().then(
                () => onClose(),
                (problem: unknown) => setError({ at: 'form', text: sayProblem(problem) }),
              )
            }
          />
        </Row>
      </Stack>
    </Section>
  );
}
