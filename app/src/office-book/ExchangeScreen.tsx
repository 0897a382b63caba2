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
import { searchOfficeDirectory } from '@under-lock/contract/office-book';
import {
  Button,
  Choice,
  Field,
  Line,
  Loading,
  OnEnter,
  Panel,
  Progress,
  Result,
  Row,
  Section,
  Stack,
  Text,
} from '@under-lock/ui';
import { useState } from 'react';
import { api } from '../api';
import { counted, figure } from '../counted';
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
import { bringIn, useBookPeople, useBookStand } from './useBook';

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

type Read = Extract<ReadPeople, { ok: true }> & {
  /** Told apart by when it came. */ at: number;
  from: 'file' | 'directory';
};

function BringIn({ people }: { people: Kept<BookPerson>[] }) {
  const { data: stand } = useBookStand();
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
    if (found.ok) setRead({ ...found, at: Date.now(), from: 'file' });
    else say({ tone: 'brick', text: fileProblems[found.problem] });
  };
  return (
    <Section title="Bring in">
      <Stack>
        <Text tone="soft">
          A table (CSV) with a column for the address, or a file of cards (vCard), with certificates and keys where they
          hold some. What would change is shown before anything is taken.
        </Text>
        <Row>
          <Button label="Choose a file" busy={busy} onPress={() => void attempt(choose)} />
        </Row>
        {stand?.directory === true ? (
          <FromDirectory
            busy={busy}
            onLook={(holding) =>
              void attempt(async () => {
                setRead(undefined);
                const found = await lookInDirectory(holding);
                if ('said' in found) return say({ tone: 'amber', text: found.said });
                if (found.besides !== '') say({ tone: 'amber', text: found.besides });
                return setRead(found.read);
              })
            }
          />
        ) : null}
        <Result said={said} />
        {read === undefined ? null : (
          <Offered
            key={read.at}
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

/** What the office's own directory has, as it is offered, and what is to be known besides; or why nothing is. */
async function lookInDirectory(holding: string): Promise<{ read: Read; besides: string } | { said: string }> {
  const { people, more, elsewhere } = await api(searchOfficeDirectory, {
    query: holding.trim() === '' ? {} : { holding: holding.trim() },
  });
  const besides = [
    more ? 'There are more than are shown here: look for something narrower.' : '',
    elsewhere === 0 ? '' : 'Some of its people lie in another directory, which was not asked.',
  ]
    .filter((one) => one !== '')
    .join(' ');
  const found = await keysDoor().people.ofDirectory(people, noPhone.country as CountryCode);
  if (!found.ok) return { said: ['The directory has nobody like that with a mail address.', besides].join(' ').trim() };
  return { read: { ...found, at: Date.now(), from: 'directory' }, besides };
}

function FromDirectory({ busy, onLook }: { busy: boolean; onLook: (holding: string) => void }) {
  const [holding, setHolding] = useState('');
  return (
    <OnEnter does={busy ? undefined : () => onLook(holding)}>
      <Field
        label="Or in the office’s directory"
        hint="A part of a name, address, firm or department; left empty, everybody."
        value={holding}
        onChangeText={setHolding}
        maxLength={100}
        autoCapitalize="none"
        autoComplete="off"
      />
      <Row>
        <Button label="Look in the directory" busy={busy} onPress={() => onLook(holding)} />
      </Row>
    </OnEnter>
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

/** What comes along that makes a copy under their lock possible. */
function Means({ people }: { people: readonly Exchanged[] }) {
  const certificates = people.filter((one) => one.certificates !== undefined).length;
  const keys = people.filter((one) => one.keys !== undefined).length;
  const counted = [
    certificates === 0 ? '' : certificates === 1 ? '1 certificate' : `${certificates} certificates`,
    keys === 0 ? '' : keys === 1 ? '1 OpenPGP key' : `${keys} OpenPGP keys`,
  ].filter((one) => one !== '');
  return counted.length === 0 ? null : (
    <Text kind="small" tone="soft">{`With ${counted.join(' and ')}; nobody has compared them yet.`}</Text>
  );
}

interface OfferedProps {
  read: Read;
  people: Kept<BookPerson>[];
  onOver: (said?: string) => void;
}

function Offered({ read: { people: brought, problems, from }, people: now, onOver }: OfferedProps) {
  const { account } = useOpenSession();
  // As it was when the file came: while they are taken, more and more of them are known.
  const [people] = useState(now);
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
      onOver(`Taken: ${counted(taken, 'person', 'people')}.`);
    });
  return (
    <Panel>
      <Line last>
        <Stack>
          <Text kind="strong">
            {`${figure(fresh.length)} new, ${figure(there.length)} known already${filling === 0 ? '' : ` (${figure(filling)} with something new)`}`}
          </Text>
          <Means people={wanted} />
          <Problems problems={problems} />
          {differing === 0 && filling === 0 ? null : (
            <Choice
              label={`Where the ${from} says something else`}
              value={takesTheirs ? 'theirs' : 'ours'}
              onChange={(choice) => setTakesTheirs(choice === 'theirs')}
              options={[
                { value: 'ours', label: 'Keep what the book says', detail: 'Only what is empty is filled' },
                {
                  value: 'theirs',
                  label: `Take what the ${from} says`,
                  detail: 'Certificates and keys that are known stay',
                },
              ]}
            />
          )}
          {done === undefined ? null : (
            <>
              <Text kind="small" aria-live="polite">{`Taken: ${figure(done)} of ${figure(wanted.length)}`}</Text>
              <Progress label="Taken" done={done / Math.max(1, wanted.length)} />
            </>
          )}
          <Result said={said} />
          <Row>
            <Button
              kind="main"
              label={`Take ${figure(wanted.length)}`}
              busy={busy}
              disabled={wanted.length === 0}
              onPress={() => void take()}
            />
            {busy ? null : (
              <Button label="Leave it" describe={`Leave it: take nothing of the ${from}`} onPress={() => onOver()} />
            )}
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
          Names, addresses, firms, phones, languages and notes, readable by whoever has the file; in cards certificates
          and OpenPGP keys, too. Passwords are in neither.
        </Text>
        <Row>
          <Button label="Save a table" busy={busy} disabled={people.length === 0} onPress={() => void save('table')} />
          <Button label="Save cards" busy={busy} disabled={people.length === 0} onPress={() => void save('cards')} />
        </Row>
        <Result said={said} />
      </Stack>
    </Section>
  );
}
