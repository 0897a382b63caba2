/** People: the persons written to, each with the locks they can be reached by. */
import { type Person } from '@under-lock/core/people/kept-person';
import { addressKey } from '@under-lock/core/people/address';
import { type Kept } from '@under-lock/core/vault/kept';
import { Button, Empty, Field, Row } from '@under-lock/ui';
import { Chip } from '@under-lock/ui/chip';
import { router, usePathname } from 'expo-router';
import { BookList } from '../office-book/BookList';
import { PeopleShelves } from '../office-book/PeopleShelves';
import { useState } from 'react';
import { View } from 'react-native';
import { useNow, zone } from '../clock';
import { listedInWords } from '@under-lock/core/when';
import { usePasswords } from '../passwords/usePasswords';
import { Listed } from '../shell/Listed';
import { ListAndPage, ListIndex, NothingChosen } from '../shell/ListAndPage';
import { ListRow, ListScreen, ListSection } from '../shell/ListScreen';
import { useInParts } from '../shell/useInParts';
import { PersonLine } from '../people/PersonLine';
import { meansOf } from '../people/means';
import { usePeople } from '../people/person';
import { firmOf, type PeopleOrder, sortedPeople } from '../people/sorted-people';
import { useWrittenTo } from '../people/useWrittenTo';

const orders: Record<PeopleOrder, string> = { name: 'By name', firm: 'By firm', written: 'By last written' };
const FEW = 6;

function PeopleList() {
  const { data: people, error } = usePeople();
  const { data: book = [] } = usePasswords();
  const writtenTo = useWrittenTo();
  const now = useNow();
  const [search, setSearch] = useState('');
  const [order, setOrder] = useState<PeopleOrder>('name');
  const wanted = search.trim().toLowerCase();
  const found = people?.filter(({ value }) => `${value.name} ${value.address}`.toLowerCase().includes(wanted));
  const shown = found === undefined ? undefined : sortedPeople(found, order, writtenTo);
  const empty = wanted === '' ? <NobodyYet /> : <Empty title="No match">{`Nobody here is called “${search}”.`}</Empty>;
  const lastWritten = (address: string): string | undefined => {
    const at = writtenTo.get(addressKey(address));
    return at === undefined ? undefined : listedInWords(at, now, zone);
  };
  const { part, foot } = useInParts(shown, `${order}\n${wanted}`);
  const list = (items: readonly Kept<Person>[] | undefined) => (
    <Listed items={items} error={error} fetching="Opening your people" empty={empty}>
      {({ id, value }, last) => (
        <PersonLine
          key={id}
          href={`/people/${id}`}
          person={value}
          means={meansOf(value, book, now)}
          aside={order === 'written' ? lastWritten(value.address) : undefined}
          last={last}
        />
      )}
    </Listed>
  );
  const firms = order === 'firm' && part !== undefined ? [...new Set(part.map(({ value }) => firmOf(value)))] : [];
  return (
    <ListScreen title="People" aside={<Button label="Add a person" onPress={() => router.push('/people/new')} />}>
      <PeopleShelves here="own" />
      {(people?.length ?? 0) <= FEW ? null : (
        <ListRow>
          <Field label="Find a person" value={search} onChangeText={setSearch} />
        </ListRow>
      )}
      {(people?.length ?? 0) < 2 ? null : (
        <ListRow>
          <View role="radiogroup" aria-label="Order">
            <Row>
              {(['name', 'firm', 'written'] as const).map((one) => (
                <Chip key={one} as="radio" label={orders[one]} on={order === one} onPress={() => setOrder(one)} />
              ))}
            </Row>
          </View>
        </ListRow>
      )}
      {firms.length === 0
        ? list(part)
        : firms.map((firm) => (
            <ListSection key={firm} title={firm}>
              {list(part!.filter(({ value }) => firmOf(value) === firm))}
            </ListSection>
          ))}
      {foot}
    </ListScreen>
  );
}

const NobodyYet = () => (
  <Empty title="Nobody yet">
    Whoever you write to is kept here, with phone and second address. Kept sealed in your vault.
  </Empty>
);

export function PeoplePlace() {
  const path = usePathname();
  return <ListAndPage list={/^\/people\/office(?:\/|$)/.test(path) ? <BookList /> : <PeopleList />} />;
}

export const PeopleIndex = () => (
  <ListIndex list={<PeopleList />}>
    <NothingChosen title="People">
      Choose a person: their page shows how they can be reached and what they can still read.
    </NothingChosen>
  </ListIndex>
);

export const BookIndex = () => (
  <ListIndex list={<BookList />}>
    <NothingChosen title="Office book">
      Choose a person: their page shows what the office knows of them and who changed it.
    </NothingChosen>
  </ListIndex>
);
