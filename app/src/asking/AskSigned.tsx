/** Asking somebody for a signed message: what is sent is shown before it is. */
import { defined } from '@under-lock/core/defined';
import { Banner, Button, Dialog, Prose, Text } from '@under-lock/ui';
import { router } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { askForSigned, NothingToSignWithError, requestWords } from '../sending/request';
import { useOffice } from '../session/useOffice';
import { problemWords } from '../problem-words';
import { useOpenSession } from '../session/session';
import { type Kept } from '@under-lock/core/vault/kept';
import { type Person } from '@under-lock/core/people/kept-person';
import { rememberPerson } from '../people/person';

interface Props {
  person: Person;
  people: readonly Kept<Person>[];
  /** The draft that waits for the answer. */ forDraft?: string;
  onClose: () => void;
}

export function AskSigned({ person, people, forDraft, onClose }: Props) {
  const { account } = useOpenSession();
  const { data: office } = useOffice();
  const [busy, setBusy] = useState(false);
  const [failed, setFailed] = useState<string | undefined>();
  const [unsigned, setUnsigned] = useState(false);
  if (office === undefined) return null;
  const who = person.name || person.address;
  const recipient = { name: person.name, address: person.address };
  const asking = {
    recipient,
    language: person.language ?? 'en',
    sender: { name: account.name, address: account.address },
    office,
    ...defined({ forDraft }),
  };
  const words = requestWords(asking);
  const ask = async (): Promise<void> => {
    setBusy(true);
    setFailed(undefined);
    try {
      const at = new Date();
      const messageId = await askForSigned(asking, at);
      await rememberPerson(people, { ...person, asked: { at: at.toISOString(), messageId } });
      onClose();
    } catch (error) {
      if (error instanceof NothingToSignWithError) setUnsigned(true);
      else setFailed(problemWords(error));
    }
    setBusy(false);
  };
  return (
    <Dialog
      title={`Ask ${who} for a signed message?`}
      open
      onClose={onClose}
      said={failed}
      actions={
        <>
          {unsigned ? (
            <Button kind="main" label="Get a certificate" onPress={() => router.push('/keys/new' as never)} />
          ) : (
            <Button kind="main" label="Ask" busy={busy} onPress={() => void ask()} />
          )}
          <Button label="Not now" onPress={onClose} />
        </>
      }
    >
      <Text>
        This mail goes out with your signature, readable by anybody on its way. It says nothing of what you want to
        write.
      </Text>
      {unsigned ? (
        <Banner tone="amber">
          It has to be signed, and you have no certificate to sign with yet, nor an OpenPGP key. Get one first; it takes
          a minute.
        </Banner>
      ) : null}
      <View style={styles.letter} role="region" aria-label="What it says" tabIndex={0}>
        <Text kind="strong">{words.subject}</Text>
        <Prose kind="small">{words.text}</Prose>
      </View>
    </Dialog>
  );
}

const styles = StyleSheet.create({
  letter: { gap: 8, maxHeight: 280, overflow: 'auto' } as object,
});
