import { type ReactNode } from 'react';
import { StyleSheet, Text as NativeText, type TextProps } from 'react-native';
import { colour, type } from './tokens';

interface Props extends Omit<TextProps, 'role'> {
  kind?: keyof typeof type;
  tone?: 'ink' | 'soft' | 'sea' | 'onSea' | 'amber' | 'brick' | 'white';
  children?: ReactNode;
}

export function Text({ kind = 'body', tone = 'ink', style, ...rest }: Props) {
  return <NativeText {...rest} style={[styles[kind], tones[tone], style]} />;
}

/** What somebody wrote, line by line: it begins on the side of its own language, whatever the page's is. */
export function Prose({ style, ...rest }: Props) {
  return <Text {...rest} style={[styles.prose, style]} />;
}

/** A heading for screen readers too; `level` is its place in the page's outline. */
export function Heading({ level, kind = level === 1 ? 'title' : 'heading', ...rest }: Props & { level: 1 | 2 | 3 }) {
  return <HeadingText {...rest} kind={kind} level={level} />;
}

function HeadingText({ kind = 'heading', tone = 'ink', style, level, ...rest }: Props & { level: number }) {
  return <NativeText role="heading" aria-level={level} {...rest} style={[styles[kind], tones[tone], style]} />;
}

/** At most 75 characters of running text, also where they are narrow: a "0" is wider than most letters. */
const READABLE = { maxWidth: '46ch' } as object;

/** A subject may be one word without an end; beside something else it gives way, too. */
const UNBROKEN = { overflowWrap: 'anywhere', flexShrink: 1, minWidth: 0 } as object;

/**
 * On the side where the page's lines begin. The order within is the text's own: an address is no Arabic, also where it
 * stands in an Arabic page.
 */
const IN_LINE = { textAlign: 'start' } as object;

const styles = StyleSheet.create({
  title: { ...type.title, ...UNBROKEN, ...IN_LINE },
  heading: { ...type.heading, ...UNBROKEN, ...IN_LINE },
  strong: { ...type.strong, ...IN_LINE },
  body: { ...type.body, ...READABLE, ...IN_LINE },
  small: { ...type.small, ...READABLE, ...IN_LINE },
  label: { ...type.label, ...IN_LINE },
  mono: { ...type.mono, ...IN_LINE },
  prose: { whiteSpace: 'pre-wrap', overflowWrap: 'anywhere', textAlign: 'initial' } as object,
});
const tones = StyleSheet.create({
  ink: { color: colour.ink },
  soft: { color: colour.soft },
  sea: { color: colour.sea },
  amber: { color: colour.amber },
  brick: { color: colour.brick },
  onSea: { color: colour.onSea },
  white: { color: colour.white },
});
