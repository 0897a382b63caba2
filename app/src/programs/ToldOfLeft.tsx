/** When a worker is told by mail of what their mail programs sent. */
import { setToldLeft, type ToldLeft } from '@under-lock/contract/submission';
import { Choice, Line, Panel, Result, Section, Text } from '@under-lock/ui';
import { mutate } from 'swr';
import { api } from '../api';
import { useAttempt } from '../shell/useAttempt';
import { PROGRAMS_KEY } from './usePrograms';

const OPTIONS: readonly { value: ToldLeft; label: string; detail: string }[] = [
  { value: 'always', label: 'Of each mail', detail: 'As soon as it has left: how, to whom, until when' },
  { value: 'changed', label: 'Of each that was locked', detail: 'Not of what left as it was written' },
  { value: 'daily', label: 'Once a day', detail: 'One mail in the afternoon, if any left' },
  { value: 'never', label: 'Not at all', detail: 'It all stands under Sent' },
];

export function ToldOfLeft({ when }: { when: ToldLeft }) {
  const { said, attempt } = useAttempt();
  const change = (next: ToldLeft): Promise<void> =>
    attempt(async () => {
      await api(setToldLeft, { body: { when: next } });
      await mutate(PROGRAMS_KEY);
    });
  return (
    <Section title="When they have sent something">
      <Panel>
        <Line last>
          <Choice label="Tell me by mail" options={OPTIONS} value={when} onChange={(next) => void change(next)} />
          <Text kind="small" tone="soft">
            What waits for you, and a password that you have to tell, you are told at once in any case.
          </Text>
          <Result said={said} />
        </Line>
      </Panel>
    </Section>
  );
}
