/** A part of a form: its title, and its fields one under the other on a sheet. */
import { Line, Panel, Section, Stack } from '@under-lock/ui';
import { type ReactNode } from 'react';

export const InPanel = ({ title, children }: { title: string; children: ReactNode }) => (
  <Section title={title}>
    <Panel>
      <Line last>
        <Stack>{children}</Stack>
      </Line>
    </Panel>
  </Section>
);
