import { Banner, Button, Empty, Field, Line, Loading, Panel, Row, Text } from '@under-lock/ui';
import { router } from 'expo-router';
import { useState } from 'react';
import { Pressable, StyleSheet } from 'react-native';
import { problemWords } from '../problem-words';
import { Screen } from '../shell/Screen';
import { usePeople } from './person';

export function PeopleScreen() {
  const { data: people, error } = usePeople();
  const [search, setSearch] = useState('');
  const wanted = search.trim().toLowerCase();
  const shown = (people ?? [])
    .filter(({ value }) => `${value.name} ${value.address}`.toLowerCase().includes(wanted))
    .sort((a, b) => (a.value.name || a.value.address).localeCompare(b.value.name || b.value.address));
  return (
    <Screen title="People" aside={<Button label="Add a person" onPress={() => router.push('/people/new')} />}>
      <Text tone="soft">The persons you write to and how each proves who they are. Kept sealed in your vault.</Text>
      {error === undefined ? null : <Banner tone="brick">{problemWords(error)}</Banner>}
      {people === undefined ? (
        error === undefined ? (
          <Loading what="Opening your people" />
        ) : null
      ) : people.length === 0 ? (
        <Panel>
          <Empty title="Nobody yet">Whoever you write to is kept here, with phone and second address.</Empty>
        </Panel>
      ) : (
        <>
          {people.length > 6 ? <Field label="Find a person" value={search} onChangeText={setSearch} /> : null}
          <Panel>
            {shown.length === 0 ? (
              <Empty title="No match">{`Nobody here is called “${search}”.`}</Empty>
            ) : (
              shown.map(({ id, value }, index) => (
                <Pressable
                  key={id}
                  role="link"
                  aria-label={`${value.name || value.address}, ${value.address}`}
                  onPress={() => router.push(`/people/${id}`)}
                >
                  <Line last={index === shown.length - 1}>
                    <Text kind="strong" style={styles.wrap}>
                      {value.name || value.address}
                    </Text>
                    <Text kind="small" tone="soft" style={styles.wrap}>
                      {value.address}
                    </Text>
                    <Row>
                      {value.phone === undefined ? null : (
                        <Text kind="small" tone="soft">{`Phone ${value.phone}`}</Text>
                      )}
                      {value.secondAddress === undefined ? null : (
                        <Text kind="small" tone="soft">{`Second address ${value.secondAddress}`}</Text>
                      )}
                      {value.phone === undefined && value.secondAddress === undefined ? (
                        <Text kind="small" tone="amber">
                          ▲ No way for a passcode known yet
                        </Text>
                      ) : null}
                    </Row>
                  </Line>
                </Pressable>
              ))
            )}
          </Panel>
        </>
      )}
    </Screen>
  );
}

const styles = StyleSheet.create({ wrap: { overflowWrap: 'anywhere' } as object });
