/** A rule's last thirty days: how often it acted, stopped, or would have, by day; the same in words for who can't see it. */
import { type Reply } from '@under-lock/contract/client';
import { type getRuleFigures } from '@under-lock/contract/rules';
import { type Rule } from '@under-lock/core/rules/rule';
import { dayInWords } from '@under-lock/core/when';
import { colour, Section, space, Stack, Text } from '@under-lock/ui';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { BarChart } from 'react-native-gifted-charts';
import { zone } from '../clock';
import { capitalised } from '@under-lock/core/first-letter';
import { figuresInWords } from './useFigures';

const HEIGHT = 72; // CSS pixels
const DAYS = 30;

type Figures = Reply<typeof getRuleFigures>['rules'][number];

/** Of each of the last thirty days, the oldest first. */
function perDay(figures: Figures | undefined, now: Date): { day: Date; count: number }[] {
  const counts = new Map(figures?.days.map(({ day, acted, stopped, would }) => [day, acted + stopped + would]));
  return Array.from({ length: DAYS }, (_, index) => {
    const day = new Date(now.getTime() - (DAYS - 1 - index) * 86_400_000);
    return { day, count: counts.get(day.toISOString().slice(0, 10)) ?? 0 };
  });
}

export function RuleMonth({ rule, figures, now }: { rule: Rule; figures: Figures | undefined; now: Date }) {
  const [width, setWidth] = useState(0);
  const days = perDay(figures, now);
  const most = Math.max(1, ...days.map(({ count }) => count));
  const busy = days.filter(({ count }) => count > 0);
  const words = figuresInWords(figures, rule.state);
  const spacing = 4;
  return (
    <Section title="Last 30 days">
      <Stack style={styles.month}>
        {busy.length === 0 ? null : (
          <View
            role="img"
            aria-label={`Last 30 days: ${busy.map(({ day, count }) => `${dayInWords(day, now, zone)} ${count}`).join(', ')}.`}
            onLayout={(event) => setWidth(event.nativeEvent.layout.width)}
            style={styles.room}
          >
            {width === 0 ? null : (
              // Inert: the library's scroll views would take the focus behind the picture's name.
              <div inert aria-hidden style={{ height: HEIGHT + space.s }}>
                <BarChart
                  data={days.map(({ count }) => ({ value: count }))}
                  width={width}
                  height={HEIGHT}
                  barWidth={Math.max(2, width / DAYS - spacing)}
                  spacing={spacing}
                  initialSpacing={0}
                  endSpacing={0}
                  frontColor={colour.sea}
                  maxValue={most}
                  noOfSections={1}
                  hideRules
                  hideAxesAndRules
                  hideYAxisText
                  yAxisLabelWidth={0}
                  disableScroll
                />
              </div>
            )}
          </View>
        )}
        <Text kind="small">{`${capitalised(words)}.`}</Text>
      </Stack>
    </Section>
  );
}

const styles = StyleSheet.create({ month: { gap: space.s }, room: { minHeight: HEIGHT + space.s } });
