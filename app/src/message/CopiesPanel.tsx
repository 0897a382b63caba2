/** Who got a copy of their own: where it got to. Nobody can close or withdraw it. */
import { type SentCopy } from '@under-lock/contract/message';
import { momentInWords } from '@under-lock/core/when';
import { Line, Panel, Row, Section, StateMark, Text } from '@under-lock/ui';
import { LockShape } from '@under-lock/ui/lock-shape';
import { StyleSheet } from 'react-native';
import { zone } from '../clock';
import { lockShapes, lockWords } from '../plan/words';
import { copyMark, who } from './grant-words';

export function CopiesPanel({ copies, clear, now }: { copies: readonly SentCopy[]; /** Signed and readable. */ clear: boolean; now: Date }) {
  return (
    <Section title={clear ? 'Sent signed, readable' : 'Copies of their own'} aside={String(copies.length)}>
      <Text kind="small" tone="soft">{clear ? 'Gone as ordinary mail with your signature. Anybody on its way could read it; nobody can close or withdraw it.' : 'Encrypted to their certificate or key and gone into their own mail program. A copy can’t be closed, withdrawn or limited, and nobody is told when it is opened.'}</Text>
      <Panel>
        {copies.map((copy, index) => {
          const { tone, word } = copyMark(copy);
          return (
            <Line key={copy.id} last={index === copies.length - 1}>
              <Row style={styles.between}>
                <Row style={styles.who}>
                  <LockShape shape={lockShapes[copy.lock]} state={tone === 'stopped' ? 'stopped' : 'filled'} />
                  <Text kind="strong" style={styles.wrap}>{who(copy)}</Text>
                </Row>
                <StateMark tone={tone} word={word} />
              </Row>
              <Text kind="small" tone="soft" style={styles.wrap}>{`${lockWords[copy.lock]}${copy.name === '' ? '' : `, to ${copy.address}`}`}</Text>
              {copy.at === undefined ? null : <Text kind="small" tone="soft">{`${word}, ${momentInWords(copy.at, now, zone)}`}</Text>}
              {copy.answer === undefined || copy.state === 'accepted' ? null : <Text kind="small" tone={copy.state === 'waiting' ? 'soft' : 'brick'} style={styles.wrap}>{`Their mail host said: ${copy.answer}`}</Text>}
            </Line>
          );
        })}
      </Panel>
    </Section>
  );
}

const styles = StyleSheet.create({
  between: { justifyContent: 'space-between', flexWrap: 'nowrap', alignItems: 'flex-start' },
  who: { flexShrink: 1, flexWrap: 'nowrap' },
  wrap: { overflowWrap: 'anywhere', flexShrink: 1 } as object,
});
