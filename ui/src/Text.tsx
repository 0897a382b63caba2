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

const styles = StyleSheet.create({
  title: { ...type.title, ...UNBROKEN },
  heading: { ...type.heading, ...UNBROKEN },
  strong: type.strong,
  body: { ...type.body, ...READABLE },
  small: { ...type.small, ...READABLE },
  label: type.label,
  mono: type.mono,
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
