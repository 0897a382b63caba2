/** Who can still read what, by firm and person, and one step to end it across messages. */
import { listReaders, type OpenReader, withdrawFromReaders } from '@under-lock/contract/outgoing';
import { distanceInWords, momentInWords } from '@under-lock/core/when';
import {
  Banner,
  Button,
  Dialog,
  Empty,
  Field,
  Line,
  Loading,
  Panel,
  Row,
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
import { who } from '../sent/grant-words';
import { problemWords } from '../problem-words';
import { Screen } from '../shell/Screen';
import { WayLink } from '../shell/WayLink';

const domainOf = ({ address }: OpenReader): string => address.slice(address.lastIndexOf('@') + 1);
const count = (number: number, one: string, many: string): string => `${number} ${number === 1 ? one : many}`;
const sum = (readers: readonly OpenReader[], part: 'accesses' | 'opened'): number =>
  readers.reduce((total, one) => total + one[part], 0);

interface Asking {
  title: string;
  readers: OpenReader[];
}

export function ReadersScreen() {
  const {
    data: readers,
    error,
    mutate,
  } = useSWR('readers', async () => (await api(listReaders)).readers, { refreshInterval: 10_000 });
  const now = useNow();
  const [search, setSearch] = useState('');
  const [asking, setAsking] = useState<Asking | undefined>();
  const [busy, setBusy] = useState(false);
  const [said, setSaid] = useState<{ tone: 'sea' | 'brick'; text: string } | undefined>();
  const wanted = search.trim().toLowerCase();
  const shown = (readers ?? []).filter((one) => `${one.name} ${one.address}`.toLowerCase().includes(wanted));
  const firms = [...new Set(shown.map(domainOf))].map((domain) => ({
    domain,
    readers: shown.filter((one) => domainOf(one) === domain),
  }));

  const withdraw = async ({ readers: from }: Asking): Promise<void> => {
    setBusy(true);
    try {
      const { withdrawn, hadOpened, messages } = await api(withdrawFromReaders, {
        body: { addresses: from.map(({ address }) => address) },
      });
      setSaid({
        tone: 'sea',
        text: `${count(withdrawn, 'access', 'accesses')} to ${count(messages, 'message', 'messages')} withdrawn. ${hadOpened === 0 ? 'None had been opened.' : `${hadOpened} had been opened before; what was read can’t be taken back.`}`,
      });
    } catch (problem) {
      setSaid({ tone: 'brick', text: problemWords(problem) });
    } finally {
      setBusy(false);
      setAsking(undefined);
      await mutate();
    }
  };

  return (
    <Screen title="Who can still read what" back={<WayLink href="/desk" label="Desk" />}>
      {said === undefined ? null : <Banner tone={said.tone}>{said.text}</Banner>}
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
              <Section key={domain} title={domain} aside={count(sum(people, 'accesses'), 'access', 'accesses')}>
                <Panel>
                  {people.map((one, index) => (
                    <Line
                      key={one.address}
                      last={index === people.length - 1 && people.length < 2}
                      style={styles.person}
                    >
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
                        >{`Can read ${count(one.messages, 'message', 'messages')}, opened ${one.opened} · the last closes ${momentInWords(one.latest, now, zone)}, ${distanceInWords(one.latest, now, zone)}`}</Text>
                      </View>
                      <TextButton
                        tone="brick"
                        label="Withdraw everything"
                        describe={`Withdraw everything from ${who(one)}`}
                        onPress={() => setAsking({ title: who(one), readers: [one] })}
                      />
                    </Line>
                  ))}
                  {people.length < 2 ? null : (
                    <Line last>
                      <Row>
                        <Button
                          kind="stop"
                          label={`Withdraw everything from ${domain}`}
                          onPress={() => setAsking({ title: domain, readers: people })}
                        />
                      </Row>
                    </Line>
                  )}
                </Panel>
              </Section>
            ))
          )}
        </>
      )}
      {asking === undefined ? null : (
        <Dialog
          title={`Withdraw everything from ${asking.title}?`}
          open
          onClose={() => setAsking(undefined)}
          actions={
            <>
              <Button kind="stop" label="Withdraw" onPress={() => void withdraw(asking)} busy={busy} />
              <Button label="Leave it as it is" onPress={() => setAsking(undefined)} />
            </>
          }
        >
          <Text>{`${count(sum(asking.readers, 'accesses'), 'access', 'accesses')} of ${count(asking.readers.length, 'person', 'people')} in all your messages.`}</Text>
          {sum(asking.readers, 'opened') === 0 ? (
            <Text>None of them has been opened. After this nobody can, not even we.</Text>
          ) : (
            <Text>{`${sum(asking.readers, 'opened')} ${sum(asking.readers, 'opened') === 1 ? 'has' : 'have'} been opened already; what was read can’t be taken back.`}</Text>
          )}
          <Text kind="small" tone="soft">
            What they passed on ends too. You can give access again later, message by message, with a new link.
          </Text>
        </Dialog>
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
