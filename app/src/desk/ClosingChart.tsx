import { dayInWords } from '@under-lock/core/when';
import { colour, space, Text, type } from '@under-lock/ui';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { BarChart } from 'react-native-gifted-charts';
import { zone } from '../clock';

/** How many accesses close on each of the next 30 days; the same said in words for who can't see bars. */
export function ClosingChart({ perDay, now }: { perDay: { day: string; count: number }[]; now: Date }) {
  const [width, setWidth] = useState(0);
  const most = Math.max(1, ...perDay.map(({ count }) => count));
  const step = Math.max(4, Math.floor((width - space.xxl) / perDay.length));
  const noon = (day: string): Date => new Date(`${day}T12:00:00`);
  const busy = perDay.filter(({ count }) => count > 0);
  const words =
    busy.length === 0
      ? 'None closes within 30 days.'
      : busy.map(({ day, count }) => `${dayInWords(noon(day), now, zone)}: ${count}`).join(', ');
  return (
    <View
      onLayout={(event) => setWidth(event.nativeEvent.layout.width)}
      role="img"
      aria-label={`Accesses closing per day. ${words}`}
    >
      {width === 0 ? null : (
        // Inert: the library's scroll views would take the focus behind the picture's name.
        <div inert aria-hidden>
          <BarChart
            data={perDay.map(({ day, count }, index) => ({
              value: count,
              frontColor: colour.sea,
              label: index % 7 === 0 ? dayInWords(noon(day), now, zone).split(' ').slice(1).join(' ') : '',
              labelWidth: step * 7,
            }))}
            width={width - space.xxl}
            height={96}
            barWidth={Math.max(3, step - 3)}
            spacing={3}
            initialSpacing={0}
            endSpacing={0}
            noOfSections={Math.min(4, most)}
            maxValue={Math.ceil(most / Math.min(4, most)) * Math.min(4, most)}
            yAxisLabelWidth={space.xl}
            yAxisThickness={0}
            xAxisColor={colour.edge}
            rulesColor={colour.line}
            yAxisTextStyle={styles.axis}
            xAxisLabelTextStyle={styles.axis}
            disableScroll
            disablePress
          />
        </div>
      )}
      <Text kind="small" tone="soft">
        {busy.length === 0 ? words : `Next: ${words.split(', ').slice(0, 3).join(', ')}`}
      </Text>
    </View>
  );
}

const styles = StyleSheet.create({
  axis: { fontFamily: type.small.fontFamily, fontSize: 12, color: colour.soft, textAlign: 'left' },
});
