/**
 * The guided path to a certificate: the key is made in this browser, the authority asked, the answer installed. Each
 * step may be tried again; the backup follows on the certificate's own page.
 */
import { type KeyKind } from '@under-lock/core/certificate/make-key';
import { Banner, Button, Check, Choice, Line, Loading, Panel, Row, Stack, Text } from '@under-lock/ui';
import { useLocalSearchParams } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { listed } from '../handling/words';
import { problemWords } from '../problem-words';
import { ownAddresses } from '@under-lock/core/people/own-addresses';
import { useOpenSession } from '../session/session';
import { Screen } from '../shell/Screen';
import { BackToList } from '../shell/ListAndPage';
import { keysDoor } from '../threads/keys/door';
import { type Purpose } from '@under-lock/core/certificate/kept-key';
import { keysChanged } from './useKeys';
import { purposeWords } from './words';
import { fromHere } from '../shell/from-here';

const kinds: { value: KeyKind; label: string; detail: string }[] = [
  { value: 'rsa-3072', label: 'RSA, 3072 bits', detail: 'Every mail program reads it' },
  {
    value: 'p-256',
    label: 'Elliptic curve, P-256',
    detail: 'Smaller and faster; programs older than about 2015 don’t read it',
  },
  { value: 'p-384', label: 'Elliptic curve, P-384', detail: 'Where somebody asks for it' },
];

/** For which of the worker's addresses it is to be. */
function AddressChecks({
  all,
  chosen,
  onChange,
}: {
  all: readonly string[];
  chosen: readonly string[];
  onChange: (addresses: readonly string[]) => void;
}) {
  return (
    <View role="group" aria-label="For which addresses">
      <Text kind="label" tone="soft">
        For which addresses
      </Text>
      {all.map((address) => (
        <Check
          key={address}
          label={address}
          value={chosen.includes(address)}
          onChange={(on) => onChange(all.filter((one) => (one === address ? on : chosen.includes(one))))}
        />
      ))}
    </View>
  );
}

type Wanted = Purpose | 'two';
const wantedWords: Record<Wanted, { label: string; detail?: string }> = {
  both: { label: purposeWords.both, detail: 'One certificate for both is what most people need' },
  two: {
    label: 'Two certificates: one signs, one opens',
    detail: 'The one that opens can be backed up and kept for years, while the one that signs stays with you alone',
  },
  sign: { label: purposeWords.sign },
  encrypt: { label: purposeWords.encrypt },
};

export function NewKeyScreen() {
  const { account } = useOpenSession();
  const { replaces } = useLocalSearchParams<{ replaces?: string }>();
  const offered: readonly Wanted[] =
    replaces === undefined ? ['both', 'two', 'sign', 'encrypt'] : ['both', 'sign', 'encrypt'];
  const [kind, setKind] = useState<KeyKind>('rsa-3072');
  const [addresses, setAddresses] = useState<readonly string[]>([account.address]);
  const [wanted, setWanted] = useState<Wanted>('both');
  const [step, setStep] = useState<'choose' | 'making' | 'asking'>('choose');
  const [failed, setFailed] = useState<string | undefined>();
  // What is made and not answered for yet; a second try goes on from there.
  const [made, setMade] = useState<readonly string[]>([]);

  const go = async (): Promise<void> => {
    const goOn = fromHere();
    setFailed(undefined);
    let waiting = made;
    try {
      if (waiting.length === 0) {
        setStep('making');
        for (const purpose of wanted === 'two' ? (['sign', 'encrypt'] as const) : [wanted]) {
          const id = crypto.randomUUID();
          await keysDoor().own.make(id, kind, purpose, { name: account.name, addresses }, new Date());
          waiting = [...waiting, id];
          setMade(waiting);
        }
      }
      setStep('asking');
      const [first] = waiting;
      for (const id of waiting) {
        await keysDoor().own.ask(id);
        setMade((before) => before.filter((one) => one !== id));
      }
      // The new one takes over; the old one stays for reading.
      if (replaces !== undefined) await keysDoor().own.note(replaces, { retiredAt: new Date().toISOString() });
      await keysChanged();
      goOn(wanted === 'two' ? '/keys' : `/keys/${first}`);
    } catch (error) {
      setFailed(problemWords(error));
      setStep('choose');
      await keysChanged();
    }
  };

  return (
    <Screen
      title={replaces === undefined ? 'Get a certificate' : 'Renew the certificate'}
      back={<BackToList href="/keys" label="Keys" />}
    >
      <Text tone="soft">{`For ${listed(addresses, 'and')}. ${replaces === undefined ? '' : 'A new key is made; the old one is kept for reading. '}Three steps: the key is made here, the office’s authority certifies it, and you keep a backup of it.`}</Text>
      {step !== 'choose' ? (
        <Panel>
          <Line last>
            <Loading
              what={
                step === 'making'
                  ? 'Making the key in this browser; this can take a few seconds'
                  : 'Asking the office’s authority'
              }
            />
          </Line>
        </Panel>
      ) : (
        <Panel>
          <Line last>
            <Stack>
              {failed === undefined ? null : (
                <Banner tone="brick">{`${failed}${made.length > 0 ? ' What was made is kept: only the asking is left.' : ''}`}</Banner>
              )}
              {made.length > 0 ? null : (
                <>
                  {account.further.length === 0 ? null : (
                    <AddressChecks all={ownAddresses(account)} chosen={addresses} onChange={setAddresses} />
                  )}
                  <Choice
                    label="What it is for"
                    value={wanted}
                    onChange={setWanted}
                    options={offered.map((value) => ({ value, ...wantedWords[value] }))}
                  />
                  <Choice label="Kind of key" value={kind} onChange={setKind} options={kinds} />
                </>
              )}
              <Row>
                <Button
                  kind="main"
                  disabled={addresses.length === 0}
                  label={
                    made.length > 0
                      ? 'Ask the authority again'
                      : wanted === 'two'
                        ? 'Make both keys and ask'
                        : 'Make the key and ask'
                  }
                  onPress={() => void go()}
                />
              </Row>
            </Stack>
          </Line>
        </Panel>
      )}
    </Screen>
  );
}
