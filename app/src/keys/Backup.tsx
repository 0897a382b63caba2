/** A backup under a password, and the proof that it opens: only then it counts. */
import { isPortablePassword } from '@under-lock/core/key-files/pkcs12/password';
import { type PasswordPair } from '@under-lock/core/account/password-rules';
import { dayInWords } from '@under-lock/core/when';
import { Banner, Button, PasswordField, Row, Section, Stack, StateMark, Text } from '@under-lock/ui';
import * as DocumentPicker from 'expo-document-picker';
import { useState } from 'react';
import { useNow, zone } from '../clock';
import { problemWords } from '../problem-words';
import { exported } from '../exported';
import { saveFile } from '../save-file';
import { NewPassword, passwordProblem } from '../session/NewPassword';
import { keysDoor } from '../threads/keys/door';
import { keysChanged } from './useKeys';

const MAX_FILE = 4 * 1024 * 1024;

/** A chosen file's bytes, or the sentence why not; undefined when none was chosen. */
export async function chosenFile(
  most = MAX_FILE,
  larger = 'any backup of keys',
): Promise<{ name: string; bytes: Uint8Array<ArrayBuffer> } | { problem: string } | undefined> {
  const picked = await DocumentPicker.getDocumentAsync({
    multiple: false,
    base64: false,
  } as DocumentPicker.DocumentPickerOptions);
  const file = picked.canceled ? undefined : picked.assets[0]?.file;
  if (file === undefined) return undefined;
  if (file.size > most) return { problem: `${file.name} is larger than ${larger}. Choose another file.` };
  return { name: file.name, bytes: new Uint8Array(await file.arrayBuffer()) };
}

const proofWords = {
  'wrong-password': 'That password does not open the file. Type the one you chose for it.',
  malformed: 'That file is not a backup of keys, or it is damaged. Choose the one you have just saved.',
  'another-key': 'That file opens, and holds another key. Choose the one you have just saved.',
} as const;

export interface BackupWork {
  /** The file under this password, and what it is called. */
  make: (password: string) => Promise<{ bytes: Uint8Array<ArrayBuffer>; name: string; type: string }>;
  prove: (file: Uint8Array, password: string) => Promise<'proved' | keyof typeof proofWords>;
}

/** A key's file for other programs. */
export const certificateBackup = (id: string, address: string): BackupWork => ({
  make: async (password) => ({
    bytes: await keysDoor().own.backup(id, password),
    name: `${address.replace(/[^\w.-]+/g, '-')}-key.p12`,
    type: 'application/x-pkcs12',
  }),
  prove: (file, password) => keysDoor().own.proveBackup(id, file, password, new Date()),
});

type Step = 'idle' | 'password' | 'prove';

/** One step at a time: a password is chosen and the file saved, then it is seen to open. */
function useBackup(address: string, work: BackupWork) {
  const [pair, setPair] = useState<PasswordPair>({ first: '', second: '' });
  const [step, setStep] = useState<Step>('idle');
  const [again, setAgain] = useState('');
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<string | undefined>();

  const attempt = async (act: () => Promise<string | undefined>): Promise<void> => {
    setBusy(true);
    setError(undefined);
    try {
      setError(await act());
    } catch (cause) {
      setError(problemWords(cause));
    }
    setBusy(false);
  };
  const save = (): Promise<void> =>
    attempt(async () => {
      const problem =
        passwordProblem(pair, address) ??
        (isPortablePassword(pair.first)
          ? undefined
          : 'Use letters without accents, digits and signs of an English keyboard: programs spell others differently.');
      if (problem !== undefined) return problem;
      const { bytes, name, type } = await work.make(pair.first);
      saveFile(bytes, name, type);
      exported(type === 'application/pgp-keys' ? 'openpgp-backup' : 'certificate-backup');
      setStep('prove');
      setPair({ first: '', second: '' });
      return undefined;
    });
  const prove = (): Promise<void> =>
    attempt(async () => {
      if (again === '') return 'Type the password first: it is part of the proof.';
      const file = await chosenFile();
      if (file === undefined) return undefined;
      if ('problem' in file) return file.problem;
      const outcome = await work.prove(file.bytes, again);
      if (outcome !== 'proved') return proofWords[outcome];
      setStep('idle');
      setAgain('');
      await keysChanged();
      return undefined;
    });
  const go = (to: Step): void => {
    setStep(to);
    setError(undefined);
  };
  return { pair, setPair, step, go, again, setAgain, busy, error, save, prove };
}
type BackingUp = ReturnType<typeof useBackup>;

const ChoosePassword = ({ pair, setPair, go, busy, error, save }: BackingUp) => (
  <Stack>
    <NewPassword pair={pair} onChange={setPair} error={error} />
    <Row>
      <Button kind="main" label="Save the file" busy={busy} onPress={() => void save()} />
      <Button label="Not now" onPress={() => go('idle')} />
    </Row>
  </Stack>
);

const Prove = ({ again, setAgain, go, busy, error, prove }: BackingUp) => (
  <Stack>
    <Banner tone="amber">
      The file is saved. It counts as a backup once it has been seen to open: type its password again and choose the
      file.
    </Banner>
    <PasswordField
      label="Password of the file"
      value={again}
      onChangeText={setAgain}
      autoComplete="off"
      error={error}
    />
    <Row>
      <Button kind="main" label="Choose the file and prove it" busy={busy} onPress={() => void prove()} />
      <Button label="Save it once more" onPress={() => go('password')} />
    </Row>
  </Stack>
);

interface Props {
  backedUpAt: string | undefined;
  address: string;
  work: BackupWork;
}

export function Backup({ backedUpAt, address, work }: Props) {
  const now = useNow();
  const backing = useBackup(address, work);
  const { step, go } = backing;
  return (
    <Section title="Backup">
      {backedUpAt === undefined ? (
        <StateMark tone="wants" word="not backed up" />
      ) : (
        <StateMark tone="done" word={`backed up, proved ${dayInWords(new Date(backedUpAt), now, zone)}`} />
      )}
      <Text kind="small" tone="soft">
        A file that holds the key, under a password of its own. Other mail programs take it too. Keep both apart, and
        outside this computer: whoever has file and password can read your mail.
      </Text>
      {step === 'idle' ? (
        <Row>
          <Button
            {...(backedUpAt === undefined ? { kind: 'main' as const } : {})}
            label={backedUpAt === undefined ? 'Back it up' : 'Save another backup'}
            onPress={() => go('password')}
          />
        </Row>
      ) : null}
      {step === 'password' ? <ChoosePassword {...backing} /> : null}
      {step === 'prove' ? <Prove {...backing} /> : null}
    </Section>
  );
}
