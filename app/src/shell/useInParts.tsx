/** Lists of hundreds and thousands: as many lines as somebody looks through, the rest by a press. */
import { Button, Text } from '@under-lock/ui';
import { type ReactNode, useState } from 'react';
import { figure } from '../counted';
import { ListRow } from './ListScreen';

const PART = 50;

/**
 * @param of What the list is of: a filter, an order. Another one begins with its first part again.
 * @returns The part that is shown, and what stands below it.
 */
export function useInParts<T>(
  items: readonly T[] | undefined,
  of: string,
): { part: readonly T[] | undefined; foot: ReactNode } {
  const [shown, setShown] = useState({ of, count: PART });
  const count = shown.of === of ? shown.count : PART;
  if (items === undefined || items.length <= count) return { part: items, foot: null };
  const next = Math.min(PART, items.length - count);
  return {
    part: items.slice(0, count),
    foot: (
      <ListRow>
        <Text kind="small" tone="soft">{`${figure(count)} of ${figure(items.length)} are shown.`}</Text>
        <Button label={`Show ${next} more`} onPress={() => setShown({ of, count: count + PART })} />
      </ListRow>
    ),
  };
}
