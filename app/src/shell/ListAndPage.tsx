import { border, colour, Heading, space, Text } from '@under-lock/ui';
import { Slot } from 'expo-router';
import { createContext, type ReactNode, useContext } from 'react';
import { StyleSheet, useWindowDimensions, View } from 'react-native';
import { useTitle, useWide } from './Screen';
import { WayLink } from './WayLink';

const Beside = createContext(false);

/** Whether what asks is the column beside a page. */
export const useIsBeside = (): boolean => useContext(Beside);

const ROOMY = 1200; // CSS pixels of the window

/** What is printed of the two is the style sheet's to say. */
const marked = (name: string, as = ''): object => ({ dataSet: { [name]: as } });

/**
 * A place's list and its page: beside one another on a wide screen, the page alone on a narrow one. The page is the same
 * in both, so that a screen that is turned loses nothing that was typed there.
 */
export function ListAndPage({ list }: { list: ReactNode }) {
  const wide = useWide();
  const { width } = useWindowDimensions();
  return (
    <View style={styles.both} {...(wide ? marked('beside') : {})}>
      {wide ? (
        <View style={[styles.list, width >= ROOMY && styles.roomy]} {...marked('part', 'list')}>
          <Beside.Provider value={true}>{list}</Beside.Provider>
        </View>
      ) : null}
      <View style={styles.page} {...(wide ? marked('part', 'page') : {})}>
        <Slot />
      </View>
    </View>
  );
}

/** From a page to its list; where that stands beside the page, there is no way to go. */
export const BackToList = ({ href, label }: { href: string; label: string }) =>
  useWide() ? null : <WayLink href={href} label={label} />;

/** A place's index: its list where that has no column of its own, else what belongs to none of its lines. */
export function ListIndex({ list, children }: { list: ReactNode; children: ReactNode }) {
  return useWide() ? children : list;
}

/** Beside a list of which no line is chosen. */
export function NothingChosen({ title, children }: { title: string; children: string }) {
  useTitle(title);
  return (
    <View role="main" style={styles.nothing}>
      <Heading level={1} kind="heading">
        {title}
      </Heading>
      <Text tone="soft" style={styles.words}>
        {children}
      </Text>
    </View>
  );
}

const styles = StyleSheet.create({
  both: { flex: 1, flexDirection: 'row', minHeight: 0 },
  list: {
    width: 340,
    backgroundColor: colour.paper,
    borderRightWidth: border.hair,
    borderRightColor: colour.line,
  },
  roomy: { width: 400 },
  page: { flex: 1, minWidth: 0 },
  nothing: { flex: 1, alignItems: 'center', justifyContent: 'center', padding: space.xxl, gap: space.s },
  words: { maxWidth: 360, textAlign: 'center' },
});
