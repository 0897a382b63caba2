/** A record that whoever looks after the domain enters: its name and its value, each to be copied. */
import { Row, space, Text } from '@under-lock/ui';
import { StyleSheet, View } from 'react-native';
import { CopyButton } from '../shell/CopyButton';

export interface DomainRecord {
  /** TXT, A, AAAA or CNAME. */
  type: string;
  name: string;
  value: string;
}

export const RecordToEnter = ({ type, name, value }: DomainRecord) => (
  <View style={styles.record}>
    <Text kind="small" tone="soft">{`Name of the ${type} record`}</Text>
    <Text kind="mono" style={styles.wrap}>
      {name}
    </Text>
    <Text kind="small" tone="soft">
      Its value
    </Text>
    <Text kind="mono" style={styles.wrap}>
      {value}
    </Text>
    <Row>
      <CopyButton value={name} what="the name" of={name} />
      <CopyButton value={value} what="the value" of={name} />
    </Row>
  </View>
);

const styles = StyleSheet.create({
  record: { gap: space.xs },
  wrap: { overflowWrap: 'anywhere' } as object,
});
