/**
 * The guided path to an OpenPGP key: made in this browser, published in the office's directory where wanted. The backup
 * and the revocation certificate follow on the key's own page.
 */
import { publishKey } from '@under-lock/contract/openpgp';
import { type OpenPgpKind } from '@under-lock/core/openpgp/make-key';
import { Banner, Button, Check, Choice, Line, Loading, Panel, Row, Stack, Text } from '@under-lock/ui';
import { useLocalSearchParams } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { api } from '../../api';
import { listed } from '../../handling/words';
import { problemWords } from '../../problem-words';
import { ownAddresses } from '@under-lock/core/people/own-addresses';
import { useOpenSession } from '../../session/session';
import { Screen } from '../../shell/Screen';
import { BackToList } from '../../shell/ListAndPage';
import { keysDoor } from '../../threads/keys/door';
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

export function NewOpenPgpScreen() {
  const { account } = useOpenSession();
  const { replaces } = useLocalSearchParams<{ replaces?: string }>();
  const [kind, setKind] = useState<OpenPgpKind>('wide');
  const [addresses, setAddresses] = useState<readonly string[]>([account.address]);
  const [span, setSpan] = useState<Span>('two');
  const [publish, setPublish] = useState(true);
  const [busy, setBusy] = useState(false);
  const [failed, setFailed] = useState<string | undefined>();
  // Made and kept, and not published yet: a second try goes on from there.
  const [made, setMade] = useState<{ id: string; fingerprint: string; bytes: Uint8Array<ArrayBuffer> } | undefined>();

  const go = async (): Promise<void> => {
    const goOn = fromHere();
    setBusy(true);
    setFailed(undefined);
    try {
      const now = new Date();
      let here = made;
      if (here === undefined) {
        const id = crypto.randomUUID();
        const { view } = await keysDoor().openpgp.make(
          id,
          kind,
          { name: account.name, addresses },
          endAfter(span, now),
          'mail',
          now,
        );
        here = { id, fingerprint: view.fingerprint, bytes: view.bytes };
        setMade(here);
        if (replaces !== undefined) await keysDoor().openpgp.note(replaces, { retiredAt: now.toISOString() });
      }
      if (publish) await api(publishKey, { params: { fingerprint: here.fingerprint }, body: { key: here.bytes } });
      await openPgpChanged();
      goOn(`/keys/openpgp/${here.id}`);
    } catch (error) {
      setFailed(problemWords(error));
      setBusy(false);
    }
  };
  const all = ownAddresses(account);
  return (
    <Screen
      title={replaces === undefined ? 'Make an OpenPGP key' : 'Make a new key in its place'}
      back={<BackToList href="/keys" label="Keys" />}
    >
      <Text tone="soft">{`For ${listed(addresses, 'and')}. ${replaces === undefined ? '' : 'The old key is kept for reading. '}It is made in this browser; its secret half lies sealed in your vault and is used here only.`}</Text>
      {busy && made === undefined ? (
        <Panel>
          <Line last>
            <Loading what="Making the key in this browser; RSA can take some seconds" />
          </Line>
        </Panel>
      ) : (
        <Panel>
          <Line last>
            <Stack>
              {failed === undefined ? null : (
                <Banner tone="brick">{`${failed}${made === undefined ? '' : ' The key is made and kept; only the publishing is left.'}`}</Banner>
              )}
              {made !== undefined ? null : (
                <>
                  {all.length < 2 ? null : (
                    <View role="group" aria-label="For which addresses">
                      <Text kind="label" tone="soft">
                        For which addresses
                      </Text>
                      {all.map((address) => (
                        <Check
                          key={address}
                          label={address}
                          value={addresses.includes(address)}
                          onChange={(on) =>
                            setAddresses(all.filter((one) => (one === address ? on : addresses.includes(one))))
                          }
                        />
                      ))}
                    </View>
                  )}
                  <Choice label="Kind of key" value={kind} onChange={setKind} options={kinds} />
                  <Choice
                    label="Valid for"
                    value={span}
                    onChange={setSpan}
                    options={SPANS.map((value) => ({ value, ...spanWords[value] }))}
                  />
                </>
              )}
              <Check
                label="Publish it in the office’s directory, so that others find it by your address"
                value={publish}
                onChange={setPublish}
              />
              <Row>
                <Button
                  kind="main"
                  disabled={addresses.length === 0}
                  busy={busy}
                  label={
                    made === undefined ? 'Make the key' : publish ? 'Publish it again' : 'Go on without publishing'
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
