/** What a search is narrowed by: the filters set as chips to be taken away, all others behind one press. */
import { type State, STATES } from '@under-lock/contract/search';
import { LOCKS } from '@under-lock/core/locks/index';
import { Button, Row } from '@under-lock/ui';
import { Chip } from '@under-lock/ui/chip';
import { StyleSheet, View } from 'react-native';
import { lockWords } from '../locks/lock-words';
import { useNameOf } from '../passwords/useNameOf';
import { dayInWords } from '@under-lock/core/when';
import { useNow, zone } from '../clock';
import { toggled } from '../toggled';
import { MoreFilters } from './MoreFilters';
import { type Asked, SIDES, type Time, TIMES } from './asked';
import { useAsked } from './useAsked';

const sideWords = { sent: 'Sent', received: 'Received' } as const;
const stateWords: Record<State, string> = { open: 'Open now', unopened: 'Not opened', bounced: 'Came back' };
const timeWords: Record<Time, string> = { week: 'Last 7 days', month: 'Last month', year: 'Last year' };

interface Filter {
  label: string;
  on: boolean;
  /** What is asked once it is pressed. */
  change: (asked: Asked) => Asked;
}

/** Every filter there is. */
function filtersOf(
  { side, states, closing, locks, who, time, from, until }: Asked,
  { nameOf, dayOf }: { nameOf: (who: string) => string; dayOf: (day: string) => string },
): Filter[] {
  return [
    ...SIDES.map((each) => ({
      label: sideWords[each],
      on: side === each,
      change: (now: Asked) => ({ ...now, side: now.side === each ? undefined : each }),
    })),
    ...STATES.map((each) => ({
      label: stateWords[each],
      on: states.includes(each),
      change: (now: Asked) => ({ ...now, states: toggled(now.states, each) }),
    })),
    { label: 'Closing this week', on: closing, change: (now) => ({ ...now, closing: !now.closing }) },
    ...LOCKS.map((each) => ({
      label: lockWords[each],
      on: locks.includes(each),
      change: (now: Asked) => ({ ...now, locks: toggled(now.locks, each) }),
    })),
    ...TIMES.map((each) => ({
      label: timeWords[each],
      on: time === each,
      change: (now: Asked) => ({ ...now, time: now.time === each ? undefined : each }),
    })),
    ...(who === undefined
      ? []
      : [{ label: nameOf(who), on: true, change: (now: Asked) => ({ ...now, who: undefined }) }]),
    ...(from === undefined
      ? []
      : [{ label: `From ${dayOf(from)}`, on: true, change: (now: Asked) => ({ ...now, from: undefined }) }]),
    ...(until === undefined
      ? []
      : [{ label: `Until ${dayOf(until)}`, on: true, change: (now: Asked) => ({ ...now, until: undefined }) }]),
  ];
}

/** The filters that are set, or all of them. */
export function Filters({ all }: { all: boolean }) {
  const { asked, ask } = useAsked();
  const nameAt = useNameOf();
  const now = useNow();
  const filters = filtersOf(asked, {
    nameOf: (who) => (who.startsWith('@') ? `Everybody at ${who.slice(1)}` : nameAt(who)),
    // At noon it is this day in every zone that a browser may have.
    dayOf: (day) => dayInWords(new Date(`${day}T12:00`), now, zone),
  });
  const shown = all ? filters : filters.filter(({ on }) => on);
  if (shown.length === 0) return null;
  return (
    <View role="group" aria-label="Filters" style={styles.group}>
      <Row>
        {shown.map(({ label, on, change }) => (
          <Chip
            key={label}
            label={on ? `${label} ✕` : label}
            describe={on ? `${label} ✕, take this filter away` : label}
            on={on}
            onPress={() => ask(change)}
          />
        ))}
      </Row>
      {all ? <MoreFilters /> : null}
    </View>
  );
}

const styles = StyleSheet.create({ group: { flexShrink: 1 } });

export const FilterButton = ({ open, onPress }: { open: boolean; onPress: () => void }) => (
  <Button
    kind="quiet"
    label={open ? 'Fewer' : 'Filter'}
    describe={open ? 'Fewer filters' : 'Filter'}
    expanded={open}
    onPress={onPress}
  />
);
