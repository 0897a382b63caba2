/** Mail from a file: dropped or chosen, opened in this browser, with what is to be known about it beside its sender. */
import { readCarried } from '@under-lock/core/locks/carried/read';
import { isContainer } from '@under-lock/core/locks/file/container';
import { sizeInWords } from '@under-lock/core/when';
import { Banner, Button, Line, Loading, Panel, Result, Row, Text } from '@under-lock/ui';
import { DropZone } from '@under-lock/ui/drop-zone';
import * as DocumentPicker from 'expo-document-picker';
import { useState } from 'react';
import { StyleSheet } from 'react-native';
import { useOffice } from '../session/useOffice';
import { problemWords } from '../problem-words';
import { Screen } from '../shell/Screen';
import { BackToList } from '../shell/ListAndPage';
import { reading } from '../threads/keys/reading';
import { type OpenOutcome } from '../threads/keys/opening';
import { useNow } from '../clock';
import { CertificateFacts } from '../keys/CertificateFacts';
import { KeyFacts } from '../keys/openpgp/KeyFacts';
import { CertificatesFound } from './CertificatesFound';
import { KeysFound } from './KeysFound';
import { LockedFile } from './LockedFile';
import { MailViewLater } from './MailViewLater';
import { failureOf, signerWords } from './signer-words';

/** What a file turned out to be; nothing of it while it is being opened. */
interface Found {
  name: string;
  outcome?: OpenOutcome;
  /** A container with its password still to come. */ locked?: Uint8Array<ArrayBuffer>;
  /** Of a carried page, where it opens. */ room?: string;
}

const back = <BackToList href="/mail/received" label="Received" />;

/** @throws Error of whatever opens it */
async function openFiles(files: readonly File[]): Promise<Found> {
  const [first, second] = await Promise.all(
    files.map(async (file) => ({ name: file.name, bytes: new Uint8Array(await file.arrayBuffer()) })),
  );
  const carried = second === undefined ? readCarried(first!.bytes) : undefined;
  if (carried !== undefined) return { name: first!.name, room: carried.origin };
  if (second === undefined && isContainer(first!)) return { name: first!.name, locked: first!.bytes };
  if (second === undefined)
    return {
      name: first!.name,
      outcome: await reading(first!.bytes.length, (doors) => doors.opening.openFile(first!.bytes, new Date())),
    };
  const [signature, content] = isSignature(second.name) ? [second, first!] : [first!, second];
  return {
    name: `${signature.name} with ${content.name}`,
    outcome: await reading(signature.bytes.length + content.bytes.length, (doors) =>
      doors.opening.beside(signature.bytes, content.bytes, new Date()),
    ),
  };
}

/** In a sentence, why these can't be opened together; `limit` in octets. */
function refusalOf(files: readonly File[], limit: number): string | undefined {
  const large = files.find(({ size }) => size > limit);
  if (large !== undefined)
    return `${large.name} is larger than ${sizeInWords(limit)}: that is more than mail holds here.`;
  if (files.length > 2 || (files.length === 2 && !files.some(({ name }) => isSignature(name))))
    return 'One mail at a time, please. Only a signature (.p7s, .sig, .asc) comes together with the file it signs.';
  return undefined;
}

