/** A record that whoever looks after the domain enters: its name and its value, each to be copied. */
import { Row, space, Text, TextButton } from '@under-lock/ui';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { CopyButton } from '../shell/CopyButton';

export interface DomainRecord {
  /** TXT, A, AAAA or CNAME. */
  type: string;
  name: string;
  value: string;
}

/** Whoever copies a longer one looks at its beginning only. */
const LONG = 120; // characters
const BEGINNING = 2; // lines

export const RecordToEnter = ({ type, name, value }: DomainRecord) => (
  <View style={styles.record}>
    <Text kind="small" tone="soft">{`Name of the ${type} record`}</Text>
    <Text kind="mono" style={styles.wrap}>
      {name}
    </Text>
    <Text kind="small" tone="soft">
      Its value
    </Text>
    <Value name={name} value={value} />
    <Row>
      <CopyButton value={name} what="the name" of={name} />
      <CopyButton value={value} what="the value" of={name} />
    </Row>
  </View>
);

function Value({ name, value }: Pick<DomainRecord, 'name' | 'value'>) {
  const [whole, setWhole] = useState(value.length <= LONG);
  if (whole)
    return (
      <Text kind="mono" style={styles.wrap}>
        {value}
      </Text>
    );
  return (
    <>
      <Text kind="mono" numberOfLines={BEGINNING} style={styles.wrap}>
        {value}
      </Text>
      <Row>
        <TextButton
          label="Show all of it"
          describe={`Show all of it: the value of ${name}`}
          onPress={() => setWhole(true)}
        />
      </Row>
    </>
  );
}

const styles = StyleSheet.create({
  record: { gap: space.xs },
  wrap: { overflowWrap: 'anywhere' } as object,
});
