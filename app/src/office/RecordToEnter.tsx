/** A record that whoever looks after the domain enters: its name and its value, each to be copied. */
import { Button, Row, space, Text } from '@under-lock/ui';
import { StyleSheet, View } from 'react-native';

interface Props {
  /** Of the record: TXT, A, AAAA or CNAME. */
  type: string;
  name: string;
  value: string;
  onCopy: (text: string, what: 'name' | 'value') => void;
}

export function RecordToEnter({ type, name, value, onCopy }: Props) {
  return (
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
        <Button label="Copy the name" describe={`Copy the name: ${name}`} onPress={() => onCopy(name, 'name')} />
        <Button label="Copy the value" describe={`Copy the value: ${name}`} onPress={() => onCopy(value, 'value')} />
      </Row>
    </View>
  );
}

const styles = StyleSheet.create({
  record: { gap: space.xs },
  wrap: { overflowWrap: 'anywhere' } as object,
});
