import { dayInWords } from '@under-lock/core/when';
import { colour, space, Text } from '@under-lock/ui';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { LineChart } from 'react-native-gifted-charts';
import { zone } from '../clock';
import { stillOpen } from './still-open';

const HEIGHT = 96; // CSS pixels

/** Under the days they are of, each with the room to the next; what is left of the thirty days is the last one's. */
const MARKS: readonly { label: string; day: number; room: number; atEnd?: boolean }[] = [
  { label: 'today', day: 0, room: 7 },
  { label: 'in a week', day: 7, room: 7 },
  { label: 'two weeks', day: 14, room: 8 },
  { label: 'in 30 days', day: 30, room: 8, atEnd: true },
];

interface Props {
  total: number;
  /** Accesses that close on each of the next 30 days, `yyyy-MM-dd`. */
  perDay: readonly { day: string; count: number }[];
  now: Date;
}

/** How many accesses are still open as the days pass: a staircase; the same said in words for who can't see it. */
export function OpenCurve({ total, perDay, now }: Props) {
  const [width, setWidth] = useState(0);
  const open = stillOpen(total, perDay);
  const noon = (day: string): Date => new Date(`${day}T12:00:00`);
  const words = perDay
    .map(({ day, count }, index) => ({ day, count, left: open[index + 1]! }))
    .filter(({ count }) => count > 0)
    .map(({ day, left }) => `after ${dayInWords(noon(day), now, zone)} ${left}`);
  return (
    <View
      onLayout={(event) => setWidth(event.nativeEvent.layout.width)}
      role="img"
      aria-label={`Accesses still open: today ${total}${words.length === 0 ? ', and none closes within 30 days' : `, ${words.join(', ')}`}.`}
    >
      {width === 0 ? (
        <View style={styles.room} />
      ) : (
        // Inert: the library's scroll views would take the focus behind the picture's name.
        <div inert aria-hidden style={{ height: HEIGHT + space.s }}>
          <LineChart
            data={open.map((value) => ({ value }))}
            stepChart
            areaChart
            hideDataPoints
            color={colour.sea}
            thickness={2}
            startFillColor={colour.paleSea}
            endFillColor={colour.paleSea}
            startOpacity={1}
            endOpacity={1}
            width={width}
            height={HEIGHT}
            maxValue={Math.max(1, total)}
            noOfSections={1}
            spacing={width / (open.length - 1)}
            initialSpacing={0}
            endSpacing={0}
            yAxisThickness={0}
            yAxisLabelWidth={0}
            hideYAxisText
            hideRules
            xAxisColor={colour.edge}
            xAxisLabelsHeight={0}
            disableScroll
          />
        </div>
      )}
      <View aria-hidden style={styles.marks}>
        {MARKS.map(({ label, day, room, atEnd = false }) => (
          <View key={label} style={{ flexGrow: room, flexBasis: 0, alignItems: atEnd ? 'flex-end' : 'flex-start' }}>
            <Text kind="small">{open[Math.min(day, open.length - 1)]!}</Text>
            <Text kind="small" tone="soft">
              {label}
            </Text>
          </View>
        ))}
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  room: { height: HEIGHT + space.s },
  marks: { flexDirection: 'row' },
});
