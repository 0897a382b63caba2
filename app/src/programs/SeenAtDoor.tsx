/** What the door saw of somebody's mail programs, as it happens: whether what was typed into one is right. */
import { type Device, type SeenAtDoor as Seen } from '@under-lock/contract/submission';
import { momentInWords, sizeInWords } from '@under-lock/core/when';
import { Line, Panel, Section, StateMark, Text } from '@under-lock/ui';
import { View } from 'react-native';
import { useNow, zone } from '../clock';
import { WayLink } from '../shell/WayLink';

const marks = {
  taken: { tone: 'wants', word: 'being made ready' },
  waits: { tone: 'wants', word: 'waits among your drafts' },
  done: { tone: 'done', word: 'has left' },
} as const;

/** The latest of them. */
function signInsOf(devices: readonly Device[]): { name: string; at: Date }[] {
  return devices
    .flatMap(({ name, lastUsedAt }) => (lastUsedAt === undefined ? [] : [{ name, at: lastUsedAt }]))
    .sort((a, b) => b.at.getTime() - a.at.getTime())
    .slice(0, 1);
}

interface Props {
  seen: readonly Seen[];
  refusedAt: Date | undefined;
  devices: readonly Device[];
}

export function SeenAtDoor({ seen, refusedAt, devices }: Props) {
  const now = useNow();
  const at = (date: Date): string => momentInWords(date, now, zone);
  const signIns = signInsOf(devices);
  const isQuiet = seen.length === 0 && signIns.length === 0 && refusedAt === undefined;
  return (
    <Section title="See whether it works">
      <Text kind="small" tone="soft">
        Write a mail in your program, to yourself or to a colleague, and send it. What the door sees of it stands here
        at once.
      </Text>
      <Panel>
        <View role="log" aria-label="What the door saw">
          {isQuiet ? (
            <Line last>
              <Text tone="soft">Nothing yet.</Text>
            </Line>
          ) : null}
          {refusedAt === undefined ? null : (
            <Line last={false}>
              <Text>{`A wrong password was typed with your address, ${at(refusedAt)}.`}</Text>
              <StateMark tone="stopped" word="not let in" />
            </Line>
          )}
          {signIns.map(({ name, at: when }) => (
            <Line key={name} last={seen.length === 0}>
              <Text>{`${name} signed in, ${at(when)}.`}</Text>
              <StateMark tone="done" word="let in" />
            </Line>
          ))}
          {seen.map(({ id, at: when, by, size, state }, index) => (
            <Line key={id} last={index === seen.length - 1}>
              <Text>{`${by} handed in a mail of ${sizeInWords(size)}, ${at(when)}.`}</Text>
              <StateMark {...marks[state]} />
              {state === 'taken' ? null : (
                <WayLink
                  forward
                  href={state === 'done' ? `/mail/${id}` : `/write/handed/${id}`}
                  label={state === 'done' ? 'What became of it' : 'What it waits for'}
                />
              )}
            </Line>
          ))}
        </View>
      </Panel>
    </Section>
  );
}
