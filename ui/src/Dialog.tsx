import { type ReactNode, useEffect, useRef } from 'react';
import { Modal, ScrollView, StyleSheet, View } from 'react-native';
import { Heading } from './Text';
import { border, colour, measure, radius, space } from './tokens';

/** A question above the page. Escape closes it, focus stays inside and goes back to where it came from. */
export function Dialog({ title, open, onClose, children, actions }: { title: string; open: boolean; onClose: () => void; children: ReactNode; actions: ReactNode }) {
  const opener = useRef<HTMLElement | null>(null);
  useEffect(() => {
    if (!open) return undefined;
    opener.current = document.activeElement as HTMLElement | null;
    // React Native Web's Modal keeps focus in but does not give it back.
    return () => opener.current?.focus();
  }, [open]);
  return (
    <Modal visible={open} transparent animationType="fade" onRequestClose={onClose} aria-label={title}>
      <View style={styles.shade}>
        <View style={styles.sheet}>
          <Heading level={2}>{title}</Heading>
          <ScrollView style={styles.scroll} contentContainerStyle={styles.content}>{children}</ScrollView>
          <View style={styles.actions}>{actions}</View>
        </View>
      </View>
    </Modal>
  );
}

const styles = StyleSheet.create({
  shade: { flex: 1, backgroundColor: 'rgba(27,36,33,0.5)', alignItems: 'center', justifyContent: 'center', padding: space.l },
  sheet: { backgroundColor: colour.paper, borderRadius: radius.m, borderWidth: border.hair, borderColor: colour.line, padding: space.xl, gap: space.l, width: '100%', maxWidth: measure.form + space.xxl * 2, maxHeight: '92%' },
  scroll: { flexGrow: 0, flexShrink: 1 },
  content: { gap: space.m },
  actions: { flexDirection: 'row', flexWrap: 'wrap', gap: space.s },
});
