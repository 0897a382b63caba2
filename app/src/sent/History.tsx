/** What happened to a message, the newest first, a page at a time. */
import { listEvents, type MessageEvent } from '@under-lock/contract/outgoing';
import { momentInWords } from '@under-lock/core/when';
import { Button, Line, Panel, Result, Row, Section, Text } from '@under-lock/ui';
import { useState } from 'react';
import { api } from '../api';
import { zone } from '../clock';
import { useAttempt } from '../shell/useAttempt';
import { eventWords } from '../handling/grant-words';

interface Props {
  messageId: string;
  events: readonly MessageEvent[];
  earlier: string | undefined;
  /** Of whom it happened to, or who did it. */
  nameOf: (event: MessageEvent) => string;
  now: Date;
}

export function History({ messageId, events, earlier, nameOf, now }: Props) {
  const [older, setOlder] = useState<{ events: readonly MessageEvent[]; earlier: string | undefined } | undefined>();
  const { busy, said, attempt } = useAttempt();
  const next = older === undefined ? earlier : older.earlier;
  const shown = [...events, ...(older?.events ?? [])];
  const more = (before: string): Promise<void> =>
    attempt(async () => {
      const page = await api(listEvents, { params: { id: messageId }, query: { before } });
      setOlder({ events: [...(older?.events ?? []), ...page.events], earlier: page.earlier });
    });
  // What happened since has moved the pages: what stands in both is shown once.
  const once = [...new Map(shown.map((event) => [event.id, event])).values()];
  return (
    <Section title="What happened">
      <Panel>
        <Line last>
          {once.map((event) => (
            <Text key={event.id} kind="small">
              <Text kind="small" tone="soft">{`${momentInWords(event.at, now, zone)}  `}</Text>
              {eventWords(event, nameOf(event), now)}
            </Text>
          ))}
        </Line>
      </Panel>
      <Result said={said} />
      {next === undefined ? null : (
        <Row>
          <Button label="Show earlier" busy={busy} onPress={() => void more(next)} />
        </Row>
      )}
    </Section>
  );
}
