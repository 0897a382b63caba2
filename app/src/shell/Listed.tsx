/** A panel of lines in each of its states: being fetched, out of reach, empty, filled. */
import { Banner, Line, Loading, Panel } from '@under-lock/ui';
import { type ReactNode } from 'react';
import { View } from 'react-native';
import { problemWords } from '../problem-words';
import { useIsBeside } from './ListAndPage';

interface Props<T> {
  /** Undefined until they are here. */
  items: readonly T[] | undefined;
  /** Why they could not be had, or not anew: what is here already stays in sight. */
  error: unknown;
  fetching: string;
  empty: ReactNode;
  /** One of them, under a key of its own. */
  children: (item: T, last: boolean) => ReactNode;
}

/** What lines lie on: a column is paper already. */
export const Sheet = ({ children }: { children: ReactNode }) =>
  useIsBeside() ? <View>{children}</View> : <Panel>{children}</Panel>;

/** Lines that are there. */
export const Lines = <T,>({ items, children }: { items: readonly T[]; children: Props<T>['children'] }) => (
  <Sheet>{items.map((item, index) => children(item, index === items.length - 1))}</Sheet>
);

export const Listed = <T,>({ items, error, fetching, empty, children }: Props<T>) => (
  <Sheet>
    {error === undefined ? null : (
      <Line last={items === undefined}>
        <Banner tone="brick">{problemWords(error)}</Banner>
      </Line>
    )}
    {items === undefined ? (
      error === undefined ? (
        <Loading what={fetching} />
      ) : null
    ) : items.length === 0 ? (
      empty
    ) : (
      items.map((item, index) => children(item, index === items.length - 1))
    )}
  </Sheet>
);
