/** Whether the domain in the sender's address says that it sent a mail, and behind it what that rests on. */
import { type Origin, originDetails, originSentence } from '@under-lock/core/incoming/origin';
import { Fold, Text } from '@under-lock/ui';

export function CameFrom({ origin }: { origin: Origin }) {
  // What is to be seen first stands above already.
  const head = origin.is === 'vouched' ? originSentence(origin) : 'Where it came from';
  return (
    <Fold label={`Where it came from: ${originSentence(origin)}`} head={<Text kind="small">{head}</Text>}>
      {originDetails(origin).map((line) => (
        <Text key={line} kind="mono" tone="soft">
          {line}
        </Text>
      ))}
    </Fold>
  );
}
