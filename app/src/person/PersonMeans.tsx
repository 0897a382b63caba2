/** How a person can be reached: each lock with its state in one line, which opens to where its means are kept. */
import { entryFor } from '@under-lock/core/passwords/entry';
import { type Person } from '@under-lock/core/people/kept-person';
import { type Kept } from '@under-lock/core/vault/kept';
import { Fold, Row, Section, Stack, StateMark, Text } from '@under-lock/ui';
import { LockShape } from '@under-lock/ui/lock-shape';
import { type ReactNode } from 'react';
import { StyleSheet, View } from 'react-native';
import { VerdictMark } from '../keys/Facts';
import { verdictWord } from '../keys/words';
import { lockShapes, lockWords } from '../locks/lock-words';
import { usePasswords } from '../passwords/usePasswords';
import { keepShown } from '../vault/useVault';
import { AskSignedLater } from '../asking/AskSignedLater';
import { currentCertificate } from '../people/certificates';
import { currentKey } from '../people/keys';
import { type Means } from '../people/means';
import { PersonCertificates, useJudgedCertificate } from './PersonCertificates';
import { PersonFiles } from './PersonFiles';
import { PersonKeys, useJudgedKey } from './PersonKeys';
import { useRegistered } from '../people/useRegistered';

interface MeansProps {
  lock: Means['lock'];
  mark: ReactNode;
  state: 'filled' | 'outline' | 'stopped';
  /** The state in words, for screen readers. */
  words: string;
  children: ReactNode;
}

const MeansLine = ({ lock, mark, state, words, children }: MeansProps) => (
  <Fold
    label={`${lockWords[lock]}: ${words}`}
    mark={<LockShape shape={lockShapes[lock]} state={state} />}
    head={
      <Row style={styles.head}>
        <Text kind="strong">{lockWords[lock]}</Text>
        {mark}
      </Row>
    }
  >
    <Stack>{children}</Stack>
  </Fold>
);

const stateWord = (verdict: Parameters<typeof verdictWord>[0] | undefined): string =>
  verdict === undefined ? 'being checked' : verdictWord(verdict).word;

interface Props {
  person: Person;
  onChange: (next: Partial<Person>) => Promise<void>;
  /** The way to ask for a certificate. */
  ask?: ReactNode;
  /** How they get locked files. */
  files: ReactNode;
}

/** Of anybody, whoever keeps them. */
export const MeansOf = ({ person, onChange, ask, files }: Props) => (
  <Section title="How they can be reached">
    <View>
      <RoomLine person={person} />
      <CertificateLine person={person}>
        <PersonCertificates ask={ask} person={person} onChange={(certificates) => onChange({ certificates })} />
      </CertificateLine>
      <KeyLine person={person}>
        <PersonKeys person={person} onChange={onChange} />
      </KeyLine>
      {files}
    </View>
  </Section>
);

/** Of one's own. */
export function PersonMeans({ known, people }: { known: Kept<Person>; people: Kept<Person>[] }) {
  const { id, revision, value: person } = known;
  const change = (next: Partial<Person>): Promise<void> => keepShown('person', id, revision, { ...person, ...next });
  return (
    <MeansOf
      person={person}
      onChange={change}
      ask={<AskSignedLater person={person} people={people} />}
      files={
        <FileLine person={person}>
          <PersonFiles person={person} onChange={change} />
        </FileLine>
      }
    />
  );
}

function RoomLine({ person: { address, phone, secondAddress } }: { person: Person }) {
  const { readers } = useRegistered([address]);
  const ways = [
    ...(readers.length > 0 ? ['their own password'] : []),
    ...(phone === undefined ? [] : ['text message']),
    ...(secondAddress === undefined ? [] : ['second address']),
  ];
  return (
    <MeansLine
      lock="room"
      state={ways.length === 0 ? 'outline' : 'filled'}
      words={ways.length === 0 ? 'no way for a passcode' : ways.join(', ')}
      mark={
        ways.length === 0 ? (
          <StateMark tone="wants" word="no way for a passcode" />
        ) : (
          <StateMark tone="done" word={ways.join(', ')} />
        )
      }
    >
      <Text kind="small" tone="soft">
        They read it in a browser, after proving who they are.
        {readers.length > 0 ? ' They have a password of their own here, and a list of what is held for them.' : ''}
        {phone === undefined ? '' : ` Passcodes go to ${phone}.`}
        {secondAddress === undefined ? '' : ` Passcodes can go to ${secondAddress}.`}
        {ways.length === 0 ? ' Add a phone number or a second address under Details.' : ''}
      </Text>
    </MeansLine>
  );
}

interface JudgedProps {
  lock: 'certificate' | 'openpgp';
  known: boolean;
  verdict: Parameters<typeof verdictWord>[0] | undefined;
  children: ReactNode;
}

/** A certificate or key: none known, being judged, or what was judged of it. */
const JudgedLine = ({ lock, known, verdict, children }: JudgedProps) => (
  <MeansLine
    lock={lock}
    state={!known ? 'outline' : verdict?.level === 'stop' ? 'stopped' : 'filled'}
    words={known ? stateWord(verdict) : 'none known'}
    mark={known ? <VerdictMark verdict={verdict} /> : <StateMark tone="over" word="none known" />}
  >
    {children}
  </MeansLine>
);

function CertificateLine({ person, children }: { person: Person; children: ReactNode }) {
  const kept = currentCertificate(person);
  const { data: judged } = useJudgedCertificate(kept, person.address);
  return (
    <JudgedLine lock="certificate" known={kept !== undefined} verdict={judged?.verdict}>
      {children}
    </JudgedLine>
  );
}

function KeyLine({ person, children }: { person: Person; children: ReactNode }) {
  const kept = currentKey(person);
  const { data: judged } = useJudgedKey(kept, person.address);
  return (
    <JudgedLine lock="openpgp" known={kept !== undefined} verdict={judged?.verdict}>
      {children}
    </JudgedLine>
  );
}

function FileLine({ person, children }: { person: Person; children: ReactNode }) {
  const { data: book } = usePasswords();
  const agreed = entryFor(book ?? [], person.address, 'out')?.value;
  const untold = agreed !== undefined && agreed.toldAt === undefined;
  const word = agreed === undefined ? 'no password agreed' : untold ? 'password not told yet' : 'password agreed';
  return (
    <MeansLine
      lock="file"
      state={agreed === undefined ? 'outline' : 'filled'}
      words={word}
      mark={<StateMark tone={agreed === undefined ? 'over' : untold ? 'wants' : 'done'} word={word} />}
    >
      {children}
    </MeansLine>
  );
}

const styles = StyleSheet.create({ head: { justifyContent: 'space-between' } });
