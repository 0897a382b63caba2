import { colour, Heading, measure, Row, space, Stack, Text, WIDE } from '@under-lock/ui';
import { type ReactNode, useEffect } from 'react';
import { ScrollView, StyleSheet, useWindowDimensions, View } from 'react-native';
import { titlePage } from './tab-title';

export const useWide = (): boolean => useWindowDimensions().width >= WIDE;

/** The tab's title. */
export function useTitle(title: string): void {
  useEffect(() => {
    titlePage(title);
  }, [title]);
}

interface Props {
  title: string;
  aside?: ReactNode;
  /** A way back, above the title. */
  back?: ReactNode;
  children: ReactNode;
  /** Takes the whole width, for pages of two columns. */
  broad?: boolean;
  /** Beside the text on a wide screen. */
  side?: ReactNode;
  /** Stuck to the lower edge on a phone. */
  strip?: ReactNode;
  /** Nothing in it takes the focus, so that it is scrolled by keys itself. */
  still?: boolean;
  /** What it holds takes at least the whole height, under a title that takes little of it. */
  fills?: boolean;
}

/** One page: its title, its text, on a wide screen a side column. */
export function Screen({
  title,
  aside,
  back,
  children,
  broad = false,
  side,
  strip,
  still = false,
  fills = false,
}: Props) {
  const wide = useWide();
  useTitle(title);
  return (
    <View style={styles.whole}>
      <View style={styles.mainColumn}>
        <ScrollView
          style={styles.scroll}
          contentContainerStyle={[
            styles.content,
            wide && styles.wideContent,
            fills && styles.filled,
            fills && !wide && styles.close,
          ]}
          role="main"
          {...(still ? { tabIndex: 0 } : {})}
        >
          <Stack style={[broad ? styles.broad : styles.column, fills && styles.filled, fills && styles.tight]}>
            <View>
              {back}
              <Row style={styles.head}>
                <Heading level={1} kind={fills && !wide ? 'heading' : 'title'}>
                  {title}
                </Heading>
                {typeof aside === 'string' ? (
                  <Text kind="small" tone="soft">
                    {aside}
                  </Text>
                ) : (
                  aside
                )}
              </Row>
            </View>
            {children}
          </Stack>
        </ScrollView>
        {strip}
      </View>
      {side === undefined || !wide ? null : (
        <View role="complementary" aria-label="How it goes out" style={styles.side}>
          {side}
        </View>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  whole: { flex: 1, flexDirection: 'row', minHeight: 0 },
  mainColumn: { flex: 1, minWidth: 0 },
  scroll: { flex: 1 },
  content: { padding: space.l, paddingBottom: space.xxl },
  wideContent: { paddingHorizontal: space.xl + space.xs, paddingTop: space.xl },
  filled: { flexGrow: 1 },
  close: { padding: space.l, paddingTop: space.s, paddingBottom: 0 },
  tight: { gap: space.xs },
  column: { width: '100%', maxWidth: measure.column + space.xxl },
  broad: { width: '100%', maxWidth: measure.column * 2 },
  head: { justifyContent: 'space-between', alignItems: 'baseline' },
  side: { width: measure.side, backgroundColor: colour.paper, borderLeftWidth: 1, borderLeftColor: colour.line },
});
