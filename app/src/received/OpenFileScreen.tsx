/** Mail from a file: dropped or chosen, opened in this browser, with what is to be known about it beside its sender. */
import { sameBytes, fromBase64Url, toBase64Url } from '@under-lock/core/bytes';
import { momentInWords, sizeInWords } from '@under-lock/core/when';
import { Banner, Button, Heading, Line, Loading, Panel, Row, Section, Stack, StateMark, Text } from '@under-lock/ui';
import { HtmlFrame } from '@under-lock/ui/html-frame';
import * as DocumentPicker from 'expo-document-picker';
import { useState } from 'react';
import { StyleSheet } from 'react-native';
import { useNow, zone } from '../clock';
import { CertificateFacts } from '../keys/CertificateFacts';
import { DropZone } from '../message/FilesField';
import { useOffice } from '../office/useOffice';
import { currentCertificate, withCertificate } from '../people/certificates';
import { personAt, rememberPerson, usePeople } from '../people/person';
import { problemWords } from '../problem-words';
import { saveFile } from '../save-file';
import { Screen } from '../shell/Screen';
import { WayLink } from '../shell/WayLink';
import { keysDoor } from '../worker/keys/door';
import { type OpenedMail, type OpenOutcome, type SignerView } from '../worker/keys/opening';
import { failureWords, isVouchedFor, mailWords } from './signer-words';

const back = <WayLink href="/mail/received" label="Received" />;
const named = ({ name, address }: { name: string; address: string }): string => (name === '' ? address : `${name} <${address}>`);

export function OpenFileScreen() {
  const { data: office } = useOffice();
  const [state, setState] = useState<{ name: string; outcome?: OpenOutcome } | undefined>();
  const [failed, setFailed] = useState<string | undefined>();
  const limit = (office?.limits.maxBytes ?? 25_000_000) * 2;
  const take = async (file: File | undefined): Promise<void> => {
    if (file === undefined) return;
    setFailed(undefined);
    if (file.size > limit) return setFailed(`${file.name} is larger than ${sizeInWords(limit)}: that is more than mail holds here.`);
    setState({ name: file.name });
    try {
      setState({ name: file.name, outcome: await keysDoor().opening.open(new Uint8Array(await file.arrayBuffer()), new Date()) });
    } catch (error) {
      setState(undefined);
      setFailed(problemWords(error));
    }
    return undefined;
  };
  const choose = async (): Promise<void> => {
    const picked = await DocumentPicker.getDocumentAsync({ multiple: false, base64: false } as DocumentPicker.DocumentPickerOptions);
    if (!picked.canceled) await take(picked.assets[0]?.file);
  };
  const outcome = state?.outcome;
  return (
    <Screen title="Open mail from a file" back={back}>
      <DropZone onFiles={([file]) => void take(file)}>
        <Text tone="soft">Mail saved from another program, ending in .eml or .p7m, is opened in this browser with your keys. Choose it, or drop it here.</Text>
        <Row>
          <Button kind={outcome?.outcome === 'opened' ? 'plain' : 'main'} label={state === undefined ? 'Choose the file' : 'Choose another file'} onPress={() => void choose()} />
          {state === undefined ? null : <Text kind="small" style={styles.wrap}>{state.name}</Text>}
        </Row>
        {failed === undefined ? null : <Banner tone="brick">{failed}</Banner>}
        {state !== undefined && outcome === undefined ? <Panel><Line last><Loading what="Opening it in your browser" /></Line></Panel> : null}
        {outcome === undefined ? null : outcome.outcome === 'opened' ? <Mail key={state!.name} mail={outcome} /> : <Banner tone="brick">{failureWords[outcome.outcome]}</Banner>}
      </DropZone>
    </Screen>
  );
}

