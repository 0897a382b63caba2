/** What is missing, first and settled in place. A line that has just been settled stays until the hand has left it. */
import { type PlanLine } from '@under-lock/core/outgoing/delivery-plan';
import { missingSentence } from '@under-lock/core/outgoing/missing-words';
import { border, colour, Heading, space, Stack, Text } from '@under-lock/ui';
import { LockShape } from '@under-lock/ui/lock-shape';
import { memo, useEffect, useRef } from 'react';
import { StyleSheet, View } from 'react-native';
import { lockShapes } from '../../locks/lock-words';
import { warningWords } from './plan-words';
import { detailsOf, type DetailsProps, type ForAll, SettleRecipient } from './RecipientDetails';
import { waySaid } from './Recipients';
import { SameQuestion } from './SameQuestion';

const Unsettled = memo(function Unsettled(details: DetailsProps) {
  const { line } = details;
  const { recipient, chosen } = line;
  const who = recipient.name || recipient.address;
  const settled = chosen.missing.length === 0;
  const row = useRef<HTMLElement>(null);
  useEffect(() => {
    // The field that settled it is gone, and the focus with it: nobody starts again at the top of the page.
    const element = row.current;
    if (settled && document.activeElement === document.body) element?.focus();
  }, [settled]);
  return (
    <View ref={row as never} role="listitem" aria-label={who} {...({ tabIndex: -1 } as object)} style={styles.row}>
      <LockShape shape={lockShapes[chosen.lock]} state={settled ? 'filled' : 'stopped'} />
      <View style={styles.words}>
        <Text kind="strong" style={styles.wrap}>
          {who}
        </Text>
        {settled ? <Text kind="small" tone="sea">{`● Settled: ${waySaid(line, true)}`}</Text> : null}
        {chosen.missing.map((missing) => (
          <Text key={missing.code} kind="small" tone="brick">{`■ ${missingSentence(missing)}`}</Text>
        ))}
        {chosen.warnings.map((warning) => (
          <Text key={warning.code} kind="small" tone="amber">{`▲ ${warningWords(warning)}`}</Text>
        ))}
        <SettleRecipient {...details} />
      </View>
    </View>
  );
});

/** @param said What is missing of the message itself, in words. */
export function ToSettle({
  lines,
  said,
  count,
  holding,
  ...common
}: ForAll & {
  lines: readonly PlanLine[];
  said: readonly string[];
  count: number;
  holding: (address: string) => object;
}) {
  if (lines.length + said.length === 0) return null;
  const asked = lines.filter(({ chosen }) => chosen.check?.question === true);
  return (
    <Stack style={styles.block}>
      <Heading level={2} kind="strong" tone={count === 0 ? 'sea' : 'amber'}>
        {count === 0 ? '● Settled' : `▲ ${count === 1 ? '1 thing' : `${count} things`} to settle`}
      </Heading>
      {said.map((one) => (
        <Text key={one} kind="small">{`Still wanted: ${one}`}</Text>
      ))}
      {asked.length > 1 ? <SameQuestion lines={asked} actions={common.actions} /> : null}
      {lines.length === 0 ? null : (
        <View role="list" aria-label="To settle">
          {lines.map((line) => (
            <div key={line.recipient.address} {...holding(line.recipient.address)}>
              <Unsettled {...detailsOf(line, common)} />
            </div>
          ))}
        </View>
      )}
    </Stack>
  );
}

const styles = StyleSheet.create({
  block: {
    gap: space.s,
    backgroundColor: colour.paper,
    borderLeftWidth: border.bar,
    borderLeftColor: colour.amber,
    paddingLeft: space.m,
  },
  row: { flexDirection: 'row', gap: space.m, paddingVertical: space.m },
  words: { flex: 1, gap: border.strong, minWidth: 0 },
  wrap: { overflowWrap: 'anywhere' } as object,
});
