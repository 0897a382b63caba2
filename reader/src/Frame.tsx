/** What stands around every page for outsiders: the office's name above, one column beneath. */
import { colour, measure, space, Text } from '@under-lock/ui';
import { type ReactNode, useEffect } from 'react';
import { ScrollView, StyleSheet, View } from 'react-native';
import { language, words } from './words/words';

interface Props {
  officeName: string | undefined;
  /** The office's own. */ colour?: string | undefined;
  title?: string | undefined;
  children: ReactNode;
}

const nameOf = (officeName: string | undefined): string =>
  officeName === undefined ? words.room : `${officeName} · ${words.room}`;

export function Frame({ officeName, colour: own, title, children }: Props) {
  const name = nameOf(officeName);
  useEffect(() => {
    document.documentElement.lang = language;
    document.title = name;
  }, [name]);
  return (
    <ScrollView style={styles.page} contentContainerStyle={styles.grow}>
      <View style={[styles.band, own === undefined ? undefined : { backgroundColor: own }]} role="banner">
        <Band name={name} title={title} />
      </View>
      <View style={styles.main} role="main">
        <View style={styles.column}>{children}</View>
      </View>
    </ScrollView>
  );
}

/** The same inside another page, which has landmarks of its own. */
export function FrameInside({ officeName, colour: own, title, children }: Props) {
  return (
    <View style={styles.inside}>
      <View style={[styles.band, own === undefined ? undefined : { backgroundColor: own }]}>
        <Band name={nameOf(officeName)} title={title} />
      </View>
      <View style={styles.main}>
        <View style={styles.column}>{children}</View>
      </View>
    </View>
  );
}

const Band = ({ name, title }: { name: string; title: string | undefined }) => (
  <View style={styles.column}>
    <Text kind="small" tone="white">
      {name}
    </Text>
    {title === undefined ? null : (
      <Text kind="heading" tone="white">
        {title}
      </Text>
    )}
  </View>
);

const styles = StyleSheet.create({
  page: { flex: 1, backgroundColor: colour.paper },
  inside: { backgroundColor: colour.paper },
  grow: { flexGrow: 1 },
  band: { backgroundColor: colour.sea, paddingHorizontal: space.l, paddingVertical: space.l },
  main: { padding: space.l, paddingTop: space.xl },
  column: { width: '100%', maxWidth: measure.column, alignSelf: 'center' },
});
