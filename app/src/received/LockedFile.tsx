/**
 * A container that came with a mail or as a file: opened at once when the book has its password, else asked for; what
 * is inside is shown here and nowhere else.
 */
import { isContainer, looksLikePdf } from '@under-lock/core/locks/file/container';
import { type FileOpenErrorCode } from '@under-lock/core/locks/file/open-error';
import { kindOf } from '@under-lock/reader/file-kind';
import { momentInWords, sizeInWords } from '@under-lock/core/when';
import {
  Banner,
  Button,
  Check,
  Line,
  Loading,
  Panel,
  PasswordField,
  Prose,
  Row,
  Section,
  space,
  Stack,
  Text,
} from '@under-lock/ui';
import { HtmlFrame } from '@under-lock/ui/html-frame';
import { later } from '@under-lock/ui/later';
import { useEffect, useState } from 'react';
import { StyleSheet } from 'react-native';
import useSWR from 'swr';
import { useNow, zone } from '../clock';
import { rememberPassword, usePasswords } from '../passwords/usePasswords';
import { passwordsToTry } from '../passwords/to-try';
import { problemWords } from '../problem-words';
import { saveFile } from '../save-file';
import { keysDoor } from '../threads/keys/door';
import { reading } from '../threads/keys/reading';
import { type ContainerOutcome } from '../threads/keys/file/room';

type Failed = Exclude<ContainerOutcome, { outcome: 'opened' }>;

const failures: Record<Exclude<FileOpenErrorCode, 'locked' | 'wrong-password'>, string> = {
  malformed: 'This file is damaged, or made so that programs read it in different ways. Ask for it to be sent again.',
  'too-large': 'This file unfolds to more than it says or than is opened here, so it was left closed.',
  unsupported: 'This file is packed or locked in a way that can’t be read here. Ask for a ZIP with AES.',
  'not-a-container': 'This file can’t be opened here.',
};

function failureWords({ outcome, method }: Failed): string {
  if (outcome === 'wrong-password' || outcome === 'locked') return 'This password does not open it.';
  if (method === undefined) return failures[outcome];
  return `Something in this file is packed by ${method}, which few programs read. Ask for an ordinary ZIP (its method is called Deflate).`;
}

const MAX_DEPTH = 4;
let openings = 0;

interface Props {
  name: string;
  bytes: Uint8Array<ArrayBuffer>;
  /** Who sent it, where that is known. */
  from: { name: string; address: string } | undefined;
  depth?: number;
  /** When it was first opened here. */
  openedAt?: Date | undefined;
  onOpened?: (() => void) | undefined;
}

