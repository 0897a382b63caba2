/** Who can still read what, by firm and person, and one step to end it across messages. */
import { listReaders, type OpenReader } from '@under-lock/contract/outgoing';
import { distanceInWords, momentInWords } from '@under-lock/core/when';
import {
  Banner,
  Button,
  Empty,
  Field,
  Line,
  Loading,
  Panel,
  Result,
  Row,
  type Said,
  Section,
  space,
  Text,
  TextButton,
} from '@under-lock/ui';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import useSWR from 'swr';
import { api } from '../api';
import { useNow, zone } from '../clock';
import { counted } from '../counted';
import { live } from '../live/live';
import { firmOf } from '../people/sorted-people';
import { WithdrawEverything, type WithdrawnFrom } from '../person/WithdrawEverything';
import { who } from '../handling/grant-words';
import { problemWords } from '../problem-words';
import { Screen } from '../shell/Screen';
import { WayLink } from '../shell/WayLink';

const sum = (readers: readonly OpenReader[], part: 'accesses' | 'opened'): number =>
  readers.reduce((total, one) => total + one[part], 0);
const withdrawnFrom = (title: string, readers: readonly OpenReader[]): WithdrawnFrom => ({
  title,
  addresses: readers.map(({ address }) => address),
  accesses: sum(readers, 'accesses'),
  opened: sum(readers, 'opened'),
});

interface FirmProps {
  domain: string;
  readers: readonly OpenReader[];
  now: Date;
  onAsk: (from: WithdrawnFrom) => void;
}

function Firm({ domain, readers, now, onAsk }: FirmProps) {
  return (
    <Section title={domain} aside={counted(sum(readers, 'accesses'), 'access', 'accesses')}>
      <Panel>
        {readers.map((one, index) => (
          <Line key={one.address} last={index === readers.length - 1 && readers.length < 2} style={styles.person}>
            <View style={styles.about}>
              <Text kind="strong" style={styles.wrap}>
                {who(one)}
              </Text>
              <Text kind="small" tone="soft" style={styles.wrap}>
                {one.address}
              </Text>
              <Text
                kind="small"
                tone="soft"
              >{`Can read ${counted(one.messages, 'message', 'messages')}, opened ${one.opened} · the last closes ${momentInWords(one.latest, now, zone)}, ${distanceInWords(one.latest, now, zone)}`}</Text>
            </View>
            <TextButton
              tone="brick"
              label="Withdraw everything"
              describe={`Withdraw everything from ${who(one)}`}
              onPress={() => onAsk(withdrawnFrom(who(one), [one]))}
            />
          </Line>
        ))}
        {readers.length < 2 ? null : (
          <Line last>
            <Row>
              <Button
                kind="stop"
                label={`Withdraw everything from ${domain}`}
                onPress={() => onAsk(withdrawnFrom(domain, readers))}
              />
            </Row>
          </Line>
        )}
      </Panel>
    </Section>
  );
}

export function ReadersScreen() {
  const {
    data: readers,
    error,
    mutate,
  } = useSWR('readers', async () => (await api(listReaders)).readers, {
    use: [live('sent')],
  });
  const now = useNow();
  const [search, setSearch] = useState('');
  const [asking, setAsking] = useState<WithdrawnFrom | undefined>();
  const [said, setSaid] = useState<Said | undefined>();
  const wanted = search.trim().toLowerCase();
  const shown = (readers ?? []).filter((one) => `${one.name} ${one.address}`.toLowerCase().includes(wanted));
  const firms = [...new Set(shown.map(firmOf))].map((domain) => ({
    domain,
    readers: shown.filter((one) => firmOf(one) === domain),
  }));

  return (
    <Screen title="Who can still read what" back={<WayLink href="/desk" label="Desk" />}>
      <Result said={said} />
      {error === undefined ? null : <Banner tone="brick">{problemWords(error)}</Banner>}
      {readers === undefined ? (
        error === undefined ? (
          <Loading what="Counting accesses" />
        ) : null
      ) : readers.length === 0 ? (
        <Panel>
          <Empty title="Nobody can read anything">What you send shows here, by firm and person, until it closes.</Empty>
        </Panel>
      ) : (
        <>
          {readers.length > 6 ? <Field label="Find a person or firm" value={search} onChangeText={setSearch} /> : null}
          {firms.length === 0 ? (
            <Panel>
              <Empty title="No match">{`Nobody called “${search}” can read anything.`}</Empty>
            </Panel>
          ) : (
            firms.map(({ domain, readers: people }) => (
              <Firm key={domain} domain={domain} readers={people} now={now} onAsk={setAsking} />
            ))
          )}
        </>
      )}
      {asking === undefined ? null : (
        <WithdrawEverything
          from={asking}
          onClose={() => setAsking(undefined)}
          onDone={(outcome) => {
            setAsking(undefined);
            setSaid(outcome);
            void mutate();
          }}
        />
      )}
    </Screen>
  );
}

const styles = StyleSheet.create({
  person: {
    flexDirection: 'row',
    flexWrap: 'wrap',
    alignItems: 'center',
    justifyContent: 'space-between',
    columnGap: space.l,
  },
  about: { flexGrow: 1, flexShrink: 1, flexBasis: 300, gap: space.xs },
  wrap: { overflowWrap: 'anywhere' } as object,
});
