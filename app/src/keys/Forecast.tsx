/** What runs out in the next months, and what that means. */
import { REMINDER_DAYS } from '@under-lock/core/certificate/reminder';
import { dayInWords, distanceInWords } from '@under-lock/core/when';
import { Line, Panel, Row, Section, StateMark, Text } from '@under-lock/ui';
import { StyleSheet } from 'react-native';
import { zone } from '../clock';
import { listed } from '../handling/words';
import { type RunsOut } from './run-out';

const DAY = 86_400_000;

function consequence({ kind, what, affects, own }: RunsOut): string {
  switch (kind) {
    case 'own':
      return `After that you can’t sign with it, and nobody should encrypt to it. ${what === 'key' ? 'Lengthen' : 'Renew'} it before.`;
    case 'person':
      return 'After that they get no copies; the reading room stays. Ask them for the new one.';
    case 'authority': {
      const others = affects.filter((who) => who !== 'you');
      const names =
        others.length > 3 ? `${others.slice(0, 3).join(', ')} and ${others.length - 3} more` : listed(others, 'and');
      return `After that nothing it vouches for counts: ${[...(own ? ['your own certificate'] : []), ...(names === '' ? [] : [names])].join(' and ')}.`;
    }
  }
}

function title({ kind, what, name, affects: [who] }: RunsOut): string {
  if (kind === 'authority') return `The authority ${name}`;
  if (kind === 'own') return what === 'key' ? 'Your OpenPGP key' : 'Your certificate';
  return `${what === 'key' ? 'OpenPGP key' : 'Certificate'} of ${who ?? name}`;
}

export function Forecast({ ahead, now }: { ahead: readonly RunsOut[]; now: Date }) {
  return (
    <Section title="What runs out">
      <Panel>
        {ahead.length === 0 ? (
          <Line last>
            <Text tone="soft">
              Nothing in the next four months: neither yours, nor the certificates and keys of the people you write to,
              nor the authorities above them.
            </Text>
          </Line>
        ) : (
          ahead.map((one, index) => (
            <Line key={one.fingerprint} last={index === ahead.length - 1}>
              <Row style={styles.between}>
                <Text kind="strong" style={styles.wrap}>
                  {title(one)}
                </Text>
                <StateMark
                  tone={one.at.getTime() - now.getTime() <= REMINDER_DAYS[0] * DAY ? 'wants' : 'over'}
                  word={distanceInWords(one.at, now, zone)}
                />
              </Row>
              <Text
                kind="small"
                tone="soft"
                style={styles.wrap}
              >{`Valid until ${dayInWords(one.at, now, zone)}. ${consequence(one)}`}</Text>
            </Line>
          ))
        )}
      </Panel>
    </Section>
  );
}

const styles = StyleSheet.create({
  between: { justifyContent: 'space-between', alignItems: 'flex-start' },
  wrap: { overflowWrap: 'anywhere', flexShrink: 1 } as object,
});
