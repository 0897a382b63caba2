/** The keys there are, and whether single ones do anything here. */
import { border, Button, Check, colour, Dialog, Heading, radius, space, Stack, Text } from '@under-lock/ui';
import { Fragment, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { keyInWords, type Shortcut, SHORTCUTS } from './shortcuts';
import { singleKeysAreOn, switchSingleKeys } from './usePressedKeys';

function KeyLine({ keys, between, does }: Shortcut) {
  return (
    <View style={styles.line}>
      <View style={styles.keys}>
        {keys.map((key, index) => (
          <Fragment key={key}>
            {index === 0 || between === undefined ? null : <Text kind="small">{between}</Text>}
            <Text kind="mono" style={styles.key}>
              {keyInWords(key)}
            </Text>
          </Fragment>
        ))}
      </View>
      <Text style={styles.does}>{does}</Text>
    </View>
  );
}

export function KeysDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  const [single, setSingle] = useState(singleKeysAreOn);
  return (
    <Dialog title="Keys" open={open} onClose={onClose} actions={<Button label="Close" onPress={onClose} />}>
      <Stack style={styles.all}>
        {SHORTCUTS.map(({ where, keys }) => (
          <View key={where}>
            <Heading level={3} kind="strong">
              {where}
            </Heading>
            {keys.map((shortcut) => (
              <KeyLine key={shortcut.does} {...shortcut} />
            ))}
          </View>
        ))}
        <Check
          label="Single keys act on this device"
          detail="Off, only keys with Ctrl, Alt or an arrow do anything"
          value={single}
          onChange={(on) => {
            switchSingleKeys(on);
            setSingle(on);
          }}
        />
      </Stack>
    </Dialog>
  );
}

const styles = StyleSheet.create({
  all: { gap: space.l },
  line: { flexDirection: 'row', alignItems: 'center', gap: space.m, minHeight: 36 },
  keys: { flexDirection: 'row', alignItems: 'center', gap: space.xs, width: 148, flexWrap: 'wrap' },
  key: {
    paddingHorizontal: space.s,
    borderWidth: border.hair,
    borderColor: colour.edge,
    borderRadius: radius.m,
    backgroundColor: colour.ground,
  },
  does: { flex: 1, minWidth: 0 },
});
