/** What came in last; what is unread first of all. */
import { listedInWords } from '@under-lock/core/when';
import { Empty, Panel, Section, StateMark } from '@under-lock/ui';
import { zone } from '../clock';
import { isWaiting, receivedMark } from '../received/received-mark';
import { type InReceived, useReceivedList } from '../received/useReceived';
import { who } from '../handling/grant-words';
import { ListLine } from '../shell/ListLine';
import { WayLink } from '../shell/WayLink';

const SHOWN = 4;
function lineOf(message: InReceived): { href: string; subject: string; from: string } {
  if (message.kind === 'held')
    return {
      href: `/mail/received/${message.grantId}`,
      subject: message.subject ?? (message.state === 'held' ? '(does not open with your key)' : 'No longer readable'),
      from: who(message.from),
    };
  return {
    href: `/mail/in/${message.id}`,
    subject:
      message.summary === undefined ? '(does not open with your key)' : message.summary.subject || '(no subject)',
    from: message.summary === undefined ? 'somebody' : who(message.summary.from),
  };
}

export function CameIn({ unread, now }: { unread: number; now: Date }) {
  const { data } = useReceivedList();
  const messages = data?.[0]?.messages ?? [];
  const shown = [...messages].sort((a, b) => Number(isWaiting(b)) - Number(isWaiting(a))).slice(0, SHOWN);
  return (
    <Section
      title={unread === 0 ? 'Came in' : `Came in: ${unread} unread`}
      // Above the lines: what comes in moves it no more.
      aside={
        <WayLink
          href="/mail/received"
          label={unread === 0 ? 'All that was received' : 'Read what was received'}
          forward
        />
      }
    >
      <Panel>
        {shown.length === 0 ? (
          <Empty title="Nothing yet">What colleagues and others send you under lock shows here.</Empty>
        ) : null}
        {shown.map((message) => {
          const { href, subject, from } = lineOf(message);
          const mark = receivedMark(message);
          return (
            <ListLine
              key={href}
              href={href}
              label={`${subject}, from ${from}, ${(mark?.word ?? 'Read').toLowerCase()}`}
              title={subject}
              quiet={!isWaiting(message)}
              aside={listedInWords(message.arrivedAt, now, zone)}
              about={from}
              mark={mark === undefined ? null : <StateMark {...mark} />}
              last
            />
          );
        })}
      </Panel>
    </Section>
  );
}