export function LockedFile({ name, bytes, from, depth = 0, openedAt, onOpened }: Props) {
  const { data: book } = usePasswords();
  const [id] = useState(() => ++openings);
  const { data: first, error } = useSWR(
    book === undefined ? null : ['locked-file', id],
    async (): Promise<ContainerOutcome> => {
      const passwords = passwordsToTry(book!, from?.address);
      return reading(bytes.length, (doors) => doors.file.open(bytes, passwords), passwords.length);
    },
    { revalidateOnFocus: false, revalidateIfStale: false, revalidateOnReconnect: false, shouldRetryOnError: false },
  );
  const [typed, setTyped] = useState<ContainerOutcome | undefined>();
  const outcome = typed?.outcome === 'opened' ? typed : first;
  const isOpen = outcome?.outcome === 'opened';
  useEffect(() => {
    if (isOpen) onOpened?.();
    // Told once: what is done with it may change with every drawing.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [isOpen]);
  if (outcome === undefined)
    return (
      <Panel>
        <Line last>
          {error === undefined ? (
            <Loading what={`Opening ${name}`} />
          ) : (
            <Banner tone="brick">{problemWords(error)}</Banner>
          )}
        </Line>
      </Panel>
    );
  if (outcome.outcome === 'locked' || outcome.outcome === 'wrong-password') {
    return (
      <Ask
        name={name}
        from={from}
        hadSome={outcome.outcome === 'wrong-password'}
        onTry={async (password, remember) => {
          const tried: ContainerOutcome = await reading(bytes.length, (doors) => doors.file.open(bytes, [password]));
          if (tried.outcome === 'opened' && remember && from !== undefined)
            await rememberPassword(
              book ?? [],
              {
                address: from.address,
                direction: 'in',
                password,
                guesses: await keysDoor().file.guesses(password, [from.name, from.address]),
                toldAt: new Date().toISOString(),
              },
              new Date(),
            );
          setTyped(tried);
          return tried;
        }}
      />
    );
  }
  if (outcome.outcome !== 'opened') return <Banner tone="brick">{failureWords(outcome)}</Banner>;
  return (
    <Inside
      name={name}
      bytes={bytes}
      opened={outcome}
      from={from}
      byBook={typed === undefined}
      depth={depth}
      openedAt={openedAt}
    />
  );
}

function Ask({
  name,
  from,
  hadSome,
  onTry,
}: {
  name: string;
  from: Props['from'];
  hadSome: boolean;
  onTry: (password: string, remember: boolean) => Promise<ContainerOutcome>;
}) {
  const [password, setPassword] = useState('');
  const [remember, setRemember] = useState(true);
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<string | undefined>();
  const who = from === undefined ? undefined : from.name || from.address;
  const open = async (): Promise<void> => {
    if (password === '' || busy) return;
    setBusy(true);
    setError(undefined);
    try {
      const tried = await onTry(password, remember);
      if (tried.outcome !== 'opened') setError(failureWords(tried));
    } catch (cause) {
      setError(problemWords(cause));
    } finally {
      setBusy(false);
    }
  };
  return (
    <Panel>
      <Line last>
        <Stack style={styles.ask}>
          <Text kind="strong" style={styles.wrap}>{`${name} is locked`}</Text>
          {hadSome ? (
            <Text kind="small" tone="soft">
              None of the passwords in your book opens it.
            </Text>
          ) : null}
          <PasswordField
            label={`Password of ${name}`}
            value={password}
            onChangeText={setPassword}
            autoComplete="off"
            maxLength={200}
            error={error}
            onSubmitEditing={() => void open()}
          />
          {who === undefined ? null : (
            <Check
              label={`Remember it for what ${who} sends`}
              detail="Sealed in your password book"
              value={remember}
              onChange={setRemember}
            />
          )}
          <Row>
            <Button
              kind="main"
              label="Open it"
              describe={`Open it: ${name}`}
              onPress={() => void open()}
              disabled={password === ''}
              busy={busy}
            />
          </Row>
        </Stack>
      </Line>
    </Panel>
  );
}

const FileView = later(
  async () => (await import('@under-lock/reader/FileView')).FileView,
  ({ file: { name } }) => <Loading what={`Opening ${name}`} />,
);
type InsideFile = Opened['files'][number];
/**
 * What it is is told by its octets and its name: an archive says no types. A locked PDF inside is opened by looking
 * inside.
 */
const asMessageFile = ({ name, bytes }: InsideFile) => ({ name, bytes, type: '' });
const isShown = (file: InsideFile): boolean => !isContainer(file) && kindOf(asMessageFile(file)) !== 'other';

const PdfView = later(
  async () => (await import('@under-lock/reader/PdfView')).PdfView,
  () => <Loading what="Getting the paper" />,
);

type Opened = Extract<ContainerOutcome, { outcome: 'opened' }>;

const InsideMessage = ({ message, name }: { message: NonNullable<Opened['message']>; name: string }) => (
  <Panel>
    <Line last>
      {message.kind === 'page' ? (
        <HtmlFrame html={message.html} title={`The message in ${name}`} />
      ) : (
        <Stack>
          <Text kind="strong" style={styles.wrap}>
            {message.content.subject || '(no subject)'}
          </Text>
          {message.content.html === '' ? (
            <Prose selectable>{message.content.text}</Prose>
          ) : (
            <HtmlFrame html={message.content.html} title={`The message in ${name}`} />
          )}
        </Stack>
      )}
    </Line>
  </Panel>
);

interface FileLineProps {
  file: InsideFile;
  last: boolean;
  /** Looks inside it, where it is a container itself and not too deep. */
  onInside: (() => void) | undefined;
  isInside: boolean;
  isLookedAt: boolean;
  onLook: () => void;
}

const FileLine = ({ file, last, onInside, isInside, isLookedAt, onLook }: FileLineProps) => (
  <Line last={last}>
    <Text style={styles.wrap}>{`${file.name} · ${sizeInWords(file.bytes.length)}`}</Text>
    <Row>
      {isShown(file) ? (
        <Button
          label={isLookedAt ? 'Hide' : 'Look'}
          describe={`${isLookedAt ? 'Hide' : 'Look at'} ${file.name}`}
          expanded={isLookedAt}
          onPress={onLook}
        />
      ) : null}
      <Button
        label="Save"
        describe={`Save ${file.name}`}
        onPress={() => saveFile(file.bytes, file.name, 'application/octet-stream')}
      />
      {onInside === undefined ? null : (
        <Button label="Look inside" describe={`Look inside ${file.name}`} expanded={isInside} onPress={onInside} />
      )}
    </Row>
    {isLookedAt ? <FileView file={asMessageFile(file)} pdfBase="/pdf" selectable /> : null}
  </Line>
);

function InsideFiles({ files, from, depth }: { files: readonly InsideFile[]; from: Props['from']; depth: number }) {
  const [inner, setInner] = useState<string | undefined>();
  const [looking, setLooking] = useState<string | undefined>();
  if (files.length === 0) return null;
  const flip =
    (set: typeof setInner, name: string): (() => void) =>
    () =>
      set((before) => (before === name ? undefined : name));
  return (
    <>
      <Panel>
        {files.map((file, index) => (
          <FileLine
            key={file.name}
            file={file}
            last={index === files.length - 1}
            onInside={isContainer(file) && depth < MAX_DEPTH ? flip(setInner, file.name) : undefined}
            isInside={inner === file.name}
            isLookedAt={looking === file.name}
            onLook={flip(setLooking, file.name)}
          />
        ))}
      </Panel>
      {files
        .filter((file) => file.name === inner)
        .map((file) => (
          <LockedFile key={file.name} name={file.name} bytes={file.bytes} from={from} depth={depth + 1} />
        ))}
    </>
  );
}

function Inside({
  name,
  bytes,
  opened: { open, message, files, password, viewerPassword },
  from,
  byBook,
  depth,
  openedAt,
}: {
  name: string;
  bytes: Uint8Array<ArrayBuffer>;
  openedAt: Date | undefined;
  opened: Opened;
  from: Props['from'];
  byBook: boolean;
  depth: number;
}) {
  const now = useNow();
  const isPdf = looksLikePdf(bytes);
  return (
    <Section title={`Inside ${name}`} {...(isPdf && files.length === 0 ? {} : { aside: String(files.length) })}>
      {open ? (
        <Banner tone="amber">It was only packed, not locked: anybody on its way could read it.</Banner>
      ) : (
        <Banner tone="sea">
          {byBook && password !== undefined
            ? `Opened with a password from your book${from === undefined ? '' : `, kept for ${from.name || from.address}`}.`
            : 'Opened with the password you gave.'}
        </Banner>
      )}
      {openedAt === undefined ? null : (
        <Text kind="small" tone="soft">{`First opened here ${momentInWords(openedAt, now, zone)}.`}</Text>
      )}
      {message === undefined ? null : <InsideMessage message={message} name={name} />}
      {isPdf ? <PdfView file={{ bytes }} base="/pdf" password={viewerPassword} readable /> : null}
      <InsideFiles files={files} from={from} depth={depth} />
    </Section>
  );
}

const styles = StyleSheet.create({
  ask: { gap: space.s },
  wrap: { overflowWrap: 'anywhere', flexShrink: 1 } as object,
});
