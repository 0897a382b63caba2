import { Link } from 'expo-router';
import { type ReactNode } from 'react';
import { Pressable, StyleSheet, type ViewStyle } from 'react-native';

/** Several lines that lead somewhere as one: a link of the browser's own, so that Enter opens it as a press does. */
export function LinkArea({
  href,
  label,
  style,
  children,
}: {
  href: string;
  /** All of it in words, for screen readers. */
  label: string;
  style?: ViewStyle;
  children: ReactNode;
}) {
  return (
    <Link href={href as never} asChild>
      <Pressable role="link" aria-label={label} style={StyleSheet.flatten([styles.area, style])}>
        {children}
      </Pressable>
    </Link>
  );
}

const styles = StyleSheet.create({ area: { textDecorationLine: 'none' } as object });