function Mail({ mail }: { mail: OpenedMail }) {
  const now = useNow();
  const { message, encrypted } = mail;
  // What could have been altered on its way is shown as text and as nothing else.
  const plain = message.html === '' || (encrypted !== undefined && !encrypted.authenticated && !isVouchedFor(mail));
  return (
    <Stack>
      {mailWords(mail).map(({ tone, text }) => <Banner key={text} tone={tone}>{text}</Banner>)}
      <Panel>
        <Line last>
          <Stack>
            <Heading level={2} style={styles.wrap}>{message.subject || '(no subject)'}</Heading>
            <Text kind="small" tone="soft" style={styles.wrap}>{`${named(message.from)} · ${message.date.getTime() === 0 ? 'without a date' : momentInWords(message.date, now, zone)}`}</Text>
            <Text kind="small" tone="soft" style={styles.wrap}>{`To: ${message.to.map(named).join(', ')}${message.cc.length === 0 ? '' : ` · Cc: ${message.cc.map(named).join(', ')}`}`}</Text>
            <Row>{encrypted === undefined ? <StateMark tone="over" word="not encrypted" /> : <StateMark tone={encrypted.old ? 'wants' : 'done'} word="encrypted to you" />}</Row>
            {plain ? <Text style={styles.text} selectable>{message.text === '' ? textOf(message.html) : message.text}</Text> : <HtmlFrame html={message.html} title={message.subject} />}
          </Stack>
        </Line>
      </Panel>
      {message.files.length === 0 ? null : (
        <Section title="Files" aside={String(message.files.length)}>
          <Panel>
            {message.files.map((file, index) => (
              <Line key={file.name} last={index === message.files.length - 1}>
                <Text style={styles.wrap}>{`${file.name} · ${sizeInWords(file.bytes.length)}`}</Text>
                <Row><Button label="Save" describe={`Save ${file.name}`} onPress={() => saveFile(file.bytes, file.name, 'application/octet-stream')} /></Row>
              </Line>
            ))}
          </Panel>
        </Section>
      )}
      {mail.signers.map((signer) => (signer.kind === 'signed' ? <Signer key={signer.certificate.fingerprint} signer={signer} mail={mail} now={now} /> : null))}
    </Stack>
  );
}

/** The words of somebody's HTML and nothing else of it: parsed apart, so that nothing runs or loads. */
function textOf(html: string): string {
  const page = new DOMParser().parseFromString(html, 'text/html');
  for (const element of page.querySelectorAll('script, style, template')) element.remove();
  for (const element of page.querySelectorAll('br, p, div, li, tr, h1, h2, h3')) element.append('\n');
  return page.body.textContent.trim();
}

/** Who signed, and the certificate for keeping once the worker has looked. */
function Signer({ signer, mail: { message }, now }: { signer: Extract<SignerView, { kind: 'signed' }>; mail: OpenedMail; now: Date }) {
  const { data: people } = usePeople();
  const [busy, setBusy] = useState(false);
  const [failed, setFailed] = useState<string | undefined>();
  const { certificate, verdict, capabilities, chain } = signer;
  const { name, address } = message.from;
  const person = people === undefined ? undefined : personAt(people, address)?.value;
  const kept = person === undefined ? undefined : currentCertificate(person);
  const known = kept !== undefined && sameBytes(fromBase64Url(kept.certificate), certificate.bytes);
  const offered = people !== undefined && verdict.level !== 'stop' && certificate.uses.encrypt && !known;
  const keep = async (): Promise<void> => {
    setBusy(true);
    try {
      const taken = { certificate: toBase64Url(certificate.bytes), from: 'mail' as const, ...(chain.length === 0 ? {} : { chain: chain.map((one) => toBase64Url(one)) }), ...(capabilities === undefined ? {} : { capabilities: [...capabilities] }) };
      await rememberPerson(people!, { ...person, name: person?.name ?? name, address, certificates: withCertificate(person?.certificates, taken, new Date()) });
    } catch (error) {
      setFailed(problemWords(error));
    }
    setBusy(false);
  };
  return (
    <Section title="Who signed it">
      <Panel><Line last>
        <CertificateFacts view={certificate} verdict={verdict} now={now} />
        {signer.signingTime === undefined ? null : <Text kind="small" tone="soft">{`Signed ${momentInWords(signer.signingTime, now, zone)}, by their clock.`}</Text>}
        {known ? <StateMark tone="done" word="the certificate you have for them" /> : null}
        {offered ? (
          <Stack>
            {kept === undefined ? null : <Banner tone="amber">{`You have another certificate for ${person!.name || address}. A changed one is usual when the old one runs out; otherwise ask them, by phone, before you take it.`}</Banner>}
            {failed === undefined ? null : <Banner tone="brick">{failed}</Banner>}
            <Row><Button label={kept === undefined ? 'Keep the certificate' : 'Take it instead'} describe={`${kept === undefined ? 'Keep the certificate' : 'Take it instead'}, for ${address}`} busy={busy} onPress={() => void keep()} /></Row>
          </Stack>
        ) : null}
      </Line></Panel>
    </Section>
  );
}

const styles = StyleSheet.create({
  wrap: { overflowWrap: 'anywhere', flexShrink: 1 } as object,
  text: { whiteSpace: 'pre-wrap', overflowWrap: 'anywhere' } as object,
});
