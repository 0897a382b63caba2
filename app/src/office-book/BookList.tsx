/** People › Office: whom the whole office knows; how one gets in, where one is not. */
import { doublesIn } from '@under-lock/core/office-book/doubles';
import { type BookPerson } from '@under-lock/core/office-book/person';
import { type Kept } from '@under-lock/core/vault/kept';
import { Banner, Button, Empty, Field, Loading, Result, Row, Stack } from '@under-lock/ui';
import { Chip } from '@under-lock/ui/chip';
import { router } from 'expo-router';
import { memo, useDeferredValue, useMemo, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { useNow } from '../clock';
import { PersonLine } from '../people/PersonLine';
import { type Means, meansOf } from '../people/means';
import { problemWords } from '../problem-words';
import { useOpenSession } from '../session/session';
import { useColleagues } from '../session/useOffice';
import { Listed, Sheet } from '../shell/Listed';
import { ListRow, ListScreen, ListSection } from '../shell/ListScreen';
import { useInParts } from '../shell/useInParts';
import { bookFirm, byFirms, foundInBook } from './found-in-book';
import { PeopleShelves } from './PeopleShelves';
import { useAttempt } from '../shell/useAttempt';
import { beginBook, isIn, renewKey, useBookPeople, useBookStand } from './useBook';
import { spelledKey, waitingFor } from './waiting';

/** What of a person a lock needs, and whether the office has it. */
const reachOf = (person: BookPerson, now: Date): Means[] => [
  ...meansOf(person, [], now),
  ...(person.password === undefined ? [] : [{ lock: 'file', state: 'ready' } as const]),
];

type Having = Means['lock'] | 'nothing';

const FILTERS: Record<Having, string> = {
  certificate: 'Certificate',
  openpgp: 'OpenPGP key',
  file: 'Password',
  room: 'Phone or second address',
  nothing: 'Nothing yet',
};

export function BookList() {
  const { data: stand, error } = useBookStand();
  return (
    <ListScreen
      title="People"
      aside={
        isIn(stand) ? <Button label="Add a person" onPress={() => router.push('/people/office/new' as never)} /> : null
      }
    >
      <PeopleShelves here="office" />
      {stand === undefined ? (
        error === undefined ? (
          <Loading what="Opening the office book" />
        ) : (
          <Banner tone="brick">{problemWords(error)}</Banner>
        )
      ) : isIn(stand) ? (
        <People />
      ) : (
        <Sheet>
          <NotIn />
        </Sheet>
      )}
    </ListScreen>
  );
}

/** Before one is in: how it begins, or who lets one in. */
function NotIn() {
  const { account } = useOpenSession();
  const { data: stand } = useBookStand();
  const { data: colleagues = [] } = useColleagues();
  const { busy, said, attempt } = useAttempt();
  const self = colleagues.find(({ id }) => id === account.id)?.key;
  const about =
    'People whom the whole office knows: how each is reached, and who checked it. One colleague learns it, everybody can use it. It is sealed under the office’s own key, which only colleagues in the book hold.';
  if (stand?.key === undefined)
    return (
      <Empty
        title="No office book yet"
        action={
          account.role !== 'administrator' || self === undefined ? undefined : (
            <Stack>
              <Button
                kind="main"
                label="Begin the office book"
                busy={busy}
                onPress={() => void attempt(() => beginBook(self))}
              />
              <Result said={said} />
            </Stack>
          )
        }
      >
        {account.role === 'administrator' ? about : `${about} An administrator begins it.`}
      </Empty>
    );
  const names = stand.members.flatMap(({ id }) => colleagues.find((one) => one.id === id)?.name ?? []);
  return (
    <Empty title="You are not in yet">
      {stand.out.includes(account.id)
        ? 'An administrator has let you out of the office book. Ask them if that is wrong.'
        : `A colleague who is in lets you in, by People › Office › Who is in. Ask ${names.slice(0, 3).join(', ')}. The figures of your key, which they see: ${spelledKey({ key: self })}`}
    </Empty>
  );
}

function People() {
  const { data: people } = useBookPeople();
  const [search, setSearch] = useState('');
  const [having, setHaving] = useState<Having | undefined>();
  const [byFirm, setByFirm] = useState(false);
  return (
    <>
      <Doors />
      {(people?.length ?? 0) === 0 ? null : (
        <>
          <ListRow>
            <View style={styles.fill}>
              <Field label="Find a person or firm" value={search} onChangeText={setSearch} />
            </View>
          </ListRow>
          <ListRow>
            <View role="group" aria-label="Which" style={styles.fill}>
              <Row>
                <Chip label="By firm" on={byFirm} onPress={() => setByFirm(!byFirm)} />
                {(Object.keys(FILTERS) as Having[]).map((one) => (
                  <Chip
                    key={one}
                    label={FILTERS[one]}
                    on={having === one}
                    onPress={() => setHaving(having === one ? undefined : one)}
                  />
                ))}
              </Row>
            </View>
          </ListRow>
        </>
      )}
      {/* What is typed stands at once; among thousands the list comes a moment behind. */}
      <Found sought={useDeferredValue(search)} having={having} byFirm={byFirm} />
    </>
  );
}

/** Drawn only when something of it is another: a key press in the field above alone draws nothing here. */
const Found = memo(function Found({
  sought,
  having,
  byFirm,
}: {
  sought: string;
  having: Having | undefined;
  byFirm: boolean;
}) {
  const { data: people, error } = useBookPeople();
  const now = useNow();
  const shown = useMemo(() => {
    if (people === undefined) return undefined;
    const found = foundInBook(people, sought).filter(({ value }) => has(value, having, now));
    return byFirm ? byFirms(found) : found;
  }, [people, sought, having, byFirm, now]);
  const { part, foot } = useInParts(shown, [sought, having, byFirm].join('\n'));
  const list = (items: readonly Kept<BookPerson>[] | undefined) => (
    <Listed
      items={items}
      error={error}
      fetching="Opening the office book"
      empty={
        (people?.length ?? 0) === 0 ? (
          <Empty title="Nobody in it yet">Add a person, or share one of your own from their page.</Empty>
        ) : (
          <Empty title="No match">Nobody in the office book fits this.</Empty>
        )
      }
    >
      {({ id, value }, last) => (
        <PersonLine
          key={id}
          href={`/people/office/${id}`}
          person={value}
          means={reachOf(value, now)}
          about={value.firm === undefined ? value.address : `${value.firm} · ${value.address}`}
          last={last}
        />
      )}
    </Listed>
  );
  const firms = byFirm && part !== undefined ? [...new Set(part.map(({ value }) => bookFirm(value)))] : [];
  return (
    <>
      {firms.length === 0
        ? list(part)
        : firms.map((firm) => (
            <ListSection key={firm} title={firm}>
              {list(part!.filter(({ value }) => bookFirm(value) === firm))}
            </ListSection>
          ))}
      {foot}
    </>
  );
});

function has(person: BookPerson, having: Having | undefined, now: Date): boolean {
  if (having === undefined) return true;
  const means = reachOf(person, now);
  return having === 'nothing' ? means.length === 0 : means.some(({ lock }) => lock === having);
}

const NOBODY: Kept<BookPerson>[] = [];

/** Who waits to be let in, and that somebody left. */
const Doors = memo(function Doors() {
  const { data: stand } = useBookStand();
  const { data: colleagues = [] } = useColleagues();
  const { data: people = NOBODY } = useBookPeople();
  const { account } = useOpenSession();
  const { busy, said, attempt } = useAttempt();
  // In a book of thousands that takes its time: the list is there first.
  const looked = useDeferredValue(people, NOBODY);
  const doubles = useMemo(() => doublesIn(looked).length, [looked]);
  if (stand === undefined) return null;
  const waiting = waitingFor(stand, colleagues).length;
  const offering = people.filter(({ value }) => value.offered !== undefined);
  return (
    <>
      {stand.renew ? (
        <ListRow>
          <Banner tone="amber">
            Somebody left who had the office’s key. A new key keeps what is written from now on from them.
          </Banner>
          <Row>
            <Button
              label="Make a new key"
              busy={busy}
              onPress={() => void attempt(() => renewKey({ id: account.id, name: account.name }))}
            />
          </Row>
          <Result said={said} />
        </ListRow>
      ) : null}
      {offering.map(({ id, value }) => (
        <ListRow key={id}>
          <Banner
            tone="amber"
            actions={
              <Button
                label="Compare"
                describe={`Compare with ${value.name || value.address}`}
                onPress={() => router.push(`/people/office/${id}` as never)}
              />
            }
          >
            {`${value.name || value.address} gave another ${value.offered!.choice.way === 'certificate' ? 'certificate' : 'OpenPGP key'} than the office has.`}
          </Banner>
        </ListRow>
      ))}
      <ListRow>
        <View style={styles.fill}>
          <Row>
            {/* What gets longer once it is known stands behind: nothing moves under a finger. */}
            <Button
              kind="quiet"
              label="Bring in, take along"
              onPress={() => router.push('/people/office/exchange' as never)}
            />
            <Button
              kind="quiet"
              label={waiting === 0 ? 'Who is in' : `Who is in (${waiting} to let in)`}
              onPress={() => router.push('/people/office/members' as never)}
            />
            {doubles === 0 ? null : (
              <Button
                kind="quiet"
                label={`Perhaps twice (${doubles})`}
                onPress={() => router.push('/people/office/doubles' as never)}
              />
            )}
          </Row>
        </View>
      </ListRow>
    </>
  );
});

const styles = StyleSheet.create({ fill: { flex: 1, minWidth: 0 } });
