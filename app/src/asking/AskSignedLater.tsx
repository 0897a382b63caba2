import { dayInWords } from '@under-lock/core/when';
import { Button, Row, space, Stack, Text } from '@under-lock/ui';
import { later } from '@under-lock/ui/later';
import { type ComponentProps, useState } from 'react';
import { View } from 'react-native';
import { useNow, zone } from '../clock';
import { type AskSigned as Ask } from './AskSigned';
import { personAt } from '@under-lock/core/people/find';
import { usePeople } from '../people/person';

/** As high as the line or button that comes. */
const Place = () => <View style={{ minHeight: space.touch }} />;
const MeansOffered = later(async () => (await import('../people/MeansOffered')).MeansOffered, Place);
const AskSigned = later(async () => (await import('./AskSigned')).AskSigned);

/**
 * Asking for a signed message, and that it was asked. Its button stands there at once, so that nothing moves under a
 * finger; what is asked is fetched at its press.
 */
export function AskSignedLater({ person, ...about }: Omit<ComponentProps<typeof Ask>, 'onClose'>) {
  const now = useNow();
  const [open, setOpen] = useState(false);
  const { asked } = person;
  const who = person.name || person.address;
  return (
    <Stack>
      {asked === undefined ? null : (
        <Text kind="small" tone="soft">
          {`Asked for a signed message on ${dayInWords(new Date(asked.at), now, zone)}. The answer comes into Received.`}
        </Text>
      )}
      <Row>
        <Button
          kind="quiet"
          label={asked === undefined ? 'Ask for a signed message' : 'Ask again'}
          describe={`${asked === undefined ? 'Ask for a signed message' : 'Ask again for a signed message'}: ${who}`}
          onPress={() => setOpen(true)}
        />
      </Row>
      {open ? <AskSigned person={person} {...about} onClose={() => setOpen(false)} /> : null}
    </Stack>
  );
}

interface At {
  address: string;
  /** What is published for them is looked for without being asked to. */ lookAtOnce: boolean;
  /** What the letter calls them. */ name: string;
  forDraft: string;
}

/** What is published for whoever is at an address, and the same asking, as they are known now. */
export function AskSignedAt({ address, name, forDraft, lookAtOnce }: At) {
  const { data: people = [] } = usePeople();
  const person = personAt(people, address)?.value ?? { name, address };
  return (
    <>
      <MeansOffered person={person} atOnce={lookAtOnce} />
      <AskSignedLater person={person} people={people} forDraft={forDraft} />
    </>
  );
}
