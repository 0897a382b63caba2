/** Authorities that only this worker trusts, and the way back from it. */
import { dayInWords } from '@under-lock/core/when';
import { Button, Line, Panel, Result, Row, Section, StateMark, Text } from '@under-lock/ui';
import { useState } from 'react';
import { StyleSheet } from 'react-native';
import useSWR from 'swr';
import { useNow, zone } from '../clock';
import { problemWords } from '../problem-words';
import { keysDoor } from '../threads/keys/door';
import { forgetJudgements } from '../threads/keys/reading';
import { keysChanged } from './useKeys';
import { fingerprintInGroups, validityInWords } from './words';

export function OwnAnchors() {
  const now = useNow();
  const { data: anchors = [], mutate } = useSWR('own-anchors', () => keysDoor().anchors.list());
  const [failed, setFailed] = useState<string | undefined>();
  if (anchors.length === 0) return null;
  const remove = async (id: string): Promise<void> => {
    try {
      await keysDoor().anchors.remove(id);
      await forgetJudgements('certificates');
      await Promise.all([mutate(), keysChanged()]);
    } catch (error) {
      setFailed(problemWords(error));
    }
  };
  return (
    <Section title="Authorities only you trust" aside={String(anchors.length)}>
      <Result said={failed} />
      <Panel>
        {anchors.map(({ id, addedAt, view }, index) => (
          <Line key={id} last={index === anchors.length - 1}>
            <Row style={styles.between}>
              <Text kind="strong" style={styles.wrap}>
                {view.name}
              </Text>
              <StateMark tone="wants" word="only you" />
            </Row>
            <Text
              kind="small"
              tone="soft"
            >{`${view.organization === '' ? '' : `${view.organization}; `}${validityInWords(view, now)}; since ${dayInWords(new Date(addedAt), now, zone)}`}</Text>
            <Text kind="mono" style={styles.wrap}>
              {fingerprintInGroups(view.fingerprint)}
            </Text>
            <Row>
              <Button
                kind="quiet"
                label="Stop trusting it"
                describe={`Stop trusting it: ${view.name}`}
                onPress={() => void remove(id)}
              />
            </Row>
          </Line>
        ))}
      </Panel>
    </Section>
  );
}

const styles = StyleSheet.create({
  between: { justifyContent: 'space-between', alignItems: 'flex-start' },
  wrap: { overflowWrap: 'anywhere', flexShrink: 1 } as object,
});
