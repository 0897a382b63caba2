/** People out of files of other programs into the office book, and out of it: what would change is shown first. */
import {
  type Exchanged,
  type FileProblem,
  type PersonProblem,
  type ReadPeople,
} from '@under-lock/core/office-book/exchange';
import { MOST_OCTETS } from '@under-lock/core/office-book/limits';
import { type BookPerson, fieldsChanged, withBroughtIn } from '@under-lock/core/office-book/person';
import { utf8 } from '@under-lock/core/bytes';
import { type CountryCode } from '@under-lock/core/people/phone';
import { personAt } from '@under-lock/core/people/find';
import { type Kept } from '@under-lock/core/vault/kept';
import { Banner, Button, Choice, Line, Loading, Panel, Progress, Row, Section, Stack, Text } from '@under-lock/ui';
import { useState } from 'react';
import { exported } from '../exported';
import { chosenFile } from '../keys/Backup';
import { noPhone } from '../phone/phone-value';
import { saveFile } from '../save-file';
import { useOpenSession } from '../session/session';
import { BackToList } from '../shell/ListAndPage';
import { Screen } from '../shell/Screen';
import { keysDoor } from '../threads/keys/door';
import { reading } from '../threads/keys/reading';
import { useAttempt } from '../shell/useAttempt';
import { bringIn, useBookPeople } from './useBook';

const back = <BackToList href="/people/office" label="Office book" />;

const fileProblems: Record<FileProblem, string> = {
  'no-people': 'There is nobody in this file. Nothing was changed.',
  'not-a-table': 'This table can’t be read: a quotation mark in it is never closed. Nothing was changed.',
  'columns-missing':
    'This is neither a file of cards nor a table with a column called “address” or “e-mail” in its first line. Nothing was changed.',
  'too-large': 'There are more people in this file than the office book takes. Nothing was changed.',
};
const personProblems: Record<PersonProblem, string> = {
  address: 'no mail address',
  'second-address': 'a second address that is none, or the same as the first',
  phone: 'a phone number that is not complete',
  twice: 'the same address a second time',
};

export function ExchangeScreen() {
  const { data: people } = useBookPeople();
  return (
    <Screen title="Bring in, take along" back={back}>
      {people === undefined ? (
        <Loading what="Opening the office book" />
      ) : (
        <>
          <BringIn people={people} />
          <TakeAlong people={people} />
        </>
      )}
    </Screen>
  );
}

type Read = Extract<ReadPeople, { ok: true }> & { name: string };

function BringIn({ people }: { people: Kept<BookPerson>[] }) {
  const [read, setRead] = useState<Read | undefined>();
  const { busy, said, say, attempt } = useAttempt();
  const choose = async (): Promise<void> => {
    setRead(undefined);
    const file = await chosenFile(MOST_OCTETS, 'any office’s people');
    if (file === undefined) return;
    if ('problem' in file) return say({ tone: 'brick', text: file.problem });
    const found = await reading(file.bytes.length, (doors) =>
      doors.people.read(file.bytes, noPhone.country as CountryCode),
    );
    if (found.ok) setRead({ ...found, name: file.name });
    else say({ tone: 'brick', text: fileProblems[found.problem] });
  };
  return (
    <Section title="Bring in">
      <Stack>
        <Text tone="soft">
          A table (CSV) with a column for the address, or a file of cards (vCard). What would change is shown before
          anything is taken.
        </Text>
        <Row>
          <Button label="Choose a file" busy={busy} onPress={() => void attempt(choose)} />
        </Row>
        {said === undefined ? null : <Banner tone={said.tone}>{said.text}</Banner>}
        {read === undefined ? null : (
          <Offered
            key={read.name}
            read={read}
            people={people}
            onOver={(text) => {
              setRead(undefined);
              if (text !== undefined) say({ tone: 'sea', text });
            }}
          />
        )}
      </Stack>
    </Section>
  );
}

const SHOWN = 10;

