/**
 * A mail that was opened with the worker's own keys: what is to be known first, then what it says, its files, and who
 * signed it. Nothing of it runs, nothing is loaded.
 */
import { defined } from '@under-lock/core/defined';
import { isContainer } from '@under-lock/core/locks/file/container';
import { type Origin } from '@under-lock/core/incoming/origin';
import { momentInWords, sizeInWords } from '@under-lock/core/when';
import { Banner, Button, Heading, Line, Panel, Prose, Row, Section, Stack, StateMark, Text } from '@under-lock/ui';
import { HtmlFrame } from '@under-lock/ui/html-frame';
import { StyleSheet } from 'react-native';
import { useNow, zone } from '../clock';
import { CertificateFacts } from '../keys/CertificateFacts';
import { TrustForMyself } from '../keys/TrustForMyself';
import { saveFile } from '../save-file';
import { type OpenedMail, type SignerView } from '../threads/keys/opening';
import { KeyFacts } from '../keys/openpgp/KeyFacts';
import { KeepCertificate } from './KeepCertificate';
import { LockedFile } from './LockedFile';
import { MeansFound, useNewKeys } from './MeansFound';
import { CameFrom } from './CameFrom';
import { isVouchedFor, mailWords } from './signer-words';
import { useSender } from './useSender';

const named = ({ name, address }: { name: string; address: string }): string =>
  name === '' ? address : `${name} <${address}>`;

interface Props {
  mail: OpenedMail;
  /** An authority is trusted now that was not when it was opened. */
  onTrusted?: () => void;
  /** A locked file among its files was opened. */
  onFileOpened?: (name: string) => void;
  /** When which was first. */
  filesOpened?: ReadonlyMap<string, Date>;
  /** The mail slot that it was left in. */
  slot?: string;
  /** Whether its domain says that it sent it. */
  origin?: Origin;
  /** It answers a notice, and not the message that it told of. */
  answersNotice?: boolean;
}

export function MailView({ mail, onTrusted, onFileOpened, filesOpened, slot, origin, answersNotice = false }: Props) {
  const now = useNow();
  const { message } = mail;
  const keys = useNewKeys(mail);
  const { isNew, looksLike } = useSender(slot === undefined ? message.from : undefined);
  return (
    <Stack>
      {looksLike === undefined ? null : <Banner tone="amber">{looksLike}</Banner>}
      {mailWords(mail, { leftInSlot: slot !== undefined, origin }).map(({ tone, text }) => (
        <Banner key={text} tone={tone}>
          {text}
        </Banner>
      ))}
      <Letter mail={mail} isNew={isNew} answersNotice={answersNotice} {...defined({ slot, origin })} />
      <Files files={message.files} />
      {message.files.filter(isContainer).map((file) => (
        <LockedFile
          key={file.name}
          name={file.name}
          bytes={file.bytes}
          from={message.from.address === '' ? undefined : message.from}
          openedAt={filesOpened?.get(file.name)}
          onOpened={() => onFileOpened?.(file.name)}
        />
      ))}
      {mail.signers.map((signer, index) =>
        signer.kind === 'signed' ? (
          <Signer key={index} signer={signer} mail={mail} now={now} {...defined({ onTrusted })} />
        ) : signer.kind === 'key-signed' ? (
          <KeySigner key={index} signer={signer} keys={keys} now={now} />
        ) : null,
      )}
      <MeansFound mail={mail} keys={keys} />
    </Stack>
  );
}

type LetterProps = Pick<Props, 'mail' | 'slot' | 'origin' | 'answersNotice'> & { isNew: boolean };

