/**
 * The guided path to an OpenPGP key: made in this browser, published in the office's directory where wanted. The backup
 * and the revocation certificate follow on the key's own page.
 */
import { publishKey } from '@under-lock/contract/openpgp';
import { type OpenPgpKind } from '@under-lock/core/openpgp/make-key';
import { Banner, Button, Check, Choice, Line, Loading, Panel, Row, Stack, Text } from '@under-lock/ui';
import { useLocalSearchParams } from 'expo-router';
import { useState } from 'react';
import { api } from '../../api';
import { listed } from '../../handling/words';
import { problemWords } from '../../problem-words';
import { useOpenSession } from '../../session/session';
import { Screen } from '../../shell/Screen';
import { BackToList } from '../../shell/ListAndPage';
import { keysDoor } from '../../threads/keys/door';
import { AddressChecks } from '../AddressChecks';
import { openPgpChanged } from './useOpenPgpKeys';
import { endAfter, type Span, SPANS, spanWords } from './validity';
import { fromHere } from '../../shell/from-here';

const kinds: { value: OpenPgpKind; label: string; detail: string }[] = [
  {
    value: 'wide',
    label: 'Widely readable (Ed25519, version 4)',
    detail: 'Every OpenPGP program of recent years reads it',
  },
  {
    value: 'rsa',
    label: 'RSA, 3072 bits (version 4)',
    detail: 'For correspondents with older programs; larger and slower',
  },
  {
    value: 'newest',
    label: 'Newest kind (version 6)',
    detail: 'Programs made before about 2024 can neither encrypt to it nor check what it signs',
  },
];

interface Asked {
  kind: OpenPgpKind;
  addresses: readonly string[];
  span: Span;
  publish: boolean;
}

/** Making and publishing the key, on from where a try before ended. */
function useMaking(name: string, replaces: string | undefined) {
  const [busy, setBusy] = useState(false);
  const [failed, setFailed] = useState<string | undefined>();
  // Made and kept, and not published yet: a second try goes on from there.
  const [made, setMade] = useState<{ id: string; fingerprint: string; bytes: Uint8Array<ArrayBuffer> } | undefined>();

  const make = async ({ kind, addresses, span }: Asked) => {
    const [id, now] = [crypto.randomUUID(), new Date()];
    const { view } = await keysDoor().openpgp.make(id, kind, { name, addresses }, endAfter(span, now), 'mail', now);
    const here = { id, fingerprint: view.fingerprint, bytes: view.bytes };
    setMade(here);
    if (replaces !== undefined) await keysDoor().openpgp.note(replaces, { retiredAt: now.toISOString() });
    return here;
  };
  const go = async (asked: Asked): Promise<void> => {
    const goOn = fromHere();
    setBusy(true);
    setFailed(undefined);
    try {
      const here = made ?? (await make(asked));
      if (asked.publish)
        await api(publishKey, { params: { fingerprint: here.fingerprint }, body: { key: here.bytes } });
      await openPgpChanged();
      goOn(`/keys/openpgp/${here.id}`);
    } catch (error) {
      setFailed(problemWords(error));
      setBusy(false);
    }
  };
  return { busy, failed, isMade: made !== undefined, go };
}

/** What the key is to be, as long as none is made. */
function WhatKey({ asked, onChange }: { asked: Asked; onChange: (change: Partial<Asked>) => void }) {
  return (
    <>
      <AddressChecks chosen={asked.addresses} onChange={(addresses) => onChange({ addresses })} />
      <Choice label="Kind of key" value={asked.kind} onChange={(kind) => onChange({ kind })} options={kinds} />
      <Choice
        label="Valid for"
        value={asked.span}
        onChange={(span) => onChange({ span })}
        options={SPANS.map((value) => ({ value, ...spanWords[value] }))}
      />
    </>
  );
}

const goWords = (publish: boolean, isMade: boolean): string => {
  if (!isMade) return 'Make the key';
  return publish ? 'Publish it again' : 'Go on without publishing';
};

export function NewOpenPgpScreen() {
  const { account } = useOpenSession();
  const { replaces } = useLocalSearchParams<{ replaces?: string }>();
  const [asked, setAsked] = useState<Asked>({
    kind: 'wide',
    addresses: [account.address],
    span: 'two',
    publish: true,
  });
  const change = (changed: Partial<Asked>): void => setAsked((before) => ({ ...before, ...changed }));
  const { busy, failed, isMade, go } = useMaking(account.name, replaces);
  return (
    <Screen
      title={replaces === undefined ? 'Make an OpenPGP key' : 'Make a new key in its place'}
      back={<BackToList href="/keys" label="Keys" />}
    >
      <Text tone="soft">{`For ${listed(asked.addresses, 'and')}. ${replaces === undefined ? '' : 'The old key is kept for reading. '}It is made in this browser; its secret half lies sealed in your vault and is used here only.`}</Text>
      <Panel>
        <Line last>
          {busy && !isMade ? (
            <Loading what="Making the key in this browser; RSA can take some seconds" />
          ) : (
            <Stack>
              {failed === undefined ? null : (
                <Banner tone="brick">{`${failed}${isMade ? ' The key is made and kept; only the publishing is left.' : ''}`}</Banner>
              )}
              {isMade ? null : <WhatKey asked={asked} onChange={change} />}
              <Check
                label="Publish it in the office’s directory, so that others find it by your address"
                value={asked.publish}
                onChange={(publish) => change({ publish })}
              />
              <Row>
                <Button
                  kind="main"
                  disabled={asked.addresses.length === 0}
                  busy={busy}
                  label={goWords(asked.publish, isMade)}
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
