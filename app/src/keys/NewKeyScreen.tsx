/**
 * The guided path to a certificate: the key is made in this browser, the authority asked, the answer installed. Each
 * step may be tried again; the backup follows on the certificate's own page.
 */
import { type KeyKind } from '@under-lock/core/certificate/make-key';
import { Banner, Button, Choice, Line, Loading, Panel, Row, Stack, Text } from '@under-lock/ui';
import { useLocalSearchParams } from 'expo-router';
import { useState } from 'react';
import { listed } from '../handling/words';
import { problemWords } from '../problem-words';
import { useOpenSession } from '../session/session';
import { Screen } from '../shell/Screen';
import { BackToList } from '../shell/ListAndPage';
import { keysDoor } from '../threads/keys/door';
import { type Purpose } from '@under-lock/core/certificate/kept-key';
import { AddressChecks } from './AddressChecks';
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

interface Asked {
  kind: KeyKind;
  addresses: readonly string[];
  wanted: Wanted;
}

/** Making what is asked for and having it certified, on from where a try before ended. */
function useMaking(name: string, replaces: string | undefined) {
  const [step, setStep] = useState<'choose' | 'making' | 'asking'>('choose');
  const [failed, setFailed] = useState<string | undefined>();
  // What is made and not answered for yet; a second try goes on from there.
  const [made, setMade] = useState<readonly string[]>([]);
  const [areAllMade, setAllMade] = useState(false);

  const make = async ({ kind, addresses, wanted }: Asked): Promise<readonly string[]> => {
    setStep('making');
    let ids = made;
    const purposes = wanted === 'two' ? (['sign', 'encrypt'] as const) : [wanted];
    for (const purpose of purposes.slice(ids.length)) {
      const id = crypto.randomUUID();
      await keysDoor().own.make(id, kind, purpose, { name, addresses }, new Date());
      ids = [...ids, id];
      setMade(ids);
    }
    setAllMade(true);
    return ids;
  };
  const go = async (asked: Asked): Promise<void> => {
    const goOn = fromHere();
    setFailed(undefined);
    try {
      const waiting = areAllMade ? made : await make(asked);
      setStep('asking');
      for (const id of waiting) {
        await keysDoor().own.ask(id);
        setMade((before) => before.filter((one) => one !== id));
      }
      // The new one takes over; the old one stays for reading.
      if (replaces !== undefined) await keysDoor().own.note(replaces, { retiredAt: new Date().toISOString() });
      await keysChanged();
      goOn(asked.wanted === 'two' ? '/keys' : `/keys/${waiting[0]}`);
    } catch (error) {
      setFailed(problemWords(error));
      setStep('choose');
      await keysChanged();
    }
  };
  return { step, failed, isBegun: made.length > 0, areAllMade, go };
}

/** What the key is to be, as long as none is made. */
function WhatKey({
  asked,
  offered,
  onChange,
}: {
  asked: Asked;
  offered: readonly Wanted[];
  onChange: (change: Partial<Asked>) => void;
}) {
  return (
    <>
      <AddressChecks chosen={asked.addresses} onChange={(addresses) => onChange({ addresses })} />
      <Choice
        label="What it is for"
        value={asked.wanted}
        onChange={(wanted) => onChange({ wanted })}
        options={offered.map((value) => ({ value, ...wantedWords[value] }))}
      />
      <Choice label="Kind of key" value={asked.kind} onChange={(kind) => onChange({ kind })} options={kinds} />
    </>
  );
}

const goWords = (wanted: Wanted, { isBegun, areAllMade }: { isBegun: boolean; areAllMade: boolean }): string => {
  if (areAllMade) return 'Ask the authority again';
  if (isBegun) return 'Make the other key and ask';
  return wanted === 'two' ? 'Make both keys and ask' : 'Make the key and ask';
};

export function NewKeyScreen() {
  const { account } = useOpenSession();
  const { replaces } = useLocalSearchParams<{ replaces?: string }>();
  const offered: readonly Wanted[] =
    replaces === undefined ? ['both', 'two', 'sign', 'encrypt'] : ['both', 'sign', 'encrypt'];
  const [asked, setAsked] = useState<Asked>({ kind: 'rsa-3072', addresses: [account.address], wanted: 'both' });
  const { step, failed, isBegun, areAllMade, go } = useMaking(account.name, replaces);
  return (
    <Screen
      title={replaces === undefined ? 'Get a certificate' : 'Renew the certificate'}
      back={<BackToList href="/keys" label="Keys" />}
    >
      <Text tone="soft">{`For ${listed(asked.addresses, 'and')}. ${replaces === undefined ? '' : 'A new key is made; the old one is kept for reading. '}Three steps: the key is made here, the office’s authority certifies it, and you keep a backup of it.`}</Text>
      <Panel>
        <Line last>
          {step !== 'choose' ? (
            <Loading
              what={
                step === 'making'
                  ? 'Making the key in this browser; this can take a few seconds'
                  : 'Asking the office’s authority'
              }
            />
          ) : (
            <Stack>
              {failed === undefined ? null : (
                <Banner tone="brick">{`${failed}${areAllMade ? ' What was made is kept: only the asking is left.' : ''}`}</Banner>
              )}
              {isBegun ? null : (
                <WhatKey
                  asked={asked}
                  offered={offered}
                  onChange={(change) => setAsked((before) => ({ ...before, ...change }))}
                />
              )}
              <Row>
                <Button
                  kind="main"
                  disabled={asked.addresses.length === 0}
                  label={goWords(asked.wanted, { isBegun, areAllMade })}
                  onPress={() => void go(asked)}
                />
              </Row>
            </Stack>
          )}
        </Line>
      </Panel>
    </Screen>
  );
}
