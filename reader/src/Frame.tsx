/** What stands around every page for outsiders: the office's name above, one column beneath. */
import { defined } from '@under-lock/core/defined';
import { colour, measure, space, Text } from '@under-lock/ui';
import { type ReactNode, useEffect } from 'react';
import { ScrollView, StyleSheet, View } from 'react-native';
import { language, words } from './words/words';

interface Props {
  officeName: string | undefined;
  /** The office's own. */ colour?: string | undefined;
  title?: string | undefined;
  /** Which of the office’s rooms this is. */ room?: string;
  /** The title is the page’s heading, and not one in it. */ headed?: boolean;
  children: ReactNode;
}

const nameOf = (officeName: string | undefined, room: string): string =>
  [officeName ?? '', room].filter((one) => one !== '').join(' · ');

export function Frame({ officeName, colour: own, title, room = words.room, headed, children }: Props) {
  const name = nameOf(officeName, room);
  useEffect(() => {
    document.documentElement.lang = language;
    document.title = name;
  }, [name]);
  return (
    <ScrollView style={styles.page} contentContainerStyle={styles.grow}>
      <View style={[styles.band, own === undefined ? undefined : { backgroundColor: own }]} role="banner">
        <Band name={name} title={title} {...defined({ headed })} />
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
        <Band name={nameOf(officeName, words.room)} title={title} />
      </View>
      <View style={styles.main}>
        <View style={styles.column}>{children}</View>
      </View>
    </View>
  );
}

const Band = ({ name, title, headed = false }: { name: string; title: string | undefined; headed?: boolean }) => (
  <View style={styles.column}>
    <Text kind="small" tone="white">
      {name}
    </Text>
    {title === undefined ? null : (
      <Text kind="heading" tone="white" {...(headed ? { role: 'heading', 'aria-level': 1 } : {})}>
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
