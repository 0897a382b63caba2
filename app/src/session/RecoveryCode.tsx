import { Banner, Button, colour, border, Field, Row, space, Stack, Text } from '@under-lock/ui';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

/** The recovery code, to be printed or written down, and a proof that it was before going on. */
export function RecoveryCode({ code, address, onDone }: { code: string; address: string; onDone: () => void }) {
  const [typed, setTyped] = useState('');
  const [error, setError] = useState<string | undefined>();
  const groups = code.split('-');
  const last = groups.at(-1)!;
  const finish = (): void => {
    if (typed.trim().toUpperCase() === last) onDone();
    else setError('That is not the last group of the code above.');
  };
  return (
    <Stack>
      <Banner tone="amber">
        This code is shown once. Without it a forgotten password can’t be helped: nobody at the office can open your
        vault for you.
      </Banner>
      <View style={styles.sheet}>
        <Text kind="small" tone="soft">{`Recovery code for ${address}`}</Text>
        <Text kind="mono" selectable style={styles.code} testID="recovery-code">
          {groups.join(' ')}
        </Text>
        <Text kind="small" tone="soft">
          Keep it where you keep your contract, not on this computer.
        </Text>
      </View>
      <Row>
        <Button label="Print this page" onPress={() => window.print()} />
      </Row>
      <Field
        label="Type the last group, to show that you have it"
        value={typed}
        onChangeText={setTyped}
        code
        maxLength={8}
        autoCapitalize="characters"
        error={error}
        onSubmitEditing={finish}
      />
      <Button kind="main" label="I have kept the code" onPress={finish} />
    </Stack>
  );
}

const styles = StyleSheet.create({
  sheet: {
    borderWidth: border.hair,
    borderColor: colour.line,
    padding: space.l,
    gap: space.s,
    backgroundColor: colour.paper,
  },
  code: { fontSize: 20, lineHeight: 32 },
});
