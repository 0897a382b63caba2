import { colour, Heading, measure, Panel, space, Stack, Text } from '@under-lock/ui';
import { type ReactNode, useEffect } from 'react';
import { ScrollView, StyleSheet } from 'react-native';
import { useOffice } from './useOffice';
import { titlePage } from '../shell/tab-title';

/** The frame of the pages before the office: one sheet in the middle. */
export function Entrance({
  title,
  lead,
  children,
  footer,
}: {
  title: string;
  lead?: string;
  children: ReactNode;
  footer?: ReactNode;
}) {
  const { data: office } = useOffice();
  useEffect(() => {
    titlePage(title);
  }, [title]);
  return (
    <ScrollView style={styles.page} contentContainerStyle={styles.middle} role="main">
      <Stack style={styles.column}>
        <Text kind="label" tone="sea">
          {office === undefined ? 'Under Lock' : `Under Lock · ${office.name}`}
        </Text>
        <Panel style={styles.sheet}>
          <Heading level={1}>{title}</Heading>
          {lead === undefined ? null : <Text tone="soft">{lead}</Text>}
          {children}
        </Panel>
        {footer}
      </Stack>
    </ScrollView>
  );
}

const styles = StyleSheet.create({
  page: { flex: 1, backgroundColor: colour.ground },
  middle: { flexGrow: 1, padding: space.l, paddingTop: space.xxl, alignItems: 'center' },
  column: { width: '100%', maxWidth: measure.form },
  sheet: { padding: space.xl, gap: space.l },
});
