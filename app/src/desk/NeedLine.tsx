/** One thing that needs the worker: what it is, about which message, and the one act that settles it. */
import { Line, space, type StateTone, Text, TextButton } from '@under-lock/ui';
import { router } from 'expo-router';
import { StyleSheet, View } from 'react-native';
import { LinkArea } from '../shell/LinkArea';

interface Props {
  tone: Extract<StateTone, 'wants' | 'stopped'>;
  title: string;
  /** What it is about. */
  about: string;
  /** What is known besides. */
  detail?: string;
  /** Where it is looked at. */
  href: string;
  act?: { label: string; describe: string; does: () => void } | undefined;
  last: boolean;
}

const forms = { wants: ['▲', 'amber'], stopped: ['■', 'brick'] } as const;

export function NeedLine({ tone, title, about, detail, href, act, last }: Props) {
  const [form, colour] = forms[tone];
  const look = (): void => router.push(href as never);
  const { label, describe, does } = act ?? { label: 'Look', describe: `Look at ${about}`, does: look };
  return (
    <Line last={last} style={styles.line}>
      <LinkArea href={href} label={`${title}: ${about}`} style={styles.words}>
        <Text kind="small" tone={colour} style={styles.form}>
          {form}
        </Text>
        <View style={styles.grow}>
          <Text kind="strong" style={styles.wrap}>
            {title}
          </Text>
          <Text kind="small" style={styles.wrap}>
            {about}
          </Text>
          {detail === undefined ? null : (
            <Text kind="small" tone="soft" style={styles.wrap}>
              {detail}
            </Text>
          )}
        </View>
      </LinkArea>
      <TextButton label={label} describe={describe} onPress={does} />
    </Line>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', gap: space.m, alignItems: 'flex-start' },
  words: { flex: 1, minWidth: 0, flexDirection: 'row', gap: space.s },
  form: { lineHeight: 24 },
  grow: { flex: 1, minWidth: 0 },
  wrap: { overflowWrap: 'anywhere' } as object,
});
