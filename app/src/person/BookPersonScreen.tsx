/** A person of the office book: what the office knows of them, how they can be reached, who changed what when. */
import { type BookPerson } from '@under-lock/core/office-book/person';
import { personAt } from '@under-lock/core/people/find';
import { type Kept } from '@under-lock/core/vault/kept';
import { dayInWords, momentInWords } from '@under-lock/core/when';
import { Banner, Button, Fold, Line, Loading, Panel, Result, Row, Section, Stack, Text } from '@under-lock/ui';
import { Columns } from '@under-lock/ui/columns';
import { router, useLocalSearchParams } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { useNow, zone } from '../clock';
import { usePeople } from '../people/person';
import { Chosen } from '../office-book/Chosen';
import { languageWords } from '../people/words';
import { MeansOf } from './PersonMeans';
import { problemWords } from '../problem-words';
import { useOpenSession } from '../session/session';
import { CopyButton } from '../shell/CopyButton';
import { fromHere } from '../shell/from-here';
import { BackToList } from '../shell/ListAndPage';
import { Screen } from '../shell/Screen';
import { offerUndo } from '../shell/Undo';
import { BookForm } from './BookForm';
import { FirmLink } from './FirmLink';
import { useAttempt } from '../shell/useAttempt';
import { isIn, keepInBook, putBackInBook, takeOutOfBook, useBookPeople, useBookStand } from '../office-book/useBook';
import { listed } from '../office-book/words';

const back = <BackToList href="/people/office" label="Office book" />;

export function BookPersonScreen() {
  const { id } = useLocalSearchParams<{ id: string }>();
  const { data: stand } = useBookStand();
  const { data: people, error } = useBookPeople();
  if (people === undefined)
    return (
      <Screen title="Person" back={back}>
        {error !== undefined ? (
          <Banner tone="brick">{problemWords(error)}</Banner>
        ) : stand !== undefined && !isIn(stand) ? (
          <Text>You are not in the office book yet. A colleague who is in lets you in.</Text>
        ) : (
          <Loading what="Opening the office book" />
        )}
      </Screen>
    );
  if (id === 'new')
    return (
      <Screen title="New in the office book" back={back}>
        <Panel>
          <Line last>
            <BookForm known={undefined} people={people} onKept={(kept, goOn) => goOn(`/people/office/${kept}`)} />
          </Line>
        </Panel>
      </Screen>
    );
  const known = people.find((one) => one.id === id);
  return known === undefined ? (
    <Screen title="Not here" back={back}>
      <Text>This person is not in the office book any more.</Text>
    </Screen>
  ) : (
    <BookPage key={id} known={known} people={people} />
  );
}

const aboutIn = ({ name, address, firm, phone, secondAddress, language }: BookPerson): string[] => [
  ...(firm === undefined ? [] : [firm]),
  ...(name === '' ? [] : [address]),
  ...(phone === undefined ? [] : [phone]),
  ...(secondAddress === undefined ? [] : [secondAddress]),
  ...(language === undefined ? [] : [`notices in ${languageWords[language]}`]),
];

function BookPage({ known, people }: { known: Kept<BookPerson>; people: Kept<BookPerson>[] }) {
  const { account } = useOpenSession();
  const [kept, setKept] = useState(0);
  const { id, value: person } = known;
  const name = person.name || person.address;
  const by = { id: account.id, name: account.name };
  return (
    <Screen title={name} back={back} broad aside={<WriteTo known={known} />}>
      <Row>
        <Text kind="small" tone="soft" selectable>
          {aboutIn(person).join(' · ')}
        </Text>
        <CopyButton value={person.address} what="the address" />
        <FirmLink person={person} />
      </Row>
      {person.note === undefined ? null : <Text selectable>{person.note}</Text>}
      <Columns room="even">
        <MeansOf
          person={person}
          onChange={async (next) =>
            void (await keepInBook(
              person.address,
              (before) => ({ ...(before ?? person), ...next }),
              { by, what: 'changed' },
              id,
            ))
          }
          files={<AgreedPassword person={person} />}
        />
        <>
          <Chosen id={id} person={person} />
          <Section title="Details">
            <Fold
              key={kept}
              label="Change the details"
              head={<Text kind="strong">Name, address, phone, language, firm, note</Text>}
            >
              <BookForm known={known} people={people} onKept={() => setKept(kept + 1)} />
            </Fold>
          </Section>
          <Changes person={person} />
          <TakeOut known={known} />
        </>
      </Columns>
    </Screen>
  );
}

function WriteTo({ known: { id, value: person } }: { known: Kept<BookPerson> }) {
  const { data: people = [] } = usePeople();
  const own = personAt(people, person.address);
  return (
    <Button
      label="Write"
      describe={`Write to ${person.name || person.address}`}
      onPress={() =>
        router.push(
          `/write/${crypto.randomUUID()}?fresh=1&${own === undefined ? `inBook=${id}` : `person=${own.id}`}` as never,
        )
      }
    />
  );
}

function AgreedPassword({ person: { password, name, address } }: { person: BookPerson }) {
  const now = useNow();
  const [shown, setShown] = useState(false);
  if (password === undefined) return null;
  return (
    <Fold label="Agreed password for locked files" head={<Text kind="strong">Agreed password for locked files</Text>}>
      <Stack>
        <Text kind="small" tone="soft">{`Since ${dayInWords(new Date(password.since), now, zone)}.`}</Text>
        {shown ? (
          <Text kind="mono" selectable>
            {password.password}
          </Text>
        ) : null}
        <Row>
          <Button
            kind="quiet"
            label={shown ? 'Hide it' : 'Show it'}
            describe={`${shown ? 'Hide it' : 'Show it'}: the agreed password of ${name || address}`}
            onPress={() => setShown(!shown)}
          />
        </Row>
      </Stack>
    </Fold>
  );
}

function Changes({ person: { changes } }: { person: BookPerson }) {
  const now = useNow();
  return (
    <Section title="Who changed what">
      <View role="list" aria-label="Who changed what">
        {changes.map(({ at, by, what, fields }, index) => (
          <View key={`${at} ${index}`} role="listitem">
            <Text kind="small">
              <Text kind="small" tone="soft">{`${momentInWords(new Date(at), now, zone)}: `}</Text>
              {what === 'chosen'
                ? `They chose in the reading room: ${listed(fields as never)}.`
                : `${by.name} ${what} ${listed(fields as never)}.`}
            </Text>
          </View>
        ))}
      </View>
    </Section>
  );
}

/** At once, for everybody; it can be had back. */
function TakeOut({ known: { id, value } }: { known: Kept<BookPerson> }) {
  const { busy, said, attempt } = useAttempt();
  return (
    <Stack>
      <Row>
        <Button
          kind="stop"
          label="Take out of the office book"
          busy={busy}
          onPress={() => {
            const goOn = fromHere();
            void attempt(async () => {
              await takeOutOfBook(id);
              offerUndo(`${value.name || value.address} is out of the office book.`, () => putBackInBook(id, value));
              goOn('/people/office');
            });
          }}
        />
      </Row>
      <Result said={said} />
    </Stack>
  );
}
