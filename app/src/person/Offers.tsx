/** Certificates or keys that were found for a person and are not taken yet, each with what is judged of it. */
import { Banner, Button, Line, Panel, Row, Stack, StateMark } from '@under-lock/ui';
import { type ReactNode } from 'react';

interface Props<T> {
  offered: readonly T[];
  /** Said above them where one is another than the one that is kept. */
  warning: string | undefined;
  busy: boolean;
  idOf: (one: T) => string;
  facts: (one: T) => ReactNode;
  /** What taking it is called, and of what; nothing for the very one that is kept. */
  take: (one: T) => { label: string; of: string } | undefined;
  onTake: (one: T) => void;
}

export function Offers<T>({ offered, warning, busy, idOf, facts, take, onTake }: Props<T>) {
  if (offered.length === 0) return null;
  return (
    <Stack>
      {warning === undefined ? null : <Banner tone="amber">{warning}</Banner>}
      <Panel>
        {offered.map((one, index) => {
          const taking = take(one);
          return (
            <Line key={idOf(one)} last={index === offered.length - 1}>
              {facts(one)}
              {taking === undefined ? (
                <StateMark tone="over" word="the one you have" />
              ) : (
                <Row>
                  <Button
                    label={taking.label}
                    describe={`${taking.label}: ${taking.of}`}
                    busy={busy}
                    onPress={() => onTake(one)}
                  />
                </Row>
              )}
            </Line>
          );
        })}
      </Panel>
    </Stack>
  );
}
