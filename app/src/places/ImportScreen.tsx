/**
 * A key with its certificate from another program's file: PKCS#12, PEM or DER; or a certificate for a key that is here
 * already.
 */
import {
  Banner,
  Button,
  Line,
  Panel,
  PasswordField,
  Progress,
  Result,
  Row,
  Section,
  Stack,
  StateMark,
  Text,
} from '@under-lock/ui';
import { useState } from 'react';
import { useNow } from '../clock';
import { problemWords } from '../problem-words';
import { Screen } from '../shell/Screen';
import { BackToList } from '../shell/ListAndPage';
import { callback } from '../threads/main/door';
import { keysDoor } from '../threads/keys/door';
import { reading } from '../threads/keys/reading';
import { type FileOutcome, type FoundInFile } from '../threads/keys/own';
import { chosenFile } from '../keys/Backup';
import { type SecretFileOutcome } from '../threads/keys/openpgp/room';
import { CertificateFacts } from '../keys/CertificateFacts';
import { SecretKeysFound } from '../keys/openpgp/SecretKeysFound';
import { keysChanged } from '../keys/useKeys';
import { fromHere } from '../shell/from-here';

const failures: Record<Exclude<FileOutcome['outcome'], 'found'>, string> = {
  'wrong-password': 'That password does not open the file. Nothing was changed: type it again.',
  malformed: 'This is not a file of keys (they end in .p12, .pfx, .pem, .key, .der, .asc or .gpg), or it is damaged.',
  unsupported: 'This file is locked in a way that can’t be read here. Save it again in the program it comes from.',
  'too-many-rounds': 'Opening this file would take minutes. Save it again in the program it comes from.',
};

interface OwnFile {
  name: string;
  bytes: Uint8Array<ArrayBuffer>;
}
type Found = Extract<FileOutcome, { outcome: 'found' }>;

/** A file that was chosen, what it holds once it is open, and what is kept of it. */
function useFile() {
  const [file, setFile] = useState<OwnFile | undefined>();
  const [password, setPassword] = useState('');
  const [found, setFound] = useState<Found | undefined>();
  const [openPgp, setOpenPgp] = useState<Exclude<SecretFileOutcome, { outcome: 'nothing' }> | undefined>();
  const [error, setError] = useState<string | undefined>();
  const [busy, setBusy] = useState(false);
  const [share, setShare] = useState(0);
  const choose = async (): Promise<void> => {
    const chosen = await chosenFile();
    if (chosen === undefined) return;
    setFound(undefined);
    setOpenPgp(undefined);
    setError('problem' in chosen ? chosen.problem : undefined);
    setFile('problem' in chosen ? undefined : chosen);
    if (!('problem' in chosen)) await lookForOpenPgp(chosen.bytes);
  };
  /** Its own passphrase is asked for key by key, so that is looked at at once. */
  const lookForOpenPgp = async (bytes: Uint8Array): Promise<void> => {
    try {
      const looked = await reading(bytes.length, (doors) => doors.openpgp.look(bytes, new Date()));
      setOpenPgp(looked.outcome === 'nothing' ? undefined : looked);
    } catch (cause) {
      setError(problemWords(cause));
    }
  };
  const open = async (): Promise<void> => {
    if (file === undefined) return setError('Choose the file first.');
    setBusy(true);
    setShare(0);
    setError(undefined);
    try {
      const outcome = await reading(file.bytes.length, (doors) =>
        doors.own.look(file.bytes, password, callback(setShare)),
      );
      if (outcome.outcome === 'found') setFound(outcome);
      else setError(failures[outcome.outcome]);
    } catch (cause) {
      setError(problemWords(cause));
    }
    setBusy(false);
    return undefined;
  };
  const keep = async ({ index }: FoundInFile): Promise<void> => {
    const goOn = fromHere();
    setBusy(true);
    try {
      const id = crypto.randomUUID();
      await keysDoor().own.bring(id, file!.bytes, password, index, new Date());
      await keysChanged();
      goOn(`/keys/${id}`);
    } catch (cause) {
      setError(problemWords(cause));
      setBusy(false);
    }
  };
  return { file, password, setPassword, found, openPgp, error, busy, share, choose, open, keep };
}

