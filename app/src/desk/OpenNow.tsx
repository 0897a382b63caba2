/** What can still be read by how many: as it falls over the next month, and message by message. */
import { distanceInWords, momentInWords } from '@under-lock/core/when';
import { Button, Empty, Line, Loading, Panel, Section, Text } from '@under-lock/ui';
import { LockShape } from '@under-lock/ui/lock-shape';
import { router } from 'expo-router';
import { later } from '@under-lock/ui/later';
import { zone } from '../clock';
import { ListLine } from '../shell/ListLine';
import { WayLink } from '../shell/WayLink';
import { type OpenDesk } from './useDesk';

// The chart library is half as large as everything else on this page: it comes after the words.
const OpenCurve = later(
  async () => (await import('./OpenCurve')).OpenCurve,
  () => <Loading what="Drawing" />,
);

function readersWords({ readers, opened, names }: OpenDesk['open'][number]): string {
  if (readers === 1) return `${names[0]}, ${opened === 1 ? 'opened' : 'not opened yet'}`;
  return `${opened} of ${readers} opened`;
}

export function OpenNow({ desk, now }: { desk: OpenDesk; now: Date }) {
  if (desk.open.length === 0)
    return (
      <Section title="Still readable">
        <Panel>
          <Empty
            title="Nobody can read anything"
            action={<Button kind="main" label="Write a message" onPress={() => router.push('/write')} />}
          >
            What you send shows here until it closes.
          </Empty>
        </Panel>
      </Section>
    );
  const more = desk.openTotal - desk.open.length;
  return (
    <Section
      title={`Still readable: ${desk.accessTotal} ${desk.accessTotal === 1 ? 'access' : 'accesses'}`}
      aside={<WayLink href="/readers" label="By person and firm" forward />}
    >
      <Panel>
        <Line last>
          <OpenCurve total={desk.accessTotal} perDay={desk.closingPerDay} now={now} />
        </Line>
      </Panel>
      <Panel>
        {desk.open.map((one, index) => (
          <ListLine
            key={one.messageId}
            href={`/mail/${one.messageId}`}
            label={`${desk.subject(one.messageId)}, closes ${momentInWords(one.closesAt, now, zone)}`}
            title={desk.subject(one.messageId)}
            shapes={<LockShape shape="arch" state={one.opened > 0 ? 'filled' : 'outline'} />}
            about={readersWords(one)}
            left={{ from: one.sentAt, until: one.closesAt, now, words: distanceInWords(one.closesAt, now, zone) }}
            last={index === desk.open.length - 1 && more <= 0}
          />
        ))}
        {more > 0 ? (
          <Line last>
            <Text kind="small" tone="soft">{`and ${more} more messages, closing later`}</Text>
          </Line>
        ) : null}
      </Panel>
    </Section>
  );
}
