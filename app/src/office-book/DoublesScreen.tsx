/** Who is in the office book twice: side by side with what is the same, made one or told apart. */
import { type Double, doublesIn, madeOne, type Same, toldApart } from '@under-lock/core/office-book/doubles';
import { type BookPerson, type Unchanged } from '@under-lock/core/office-book/person';
import { type Kept } from '@under-lock/core/vault/kept';
import { Button, Empty, Line, Loading, Panel, Result, Row, space, Stack, Text } from '@under-lock/ui';
import { StyleSheet, View } from 'react-native';
import { useOpenSession } from '../session/session';
import { BackToList } from '../shell/ListAndPage';
import { Screen } from '../shell/Screen';
import { offerUndo } from '../shell/Undo';
import { useAttempt } from '../shell/useAttempt';
import { keepInBook, putBackInBook, takeOutOfBook, useBookPeople } from './useBook';
import { bookFirm } from './found-in-book';
import { listed } from './words';

const sameWords: Record<Same, string> = {
  secondAddress: 'One has the other’s address for a second one',
  phone: 'The same phone',
  name: 'The same name at the same firm',
};

export function DoublesScreen() {
  const { data: people } = useBookPeople();
  const doubles = people === undefined ? undefined : doublesIn(people);
  return (
    <Screen title="Perhaps twice" back={<BackToList href="/people/office" label="Office book" />}>
      {doubles === undefined ? (
        <Loading what="Looking through the office book" />
      ) : doubles.length === 0 ? (
        <Empty title="Nobody twice">
          No two people in the office book have an address, a phone or a name in common.
        </Empty>
      ) : (
        doubles.map((one) => <Pair key={one.people.map(({ id }) => id).join()} double={one} />)
      )}
    </Screen>
  );
}

const KNOWN = ['phone', 'secondAddress', 'certificates', 'keys', 'password', 'note'] as const;

const Side = ({ person }: { person: BookPerson }) => {
  const known = listed(KNOWN.filter((field) => person[field] !== undefined));
  return (
    <View style={styles.side}>
      <Text kind="strong">{person.name || person.address}</Text>
      <Text style={styles.address}>{person.address}</Text>
      <Text kind="small" tone="soft">
        {bookFirm(person)}
      </Text>
      <Text kind="small" tone="soft">
        {known === '' ? 'Nothing else is known.' : `Known besides: ${known}.`}
      </Text>
    </View>
  );
};

function Pair({ double: { people, same } }: { double: Double }) {
  const { account } = useOpenSession();
  const { busy, said, attempt } = useAttempt();
  const by = { id: account.id, name: account.name };
  const change = ({ id, value }: Kept<BookPerson>, make: (before: BookPerson) => Unchanged) =>
    keepInBook(value.address, (before) => make(before ?? value), { by, what: 'changed' }, id);
  const merge = (stays: Kept<BookPerson>, goes: Kept<BookPerson>): Promise<void> =>
    attempt(async () => {
      await change(stays, (before) => madeOne(before, goes.value));
      await takeOutOfBook(goes.id);
      offerUndo(`${goes.value.address} belongs to ${stays.value.name || stays.value.address} now.`, async () => {
        // The pair is there to be pressed again only once both are as they were: what is done to it then stays.
        await change(stays, () => stays.value);
        await putBackInBook(goes.id, goes.value).catch(async (error: unknown) => {
          await change(stays, (before) => madeOne(before, goes.value));
          throw error;
        });
      });
    });
  const [one, other] = people;
  return (
    <Panel>
      <Line last>
        <Stack>
          <Text kind="small" tone="soft">{`▲ ${same.map((sign) => sameWords[sign]).join('. ')}`}</Text>
          <View style={styles.sides}>
            {people.map(({ id, value }) => (
              <Side key={id} person={value} />
            ))}
          </View>
          <Result said={said} />
          <Text kind="small" tone="soft">
            As one they are written to at one address; the other becomes their second. Certificates and keys stay with
            the address they are for.
          </Text>
          <Row>
            <Button label={`Write to ${one.value.address}`} busy={busy} onPress={() => void merge(one, other)} />
            <Button label={`Write to ${other.value.address}`} busy={busy} onPress={() => void merge(other, one)} />
            <Button
              kind="quiet"
              label="They are two people"
              describe={`They are two people: ${one.value.address} and ${other.value.address}`}
              busy={busy}
              onPress={() => void attempt(() => change(one, (before) => toldApart(before, other.value)))}
            />
          </Row>
        </Stack>
      </Line>
    </Panel>
  );
}

const styles = StyleSheet.create({
  sides: { flexDirection: 'row', flexWrap: 'wrap', gap: space.l },
  side: { flexGrow: 1, flexShrink: 1, flexBasis: 240, minWidth: 0, gap: space.xs },
  address: { overflowWrap: 'anywhere' } as object,
});
