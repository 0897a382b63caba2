/** Filters that are typed: with whom, and between which days. */
import { Field, Row, space } from '@under-lock/ui';
import { Chip } from '@under-lock/ui/chip';
import { useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { useEverybodyKnown } from '../office-book/useEverybodyKnown';
import { type Asked, isDay } from './asked';
import { useAsked } from './useAsked';
import { offeredFor } from './whom';

function Whom({ ask }: { ask: (change: (asked: Asked) => Asked) => void }) {
  const [typed, setTyped] = useState('');
  const offered = offeredFor(typed, useEverybodyKnown());
  const take = (who: string): void => {
    setTyped('');
    ask((now) => ({ ...now, who }));
  };
  const [first] = offered;
  return (
    <View>
      <Field
        label="With"
        hint="A name, an address, or a firm’s domain"
        value={typed}
        onChangeText={setTyped}
        maxLength={254}
        autoCapitalize="none"
        autoCorrect={false}
        autoComplete="off"
        onSubmitEditing={() => (first === undefined ? undefined : take(first.who))}
      />
      {offered.length === 0 ? null : (
        <View role="group" aria-label="With whom">
          <Row>
            {offered.map(({ label, who }) => (
              <Chip key={who} label={label} describe={`${label}, ${who}`} on={false} onPress={() => take(who)} />
            ))}
          </Row>
        </View>
      )}
    </View>
  );
}

interface DayProps {
  label: 'From' | 'Until';
  value?: string | undefined;
  onChange: (day: string | undefined) => void;
}

/** Asked for once it is a whole day: a year is typed digit by digit. */
function Day({ label, value = '', onChange }: DayProps) {
  const [typed, setTyped] = useState(value);
  useEffect(() => setTyped(value), [value]);
  return (
    <View style={styles.day}>
      <Field
        label={label}
        inputType="date"
        value={typed}
        onChangeText={(text) => {
          setTyped(text);
          if (text === '' || isDay(text)) onChange(text || undefined);
        }}
      />
    </View>
  );
}

export function MoreFilters() {
  const { asked, ask } = useAsked();
  return (
    <View style={styles.more}>
      <Whom ask={ask} />
      <View style={styles.days}>
        <Day label="From" value={asked.from} onChange={(from) => ask((now) => ({ ...now, from }))} />
        <Day label="Until" value={asked.until} onChange={(until) => ask((now) => ({ ...now, until }))} />
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  more: { gap: space.m, paddingTop: space.s },
  days: { flexDirection: 'row', gap: space.m },
  day: { flex: 1, minWidth: 0 },
});