export function OpenFileScreen() {
  const { data: office } = useOffice();
  const [state, setState] = useState<(Found & { files: readonly File[] }) | undefined>();
  const [failed, setFailed] = useState<string | undefined>();
  const limit = (office?.limits.maxBytes ?? 25_000_000) * 2;
  const take = async (files: readonly File[]): Promise<void> => {
    if (files.length === 0) return undefined;
    setFailed(undefined);
    const refusal = refusalOf(files, limit);
    if (refusal !== undefined) return setFailed(refusal);
    setState({ name: files.map(({ name }) => name).join(', '), files });
    try {
      setState({ ...(await openFiles(files)), files });
    } catch (error) {
      setState(undefined);
      setFailed(problemWords(error));
    }
    return undefined;
  };
  const choose = async (): Promise<void> => {
    const picked = await DocumentPicker.getDocumentAsync({
      multiple: true,
      base64: false,
    } as DocumentPicker.DocumentPickerOptions);
    if (!picked.canceled) await take(picked.assets.flatMap(({ file }) => file ?? []));
  };
  const outcome = state?.outcome;
  return (
    <Screen title="Open mail from a file" back={back}>
      <DropZone onFiles={(files) => void take(files)}>
        <Text tone="soft">
          Mail saved from another program, ending in .eml or .p7m, and OpenPGP messages (.asc, .pgp, .gpg) are opened in
          this browser with your keys; locked files (.zip, .pdf, .html) with their password; certificates (.p7b, .cer)
          and OpenPGP keys are shown, and a signature (.p7s, .sig, .asc) is held against the file it comes with. Choose
          it, or drop it here.
        </Text>
        <Row>
          <Button
            kind={outcome?.outcome === 'opened' ? 'plain' : 'main'}
            label={state === undefined ? 'Choose the file' : 'Choose another file'}
            onPress={() => void choose()}
          />
          {state === undefined ? null : (
            <Text kind="small" style={styles.wrap}>
              {state.name}
            </Text>
          )}
        </Row>
        <Result said={failed} />
        {state?.room === undefined ? null : (
          <Banner tone="amber">{`This is a carried page: a message in a file, which opens in the reading room of whoever sent it, at ${state.room}. Open the file itself in a browser and press its button, or go there and give it the file.`}</Banner>
        )}
        {state?.locked === undefined ? null : (
          <LockedFile key={state.name} name={state.name} bytes={state.locked} from={undefined} />
        )}
        {state !== undefined && outcome === undefined && state.locked === undefined && state.room === undefined ? (
          <Panel>
            <Line last>
              <Loading what="Opening it in your browser" />
            </Line>
          </Panel>
        ) : null}
        {outcome === undefined ? null : (
          <Outcome name={state!.name} outcome={outcome} onTrusted={() => void take(state!.files)} />
        )}
      </DropZone>
    </Screen>
  );
}

function Outcome({ name, outcome, onTrusted }: { name: string; outcome: OpenOutcome; onTrusted: () => void }) {
  const now = useNow();
  if (outcome.outcome === 'opened') return <MailViewLater key={name} mail={outcome} onTrusted={onTrusted} />;
  if (outcome.outcome === 'only-certificates') {
    return (
      <>
        {outcome.signature ? (
          <Banner tone="amber">
            This is a signature without what it signs. To see whether it holds, drop both together: the .p7s and the
            file it came with.
          </Banner>
        ) : null}
        <CertificatesFound name={name} found={outcome.certificates} />
      </>
    );
  }
  if (outcome.outcome === 'only-keys') return <KeysFound name={name} found={outcome.keys} />;
  if (outcome.outcome === 'beside') {
    return (
      <>
        {outcome.signers.map((signer, index) => {
          const { tone, text } = signerWords(signer);
          return (
            <Banner key={index} tone={tone}>
              {text}
            </Banner>
          );
        })}
        {outcome.signers.map((signer) =>
          signer.kind === 'signed' ? (
            <Panel key={signer.certificate.fingerprint}>
              <Line last>
                <CertificateFacts view={signer.certificate} verdict={signer.verdict} now={now} />
              </Line>
            </Panel>
          ) : signer.kind === 'key-signed' ? (
            <Panel key={signer.key.fingerprint}>
              <Line last>
                <KeyFacts view={signer.key} verdict={signer.verdict} now={now} />
              </Line>
            </Panel>
          ) : null,
        )}
      </>
    );
  }
  return <Banner tone="brick">{failureOf(outcome)}</Banner>;
}

const isSignature = (name: string): boolean =>
  /\.(?:p7s|sig)$/i.test(name) || /^signature\.asc$/i.test(name) || /\.\w+\.asc$/i.test(name);

const styles = StyleSheet.create({
  wrap: { overflowWrap: 'anywhere', flexShrink: 1 } as object,
});