function Choosing({
  file,
  password,
  setPassword,
  openPgp,
  error,
  busy,
  share,
  choose,
  open,
}: ReturnType<typeof useFile>) {
  return (
    <Panel>
      <Line last>
        <Stack>
          <Row>
            <Button
              label={file === undefined ? 'Choose the file' : 'Choose another file'}
              onPress={() => void choose()}
            />
            {file === undefined ? null : <Text kind="small">{file.name}</Text>}
          </Row>
          {openPgp === undefined ? (
            <PasswordField
              label="Password of the file"
              value={password}
              onChangeText={setPassword}
              autoComplete="off"
              hint="Leave it empty if the file has none."
              onSubmitEditing={() => void open()}
            />
          ) : (
            <Text kind="small" tone="soft">
              OpenPGP: what it holds is shown below.
            </Text>
          )}
          <Result said={error} />
          {busy ? (
            <>
              <Text kind="small" tone="soft" aria-live="polite">
                Opening it. Some files are made so that this takes up to a minute.
              </Text>
              <Progress done={share} label="Opening the file" />
            </>
          ) : null}
          {openPgp !== undefined ? null : (
            <Row>
              <Button kind="main" label="Open the file" busy={busy} onPress={() => void open()} />
            </Row>
          )}
        </Stack>
      </Line>
    </Panel>
  );
}

function OneFound({ one, busy, onKeep }: { one: FoundInFile; busy: boolean; onKeep: () => void }) {
  const now = useNow();
  return (
    <>
      {one.certificate === undefined ? (
        <Text tone="soft">A key without a certificate: it can’t be used.</Text>
      ) : (
        <CertificateFacts view={one.certificate} verdict={undefined} now={now} unmarked />
      )}
      {one.forKept && !one.known ? (
        <Text kind="small" tone="soft">
          Its key is in your vault already.
        </Text>
      ) : null}
      {one.certificate === undefined ? null : one.known ? (
        <StateMark tone="over" word="already yours" />
      ) : (
        <Row>
          <Button
            kind="main"
            label="Keep it"
            describe={`Keep it: ${one.certificate.addresses.join(', ')}`}
            busy={busy}
            onPress={onKeep}
          />
        </Row>
      )}
    </>
  );
}

const foundTitle = ({ keys }: Found): string =>
  keys.length === 0 ? 'No key in this file' : keys.length === 1 ? 'In the file' : `${keys.length} in the file`;

export function ImportScreen() {
  const chosen = useFile();
  const { file, found, openPgp, busy, keep } = chosen;
  return (
    <Screen title="Bring one from a file" back={<BackToList href="/keys" label="Keys" />}>
      <Text tone="soft">
        Mail programs save a key and its certificate as one file under a password, ending in .p12 or .pfx; others as
        text, ending in .pem. It is opened in this browser; the key goes into your vault and nowhere else. A certificate
        alone is taken, too, when its key is here already. OpenPGP programs save secret keys as .asc or .gpg; those are
        taken, too, and so is the revocation certificate of a key of yours.
      </Text>
      <Choosing {...chosen} />
      {openPgp === undefined || file === undefined ? null : <SecretKeysFound file={file.bytes} found={openPgp} />}
      {found === undefined ? null : (
        <Section title={foundTitle(found)}>
          {found.keys.length === 0 ? (
            <Banner tone="amber">{`It holds ${found.others.length === 1 ? 'a certificate' : `${found.others.length} certificates`} and no private key, and none of your keys belongs to it, so nothing can be signed or read with it. In the other program, save it together with the private key. Somebody else’s certificate belongs under People.`}</Banner>
          ) : null}
          <Panel>
            {[...found.keys].map((one, position) => (
              <Line key={one.index} last={position === found.keys.length - 1}>
                <OneFound one={one} busy={busy} onKeep={() => void keep(one)} />
              </Line>
            ))}
          </Panel>
        </Section>
      )}
    </Screen>
  );
}
