/**
 * A person: who they are, how they can be reached, what they can still read, what was exchanged; then their details, to
 * be changed.
 */
import { runsOutSoon } from '@under-lock/core/certificate/reminder';
import { type Person } from '@under-lock/core/people/kept-person';
import { type Kept } from '@under-lock/core/vault/kept';
import { dayInWords } from '@under-lock/core/when';
import { Banner, Button, Fold, Line, Loading, Panel, Section, Text, Row } from '@under-lock/ui';
import { Columns } from '@under-lock/ui/columns';
import { router, useLocalSearchParams } from 'expo-router';
import { useState } from 'react';
import { useNow, zone } from '../clock';
import { problemWords } from '../problem-words';
import { CopyButton } from '../shell/CopyButton';
import { BackToList } from '../shell/ListAndPage';
import { Screen } from '../shell/Screen';
import { currentCertificate } from '../people/certificates';
import { currentKey } from '../people/keys';
import { Exchanged } from './Exchanged';
import { FirmLink } from './FirmLink';
import { usePeople } from '../people/person';
import { InOfficeBook } from '../office-book/InOfficeBook';
import { PersonForm } from './PersonForm';
import { PersonMeans } from './PersonMeans';
import { StillRead } from './StillRead';
import { languageWords } from '../people/words';

const back = <BackToList href="/people" label="People" />;

export function PersonScreen() {
  const { id } = useLocalSearchParams<{ id: string }>();
  const { data: people, error } = usePeople();
  if (people === undefined)
    return (
      <Screen title="Person" back={back}>
        {error === undefined ? (
          <Loading what="Opening your people" />
        ) : (
          <Banner tone="brick">{problemWords(error)}</Banner>
        )}
      </Screen>
    );
  if (id === 'new') return <NewPerson people={people} />;
  const known = people.find((one) => one.id === id);
  if (known === undefined)
    return (
      <Screen title="Not here" back={back}>
        <Text>This person is not in your vault any more.</Text>
      </Screen>
    );
  return <PersonPage key={id} known={known} people={people} />;
}

const NewPerson = ({ people }: { people: Kept<Person>[] }) => (
  <Screen title="New person" back={back}>
    <Panel>
      <Line last>
        <PersonForm known={undefined} people={people} onKept={(id, goOn) => goOn(`/people/${id}`)} />
      </Line>
    </Panel>
  </Screen>
);

function PersonPage({ known, people }: { known: Kept<Person>; people: Kept<Person>[] }) {
  const person = known.value;
  const name = person.name || person.address;
  const now = useNow();
  // Kept anew: the fold is closed, and begins with what is now known.
  const [kept, setKept] = useState(0);
  const about = [
    ...(person.name === '' ? [] : [person.address]),
    ...(person.phone === undefined ? [] : [person.phone]),
    ...(person.secondAddress === undefined ? [] : [person.secondAddress]),
    ...(person.language === undefined ? [] : [`notices in ${languageWords[person.language]}`]),
  ];
  return (
    <Screen
      title={name}
      back={back}
      broad
      aside={
        <Button
          label="Write"
          describe={`Write to ${name}`}
          onPress={() => router.push(`/write/${crypto.randomUUID()}?fresh=1&person=${known.id}` as never)}
        />
      }
    >
      <Row>
        {about.length === 0 ? null : (
          <Text kind="small" tone="soft" selectable>
            {about.join(' · ')}
          </Text>
        )}
        <CopyButton value={person.address} what="the address" />
        <FirmLink person={person} />
      </Row>
      <Warnings person={person} />
      <Columns room="even">
        <PersonMeans known={known} people={people} />
        <>
          <StillRead name={name} address={person.address} />
          <Exchanged address={person.address} now={now} />
          <InOfficeBook own={person} />
          <Section title="Details">
            <Fold
              key={kept}
              label="Change the details"
              head={<Text kind="strong">Name, address, phone, language</Text>}
            >
              <PersonForm known={known} people={people} onKept={() => setKept(kept + 1)} />
            </Fold>
          </Section>
        </>
      </Columns>
    </Screen>
  );
}

/** What one has to know before one writes to them. */
function Warnings({ person }: { person: Person }) {
  const now = useNow();
  const ends = [
    ['certificate', currentCertificate(person)?.notAfter] as const,
    ['OpenPGP key', currentKey(person)?.notAfter] as const,
  ].flatMap(([what, notAfter]) => (notAfter === undefined ? [] : [{ what, at: new Date(notAfter) }]));
  const soon = ends.filter(({ at }) => runsOutSoon({ notAfter: at }, now));
  const over = ends.filter(({ at }) => at < now);
  if (soon.length + over.length === 0) return null;
  return (
    <Banner tone="amber">
      {[
        ...over.map(
          ({ what, at }) => `Their ${what} ran out on ${dayInWords(at, now, zone)}: they get no copies by it.`,
        ),
        ...soon.map(({ what, at }) => `Their ${what} runs out on ${dayInWords(at, now, zone)}. Ask for the new one.`),
      ].join(' ')}
    </Banner>
  );
}
