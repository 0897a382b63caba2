import { border, colour, radius, space, Text, type } from '@under-lock/ui';
import { useEffect, useRef, useState } from 'react';
import { Pressable, StyleSheet, TextInput, View } from 'react-native';
import { useAsked } from './useAsked';

/** Short enough not to be felt, long enough for the next key of a fast hand. */
const REST_MS = 60;

/** The one field that everything is looked for in. */
export function FindField() {
  const { asked, ask } = useAsked();
  const [typed, setTyped] = useState(asked.query);
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const said = useRef(asked.query);
  // Changed by something else, a link or the way back.
  useEffect(() => {
    if (asked.query === said.current) return;
    said.current = asked.query;
    setTyped(asked.query);
  }, [asked.query]);
  const change = (text: string): void => {
    setTyped(text);
    clearTimeout(timer.current);
    timer.current = setTimeout(() => {
      said.current = text;
      ask((now) => ({ ...now, query: text }));
    }, REST_MS);
  };
  return (
    <View {...({ role: 'search' } as object)} style={styles.field}>
      <TextInput
        value={typed}
        onChangeText={change}
        aria-label="Search"
        placeholder="Subject, people, text, files"
        placeholderTextColor={colour.soft}
        autoComplete="off"
        autoCorrect={false}
        maxLength={200}
        {...({ dataSet: { find: 'field' }, type: 'search', enterKeyHint: 'search' } as object)}
        style={styles.input}
      />
      {typed === '' ? (
        <Text kind="mono" tone="soft" aria-hidden style={styles.key}>
          /
        </Text>
      ) : (
        <Pressable role="button" aria-label="Clear the search" onPress={() => change('')} style={styles.clear}>
          <Text kind="strong" tone="soft">
            ✕
          </Text>
        </Pressable>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  field: {
    flexDirection: 'row',
    alignItems: 'center',
    flexGrow: 1,
    minHeight: space.touch,
    backgroundColor: colour.paper,
    borderWidth: border.hair,
    borderColor: colour.edge,
    borderRadius: radius.m,
  },
  input: {
    ...type.body,
    color: colour.ink,
    flex: 1,
    minWidth: 0,
    minHeight: space.touch - 2,
    paddingHorizontal: space.m,
  },
  key: { paddingHorizontal: space.m },
  clear: { minWidth: space.touch, minHeight: space.touch - 2, alignItems: 'center', justifyContent: 'center' },
});
