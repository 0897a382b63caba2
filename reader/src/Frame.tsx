/** What stands around every page for outsiders: the office's name above, one column beneath. */
import { inOneLine } from '@under-lock/core/in-one-line';
import { defined } from '@under-lock/core/defined';
import { type Language } from '@under-lock/core/language';
import { border, colour, measure, space, Text } from '@under-lock/ui';
import { type ReactNode, useEffect } from 'react';
import { ScrollView, StyleSheet, View } from 'react-native';
import { LanguageChoice } from './LanguageChoice';
import { speakAs } from './spoken';
import { language, words } from './words/words';

interface Props {
  officeName: string | undefined;
  /** The office's own. */ colour?: string | undefined;
  title?: string | undefined;
  /** Which of the office’s rooms this is. */ room?: string;
  /** The title is the page’s heading, and not one in it. */ headed?: boolean;
  /** The language spoken, and its word for that. */ spoken?: { language: Language; label: string };
  children: ReactNode;
}

const nameOf = (officeName: string | undefined, room: string): string => inOneLine(officeName ?? '', room);

/** By the language of a part React Native Web knows on which side its lines begin. */
const inLanguage = (lang: Language): object => ({ lang });

export function Frame({
  officeName,
  colour: own,
  title,
  room = words.room,
  headed,
  spoken = { language, label: words.language },
  children,
}: Props) {
  const name = nameOf(officeName, room);
  useEffect(() => {
    speakAs(language);
    document.title = name;
  }, [name]);
  return (
    <View style={styles.all} {...inLanguage(spoken.language)}>
      <ScrollView style={styles.page} contentContainerStyle={styles.grow}>
        <View style={[styles.band, own === undefined ? undefined : { backgroundColor: own }]} role="banner">
          <Band name={name} title={title} {...defined({ headed })} />
        </View>
        <View style={[styles.main, styles.grow]} role="main">
          <View style={styles.column}>{children}</View>
        </View>
        <View style={styles.foot} role="contentinfo">
          <View style={styles.column}>
            <LanguageChoice {...spoken} />
          </View>
        </View>
      </ScrollView>
    </View>
  );
}

/** The same inside another page, which has landmarks of its own. */
export function FrameInside({ officeName, colour: own, title, children }: Props) {
  return (
    <View style={styles.inside} {...inLanguage(language)}>
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
  all: { flex: 1 },
  page: { flex: 1, backgroundColor: colour.paper },
  inside: { backgroundColor: colour.paper },
  grow: { flexGrow: 1 },
  band: { backgroundColor: colour.sea, paddingHorizontal: space.l, paddingVertical: space.l },
  main: { padding: space.l, paddingTop: space.xl },
  foot: { padding: space.l, borderTopWidth: border.hair, borderTopColor: colour.line },
  column: { width: '100%', maxWidth: measure.column, alignSelf: 'center' },
});
