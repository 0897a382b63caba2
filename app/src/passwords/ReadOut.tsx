/** A password as it is read out on the phone: word by word, or every character with how it is said. */
import { isWords, spelt } from '@under-lock/core/passwords/spell';
import { border, colour, radius, space, Text } from '@under-lock/ui';
import { StyleSheet, View } from 'react-native';

export function ReadOut({ who, password }: { who: string; password: string }) {
  const words = isWords(password);
  return (
    <View style={styles.script}>
      <Text>{`“This is about the file I am sending you. Please write down its password${words ? `: ${password.split('-').length} words with a dash between them, in small letters` : ''}.”`}</Text>
      <View role="list" aria-label={`The password for ${who}, to read out`} style={styles.pieces}>
        {words
          ? password.split('-').map((word, index) => (
              <View key={index} role="listitem" style={styles.piece}>
                <Text kind="mono">{word}</Text>
              </View>
            ))
          : spelt(password).map(({ character, said }, index) => (
              <View key={index} role="listitem" style={styles.piece}>
                <Text kind="mono">{character === ' ' ? '␣' : character}</Text>
                <Text kind="small" tone="soft">
                  {said}
                </Text>
              </View>
            ))}
      </View>
      <Text>“Please read it back to me. Don’t keep it with the mail.”</Text>
    </View>
  );
}

const styles = StyleSheet.create({
  script: { gap: space.s, padding: space.m, borderLeftWidth: border.bar, borderLeftColor: colour.sea },
  pieces: { flexDirection: 'row', flexWrap: 'wrap', gap: space.s },
  piece: {
    paddingVertical: space.xs,
    paddingHorizontal: space.s,
    borderWidth: border.hair,
    borderColor: colour.line,
    borderRadius: radius.s,
    backgroundColor: colour.paper,
  },
});
