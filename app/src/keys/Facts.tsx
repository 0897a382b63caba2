/**
 * Whatever somebody signs with or is encrypted to, in words: whose, until when, what is the matter with it, and its
 * details when asked. Certificates and OpenPGP keys are shown alike.
 */
import { border, Row, StateMark, Stack, Text, TextButton } from '@under-lock/ui';
import { type ReactNode, useState } from 'react';
import { StyleSheet } from 'react-native';
import { type AnyFinding, findingWords, verdictWord } from './words';

interface Judged {
  level: 'valid' | 'unchecked' | 'stop';
  findings: readonly AnyFinding[];
}

export function VerdictMark({ verdict }: { verdict: Judged | undefined }) {
  if (verdict === undefined) return <StateMark tone="over" word="being checked" />;
  const { tone, word } = verdictWord(verdict);
  return <StateMark tone={tone} word={word} />;
}

const NOTES: readonly AnyFinding['code'][] = ['not-checked', 'not-vouched-for', 'expired-since', 'revoked-since'];

export function Findings({ verdict }: { verdict: Judged }) {
  return (
    <>
      {verdict.findings.map((finding) => {
        const note = NOTES.includes(finding.code);
        return (
          <Text
            key={finding.code}
            kind="small"
            tone={note ? 'amber' : 'brick'}
          >{`${note ? '▲' : '■'} ${findingWords(finding)}`}</Text>
        );
      })}
    </>
  );
}

interface Props {
  name: string;
  addresses: readonly string[];
  /** In a sentence. */ about: string;
  /** Undefined: nothing is said of it yet. */ mark?: ReactNode;
  /** What has to be seen at once. */ notes?: ReactNode;
  details: ReactNode;
}

export function Facts({ name, addresses, about, mark, notes, details }: Props) {
  const [more, setMore] = useState(false);
  return (
    <Stack style={styles.tight}>
      <Row style={styles.between}>
        <Text kind="strong" style={styles.wrap}>
          {name}
        </Text>
        {mark}
      </Row>
      <Text kind="small" style={styles.wrap}>
        {addresses.length === 0 ? 'names no address' : addresses.join(', ')}
      </Text>
      <Text kind="small" tone="soft" style={styles.wrap}>
        {about}
      </Text>
      {notes}
      <TextButton
        label={more ? 'Hide the details' : 'Fingerprint and details'}
        describe={`${more ? 'Hide the details' : 'Fingerprint and details'} of ${name}`}
        onPress={() => setMore(!more)}
      />
      {more ? <Stack style={styles.tight}>{details}</Stack> : null}
    </Stack>
  );
}

const styles = StyleSheet.create({
  tight: { gap: border.strong },
  between: { justifyContent: 'space-between', alignItems: 'flex-start' },
  wrap: { overflowWrap: 'anywhere', flexShrink: 1 } as object,
});
