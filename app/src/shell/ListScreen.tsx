import { Heading, Row, Section, space } from '@under-lock/ui';
import { type ReactNode } from 'react';
import { ScrollView, StyleSheet, View } from 'react-native';
import { useIsBeside } from './ListAndPage';
import { Screen } from './Screen';
import { useWalkedLines } from './walk-lines';

interface Props {
  title: string;
  aside?: ReactNode;
  /** A way back, above the title. */
  back?: ReactNode;
  children: ReactNode;
  /** Nothing in it takes the focus, so that it is scrolled by keys itself. */
  still?: boolean;
}

/** The frame of a place's list: a page of its own on a narrow screen, the column beside the page on a wide one. */
export function ListScreen({ title, aside, back, children, still = false }: Props) {
  const beside = useIsBeside();
  useWalkedLines();
  if (!beside)
    return (
      <Screen title={title} {...{ aside, back, still }}>
        {children}
      </Screen>
    );
  return (
    <ScrollView
      role="region"
      aria-label={`List: ${title}`}
      style={styles.scroll}
      contentContainerStyle={styles.content}
    >
      <View style={styles.top}>
        {back}
        <Row style={styles.head}>
          <Heading level={2}>{title}</Heading>
          {aside}
        </Row>
      </View>
      <View style={styles.list}>{children}</View>
    </ScrollView>
  );
}

/** A part of a list, under a name of its own. */
export function ListSection({ title, children }: { title: string; children: ReactNode }) {
  const beside = useIsBeside();
  if (!beside) return <Section title={title}>{children}</Section>;
  return (
    <View>
      <Heading level={3} kind="label" tone="soft" style={styles.part}>
        {title}
      </Heading>
      {children}
    </View>
  );
}

/** Buttons and fields between a list's lines. */
export const ListRow = ({ children }: { children: ReactNode }) => (
  <Row style={useIsBeside() ? styles.row : undefined}>{children}</Row>
);

const styles = StyleSheet.create({
  scroll: { flex: 1 },
  content: { paddingTop: space.m, paddingBottom: space.xl, gap: space.s },
  top: { paddingHorizontal: space.l },
  head: { justifyContent: 'space-between', minHeight: space.touch },
  list: { gap: space.m },
  part: { paddingHorizontal: space.l, paddingVertical: space.s },
  row: { paddingHorizontal: space.l, paddingTop: space.s },
});
