/** One line of a place's list: what it is, when, who, its state and what is left of its time; a link to its page. */
import { border, colour, space, Text, TimeLeft } from '@under-lock/ui';
import { Link, usePathname } from 'expo-router';
import { type ComponentProps, type ReactNode } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import { useIsBeside } from './ListAndPage';

interface Props {
  href: string;
  /** All of the line in words, for screen readers. */
  label: string;
  title: ReactNode;
  /** Read already, or over: it steps back. */
  quiet?: boolean;
  /** At the right of the title: when. */
  aside?: string;
  /** Before the second line: the shapes of locks. */
  shapes?: ReactNode;
  about?: ReactNode;
  mark?: ReactNode;
  /** What is left of its time. */
  left?: ComponentProps<typeof TimeLeft> | undefined;
  children?: ReactNode;
  last?: boolean;
  /** Where its address alone does not say so. */
  chosen?: boolean;
  /** Opening it changes nothing, so walking along may open it. */
  walked?: boolean;
}

export function ListLine(props: Props) {
  const { href, label, title, quiet = false, aside, children, last = false, walked = true } = props;
  const beside = useIsBeside();
  const path = usePathname();
  const [own] = href.split('?');
  const chosen = beside && (props.chosen ?? (path === own || path.startsWith(`${own}/`)));
  return (
    <Link href={href as never} replace={beside && path.split('/').length > 2} asChild>
      <Pressable
        role="link"
        aria-label={label}
        {...(chosen ? { 'aria-current': 'page' } : {})}
        {...({ dataSet: { line: beside && walked ? 'walked' : 'met' } } as object)}
        // One object: the link lays its own style under it.
        style={StyleSheet.flatten([styles.line, last && !beside && styles.last, chosen && styles.chosen])}
      >
        <View style={styles.row}>
          <Text kind={quiet ? 'body' : 'strong'} tone={quiet ? 'soft' : 'ink'} numberOfLines={3} style={styles.grow}>
            {title}
          </Text>
          {aside === undefined ? null : (
            <Text kind="small" tone="soft">
              {aside}
            </Text>
          )}
        </View>
        <Second {...props} />
        {children}
      </Pressable>
    </Link>
  );
}

const Second = ({ shapes, about, mark, left }: Props) => (
  <>
    {shapes === undefined && about === undefined && mark === undefined ? null : (
      <View style={styles.row}>
        {shapes === undefined ? null : <View style={styles.shapes}>{shapes}</View>}
        <Text kind="small" tone="soft" numberOfLines={2} style={styles.about}>
          {about}
        </Text>
        {mark === undefined || mark === null ? null : <View style={styles.mark}>{mark}</View>}
      </View>
    )}
    {left === undefined ? null : <TimeLeft {...left} />}
  </>
);

const styles = StyleSheet.create({
  line: {
    paddingVertical: space.m,
    paddingHorizontal: space.l - border.strong,
    borderBottomWidth: border.hair,
    borderBottomColor: colour.line,
    borderLeftWidth: 3,
    borderLeftColor: 'transparent',
    gap: space.xs,
    textDecorationLine: 'none',
  } as object,
  last: { borderBottomWidth: 0 },
  chosen: { backgroundColor: colour.paleSea, borderLeftColor: colour.sea },
  row: { flexDirection: 'row', gap: space.s, alignItems: 'flex-start' },
  grow: { flex: 1, minWidth: 0, maxWidth: 'none', overflowWrap: 'anywhere' } as object,
  // No wider than a line may be, and what stands behind it at the end all the same.
  about: { flex: 1, minWidth: 0, overflowWrap: 'anywhere' } as object,
  mark: { marginStart: 'auto' },
  shapes: { flexDirection: 'row', gap: space.xs },
});
