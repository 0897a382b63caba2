/** What the pages of the outside world share. */
import { Banner } from '@under-lock/ui';
import { type ReactNode } from 'react';
import { StyleSheet } from 'react-native';
import { Screen } from '../shell/Screen';

export const silent = (
  <Banner tone="amber">
    The outside world does not answer. It runs beside the office in the demo; a real office has real mail hosts and
    phones instead.
  </Banner>
);

export function Page({ title, back, children }: { title: string; back: ReactNode; children: ReactNode }) {
  return (
    <Screen title={title} back={back}>
      {children}
    </Screen>
  );
}

export const styles = StyleSheet.create({
  between: { justifyContent: 'space-between', alignItems: 'flex-start', flexWrap: 'nowrap' },
  wrap: { overflowWrap: 'anywhere', flexShrink: 1 } as object,
});