/** Left out, a line each. */
function Problems({ problems }: Pick<Read, 'problems'>) {
  return (
    <>
      {problems.slice(0, SHOWN).map(({ at, problem, said }) => (
        <Text key={at} kind="small" tone="amber">
          {`▲ Number ${at} is left out: ${personProblems[problem]}${said === '' ? '' : ` (${said})`}.`}
        </Text>
      ))}
      {problems.length > SHOWN ? (
        <Text kind="small" tone="amber">{`▲ And ${problems.length - SHOWN} more.`}</Text>
      ) : null}
    </>
  );
}

interface OfferedProps {
  read: Read;
  people: Kept<BookPerson>[];
  onOver: (said?: string) => void;
}

function Offered({ read: { people: brought, problems }, people, onOver }: OfferedProps) {
  const { account } = useOpenSession();
  const [takesTheirs, setTakesTheirs] = useState(false);
  const [done, setDone] = useState<number | undefined>();
  const { busy, said, attempt } = useAttempt();
  const known = (one: Exchanged): BookPerson | undefined =>
    personAt(people, one.address)?.value as BookPerson | undefined;
  const changes = (one: Exchanged, theirs: boolean): boolean =>
    fieldsChanged(known(one), withBroughtIn(known(one), one, theirs)).length > 0;
  const fresh = brought.filter((one) => known(one) === undefined);
  const there = brought.filter((one) => known(one) !== undefined);
  const filling = there.filter((one) => changes(one, false)).length;
  const differing = there.filter((one) => changes(one, true) && !changes(one, false)).length;
  const wanted = [...fresh, ...there.filter((one) => changes(one, takesTheirs))];
  const take = (): Promise<void> =>
    attempt(async () => {
      const taken = await bringIn(wanted, {
        takesTheirs,
        by: { id: account.id, name: account.name },
        told: setDone,
      });
      onOver(`Taken: ${taken} ${taken === 1 ? 'person' : 'people'}.`);
    });
  return (
    <Panel>
      <Line last>
        <Stack>
          <Text kind="strong">{`${fresh.length} new, ${there.length} known already (${filling} with something new)`}</Text>
          <Problems problems={problems} />
          {differing === 0 && filling === 0 ? null : (
            <Choice
              label="Where the file says something else"
              value={takesTheirs ? 'theirs' : 'ours'}
              onChange={(choice) => setTakesTheirs(choice === 'theirs')}
              options={[
                { value: 'ours', label: 'Keep what the book says', detail: 'Only what is empty is filled' },
                { value: 'theirs', label: 'Take what the file says' },
              ]}
            />
          )}
          {done === undefined ? null : (
            <>
              <Text kind="small" aria-live="polite">{`Taken: ${done} of ${wanted.length}`}</Text>
              <Progress label="Taken" done={done / Math.max(1, wanted.length)} />
            </>
          )}
          {said === undefined ? null : <Banner tone={said.tone}>{said.text}</Banner>}
          <Row>
            <Button
              kind="main"
              label={`Take ${wanted.length}`}
              busy={busy}
              disabled={wanted.length === 0}
              onPress={() => void take()}
            />
            <Button label="Leave it" describe="Leave it: take nothing of the file" onPress={() => onOver()} />
          </Row>
        </Stack>
      </Line>
    </Panel>
  );
}

function TakeAlong({ people }: { people: Kept<BookPerson>[] }) {
  const { busy, said, attempt } = useAttempt();
  const save = (as: 'table' | 'cards'): Promise<void> =>
    attempt(async () => {
      const text = await keysDoor().people.write(
        people.map(({ value }) => value),
        as,
      );
      const name = as === 'table' ? 'office-book.csv' : 'office-book.vcf';
      saveFile(utf8(text), name, as === 'table' ? 'text/csv' : 'text/vcard');
      exported('office-book');
    });
  return (
    <Section title="Take along">
      <Stack>
        <Text tone="soft">
          Names, addresses, firms, phones, languages and notes, readable by whoever has the file. Certificates, keys and
          passwords are not in it.
        </Text>
        <Row>
          <Button label="Save a table" busy={busy} disabled={people.length === 0} onPress={() => void save('table')} />
          <Button label="Save cards" busy={busy} disabled={people.length === 0} onPress={() => void save('cards')} />
        </Row>
        {said === undefined ? null : <Banner tone={said.tone}>{said.text}</Banner>}
      </Stack>
    </Section>
  );
}