/** What it says, whom it is from and to, and how it came. */
function Letter({ mail, slot, origin, answersNotice, isNew }: LetterProps) {
  const now = useNow();
  const { message, encrypted } = mail;
  // What could have been altered on its way is shown as text and as nothing else.
  const plain = message.html === '' || (encrypted !== undefined && !encrypted.authenticated && !isVouchedFor(mail));
  return (
    <Panel>
      <Line last>
        <Stack>
          <Heading level={2} style={styles.wrap}>
            {message.subject || '(no subject)'}
          </Heading>
          <Text
            kind="small"
            tone="soft"
            style={styles.wrap}
          >{`${named(message.from)} · ${message.date.getTime() === 0 ? 'without a date' : momentInWords(message.date, now, zone)}`}</Text>
          <Text kind="small" tone="soft" style={styles.wrap}>
            {slot !== undefined
              ? `For ${slot}`
              : `To: ${message.to.map(named).join(', ')}${message.cc.length === 0 ? '' : ` · Cc: ${message.cc.map(named).join(', ')}`}`}
          </Text>
          <Row>
            {slot !== undefined ? (
              <StateMark tone="done" word="left under lock" />
            ) : encrypted === undefined ? (
              <StateMark tone="over" word="not encrypted" />
            ) : (
              <StateMark tone={encrypted.old ? 'wants' : 'done'} word="encrypted to you" />
            )}
            {answersNotice ? <StateMark tone="wants" word="came open, past the reading room" /> : null}
            {isNew ? <StateMark tone="wants" word="new to you" /> : null}
          </Row>
          {origin === undefined ? null : <CameFrom origin={origin} />}
          {plain ? (
            <Prose selectable>{message.text === '' ? textOf(message.html) : message.text}</Prose>
          ) : (
            <HtmlFrame html={message.html} title={message.subject} />
          )}
        </Stack>
      </Line>
    </Panel>
  );
}

function Files({ files }: { files: OpenedMail['message']['files'] }) {
  if (files.length === 0) return null;
  return (
    <Section title="Files" aside={String(files.length)}>
      <Panel>
        {files.map((file, index) => (
          <Line key={file.name} last={index === files.length - 1}>
            <Text style={styles.wrap}>{`${file.name} · ${sizeInWords(file.bytes.length)}`}</Text>
            <Row>
              <Button
                label="Save"
                describe={`Save ${file.name}`}
                onPress={() => saveFile(file.bytes, file.name, 'application/octet-stream')}
              />
            </Row>
          </Line>
        ))}
      </Panel>
    </Section>
  );
}

/** The words of somebody's HTML and nothing else of it: parsed apart, so that nothing runs or loads. */
function textOf(html: string): string {
  const page = new DOMParser().parseFromString(html, 'text/html');
  for (const element of page.querySelectorAll('script, style, template')) element.remove();
  for (const element of page.querySelectorAll('br, p, div, li, tr, h1, h2, h3')) element.append('\n');
  return page.body.textContent.trim();
}

/** Who signed with an OpenPGP key; one that came along is shown further down, for keeping. */
function KeySigner({
  signer,
  keys,
  now,
}: {
  signer: Extract<SignerView, { kind: 'key-signed' }>;
  keys: OpenedMail['keys'];
  now: Date;
}) {
  if (keys.some(({ view }) => view.fingerprint === signer.key.fingerprint)) return null;
  return (
    <Section title="Who signed it">
      <Panel>
        <Line last>
          <KeyFacts view={signer.key} verdict={signer.verdict} now={now} />
          <Text
            kind="small"
            tone="soft"
          >{`Signed ${momentInWords(signer.signingTime, now, zone)}, by their clock.`}</Text>
        </Line>
      </Panel>
    </Section>
  );
}

/** Who signed, and the certificate for keeping once the worker has looked. */
function Signer({
  signer,
  mail: { message },
  now,
  onTrusted,
}: {
  signer: Extract<SignerView, { kind: 'signed' }>;
  mail: OpenedMail;
  now: Date;
  onTrusted?: () => void;
}) {
  const { certificate, verdict, capabilities, chain } = signer;
  return (
    <Section title="Who signed it">
      <Panel>
        <Line last>
          <CertificateFacts view={certificate} verdict={verdict} now={now} />
          {signer.signingTime === undefined ? null : (
            <Text
              kind="small"
              tone="soft"
            >{`Signed ${momentInWords(signer.signingTime, now, zone)}, by their clock.`}</Text>
          )}
          <TrustForMyself view={certificate} verdict={verdict} along={chain} {...defined({ onTrusted })} />
          {verdict.level === 'stop' || !certificate.uses.encrypt ? null : (
            <KeepCertificate
              certificate={certificate}
              from="mail"
              chain={chain}
              holder={message.from}
              {...defined({ capabilities })}
            />
          )}
        </Line>
      </Panel>
    </Section>
  );
}

const styles = StyleSheet.create({
  wrap: { overflowWrap: 'anywhere', flexShrink: 1 } as object,
});
