/** The guided path to a certificate: the key is made in this browser, the authority asked, the answer installed. Each step may be tried again; the backup follows on the certificate's own page. */
import { type KeyKind } from '@under-lock/core/certificate/make-key';
import { Banner, Button, Choice, Line, Loading, Panel, Row, Stack, Text } from '@under-lock/ui';
import { router, useLocalSearchParams } from 'expo-router';
import { useState } from 'react';
import { problemWords } from '../problem-words';
import { useOpenSession } from '../session/session';
import { Screen } from '../shell/Screen';
import { WayLink } from '../shell/WayLink';
import { keysDoor } from '../worker/keys/door';
import { PURPOSES, type Purpose } from './own-key';
import { keysChanged } from './useKeys';
import { purposeWords } from './words';

const kinds: { value: KeyKind; label: string; detail: string }[] = [
  { value: 'rsa-3072', label: 'RSA, 3072 bits', detail: 'Every mail program reads it' },
  { value: 'p-256', label: 'Elliptic curve, P-256', detail: 'Smaller and faster; programs older than about 2015 don’t read it' },
  { value: 'p-384', label: 'Elliptic curve, P-384', detail: 'Where somebody asks for it' },
];

export function NewKeyScreen() {
  const { account } = useOpenSession();
  const { replaces } = useLocalSearchParams<{ replaces?: string }>();
  const [kind, setKind] = useState<KeyKind>('rsa-3072');
  const [purpose, setPurpose] = useState<Purpose>('both');
  const [step, setStep] = useState<'choose' | 'making' | 'asking'>('choose');
  const [failed, setFailed] = useState<string | undefined>();
  const [madeId, setMadeId] = useState<string | undefined>();

  const go = async (): Promise<void> => {
    setFailed(undefined);
    const id = madeId ?? crypto.randomUUID();
    try {
      if (madeId === undefined) {
        setStep('making');
        await keysDoor().own.make(id, kind, purpose, { name: account.name, address: account.address }, new Date());
        setMadeId(id);
      }
      setStep('asking');
      await keysDoor().own.ask(id);
      // The new one takes over; the old one stays for reading.
      if (replaces !== undefined) await keysDoor().own.note(replaces, { retiredAt: new Date().toISOString() });
      await keysChanged();
      router.replace(`/keys/${id}`);
    } catch (error) {
      setFailed(problemWords(error));
      setStep('choose');
      await keysChanged();
    }
  };

  const made = madeId !== undefined;
  return (
    <Screen title={replaces === undefined ? 'Get a certificate' : 'Renew the certificate'} back={<WayLink href="/keys" label="Keys" />}>
      <Text tone="soft">{`For ${account.address}. ${replaces === undefined ? '' : 'A new key is made; the old one is kept for reading. '}Three steps: the key is made here, the office’s authority certifies it, and you keep a backup of it.`}</Text>
      {step !== 'choose' ? <Panel><Line last><Loading what={step === 'making' ? 'Making the key in this browser; this can take a few seconds' : 'Asking the office’s authority'} /></Line></Panel> : (
        <Panel>
          <Line last>
            <Stack>
              {failed === undefined ? null : <Banner tone="brick">{`${failed}${made ? ' The key is made and kept: only the asking is left.' : ''}`}</Banner>}
              {made ? null : (
                <>
                  <Choice label="What it is for" value={purpose} onChange={setPurpose} options={PURPOSES.map((value) => ({ value, label: purposeWords[value], ...(value === 'both' ? { detail: 'One certificate for both is what most people need' } : {}) }))} />
                  <Choice label="Kind of key" value={kind} onChange={setKind} options={kinds} />
                </>
              )}
              <Row><Button kind="main" label={made ? 'Ask the authority again' : 'Make the key and ask'} onPress={() => void go()} /></Row>
            </Stack>
          </Line>
        </Panel>
      )}
    </Screen>
  );
}
