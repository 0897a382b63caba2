/**
 * One agreed password: hidden until it is asked for, with those before it, where it was agreed, and another in its
 * place.
 */
import { type PasswordEntry, withPassword } from '@under-lock/core/passwords/entry';
import { type Kept } from '@under-lock/core/vault/kept';
import { dayInWords } from '@under-lock/core/when';
import {
  Banner,
  Button,
  Dialog,
  Field,
  Line,
  Loading,
  Panel,
  Result,
  Row,
  space,
  Stack,
  StateMark,
  Text,
} from '@under-lock/ui';
import { useLocalSearchParams } from 'expo-router';
import { useState } from 'react';
import { StyleSheet } from 'react-native';
import { useNow, zone } from '../clock';
import { useAttempt } from '../shell/useAttempt';
import { problemWords } from '../problem-words';
import { BackToList } from '../shell/ListAndPage';
import { Screen } from '../shell/Screen';
import { offerUndo } from '../shell/Undo';
import { keepItem, keepShown } from '../vault/useVault';
import { useNameOf } from './useNameOf';
import { PasswordForm } from './PasswordForm';
import { ReadOut } from './ReadOut';
import { TheirPassword } from './TheirPassword';
import { useFileRules } from './useFileRules';
import { forgetPassword, usePasswords } from './usePasswords';
import { directionWords, strengthWords } from './words';
import { fromHere } from '../shell/from-here';

const back = <BackToList href="/keys/passwords" label="Password book" />;

export function EntryScreen() {
  const { id } = useLocalSearchParams<{ id: string }>();
  const { data: book, error } = usePasswords();
  const { data: rules } = useFileRules();
  const nameOf = useNameOf();
  const entry = book?.find((one) => one.id === id);
  if (entry === undefined || rules === undefined)
    return (
      <Screen title={book === undefined ? 'Password' : 'Not here'} back={back}>
        {error !== undefined ? (
          <Banner tone="brick">{problemWords(error)}</Banner>
        ) : book !== undefined && entry === undefined ? (
          <Text>This password is not in your book any more.</Text>
        ) : (
          <Loading what="Opening the password book" />
        )}
      </Screen>
    );
  return <EntryPage key={id} entry={entry} who={nameOf(entry.value.address)} leastGuesses={rules.leastGuesses} />;
}

interface Props {
  entry: Kept<PasswordEntry>;
  who: string;
  leastGuesses: number;
}

function EntryPage({ entry, who, leastGuesses }: Props) {
  const { value } = entry;
  const now = useNow();
  const isOurs = value.direction === 'out';
  const strength = strengthWords(value.guesses, leastGuesses);
  const [open, setOpen] = useState(false);
  const { busy, said, attempt } = useAttempt();
  const describe = `the password for ${isOurs ? 'what we send' : 'what comes from'} ${who}`;
  const keep = (next: PasswordEntry): Promise<void> =>
    attempt(() => keepShown('password', entry.id, entry.revision, next));
  return (
    <Screen title={who} back={back}>
      <Row style={styles.between}>
        <Text
          kind="small"
          tone="soft"
          style={styles.wrap}
        >{`${who === value.address ? '' : `${value.address} · `}${directionWords[value.direction]}, since ${dayInWords(new Date(value.since), now, zone)}`}</Text>
        {!isOurs ? null : value.toldAt === undefined ? (
          <StateMark tone="wants" word="Not told yet" />
        ) : (
          <StateMark tone="done" word="They know it" />
        )}
      </Row>
      <Result said={said} />
      <Panel>
        <Line last>
          <Stack style={styles.close}>
            {open ? (
              <Text kind="mono" selectable style={styles.wrap}>
                {value.password}
              </Text>
            ) : (
              <Text kind="mono" aria-hidden>
                ········
              </Text>
            )}
            {isOurs && strength.tone === 'amber' ? <Text kind="small" tone="amber">{`▲ ${strength.text}`}</Text> : null}
            <Row>
              <Button
                label={open ? 'Hide' : 'Show'}
                describe={`${open ? 'Hide' : 'Show'} ${describe}`}
                expanded={open}
                onPress={() => setOpen(!open)}
              />
            </Row>
            {open && isOurs && value.toldAt === undefined ? (
              <>
                <ReadOut who={who} password={value.password} />
                <Row>
                  <Button
                    label="I have told them"
                    describe={`I have told them: ${who} has the password`}
                    busy={busy}
                    onPress={() => void keep({ ...value, toldAt: new Date().toISOString() })}
                  />
                </Row>
              </>
            ) : null}
            {open && value.before.length > 0 ? <Before entry={value} now={now} /> : null}
          </Stack>
        </Line>
      </Panel>
      <Note value={value} describe={describe} busy={busy} onKeep={(note) => void keep({ ...value, note })} />
      <Replace entry={entry} who={who} leastGuesses={leastGuesses} describe={describe} />
    </Screen>
  );
}

const Before = ({ entry: { before }, now }: { entry: PasswordEntry; now: Date }) => (
  <Stack style={styles.close}>
    <Text kind="label" tone="soft">
      Before
    </Text>
    {before.map(({ password, until }) => (
      <Text
        key={until + password}
        kind="small"
        selectable
        style={styles.wrap}
      >{`${password}  until ${dayInWords(new Date(until), now, zone)}`}</Text>
    ))}
  </Stack>
);

interface NoteProps {
  value: PasswordEntry;
  describe: string;
  busy: boolean;
  onKeep: (note: string) => void;
}

function Note({ value, describe, busy, onKeep }: NoteProps) {
  const [note, setNote] = useState(value.note);
  return (
    <Panel>
      <Line last>
        <Stack style={styles.close}>
          <Field
            label="Note"
            value={note}
            onChangeText={setNote}
            maxLength={500}
            hint="Where it was agreed, for example."
          />
          {note === value.note ? null : (
            <Row>
              <Button
                label="Keep the note"
                describe={`Keep the note about ${describe}`}
                busy={busy}
                onPress={() => onKeep(note)}
              />
            </Row>
          )}
        </Stack>
      </Line>
    </Panel>
  );
}

/** Another password in its place, or none any more. */
function Replace({ entry, who, leastGuesses, describe }: Props & { describe: string }) {
  const { value } = entry;
  const [changing, setChanging] = useState(false);
  const [forgetting, setForgetting] = useState(false);
  const { attempt } = useAttempt();
  const isOurs = value.direction === 'out';
  const change = async (password: string, guesses: number, told: boolean): Promise<void> => {
    const now = new Date();
    const toldAt = told ? { toldAt: now.toISOString() } : {};
    const { address, direction } = value;
    const next = withPassword(value, { address, direction, password, guesses, ...toldAt }, now);
    await keepShown('password', entry.id, entry.revision, next);
    setChanging(false);
  };
  const forget = (): Promise<void> =>
    attempt(async () => {
      const goOn = fromHere();
      await forgetPassword(entry.id);
      offerUndo(`The password of ${who} is forgotten.`, () => keepItem('password', entry.id, 0, value));
      goOn('/keys/passwords');
    });
  return (
    <>
      {!changing ? null : isOurs ? (
        <PasswordForm
          who={who}
          known={[who, value.address]}
          leastGuesses={leastGuesses}
          kind="words"
          telling="phone"
          remember
          onUse={({ password, guesses, telling }) => change(password, guesses, telling === 'agreed')}
          onCancel={() => setChanging(false)}
        />
      ) : (
        <TheirPassword who={who} onKeep={(password, guesses) => change(password, guesses, true)} />
      )}
      <Row>
        {changing ? null : (
          <Button
            label="Another password"
            describe={`Another password in the place of ${describe}`}
            onPress={() => setChanging(true)}
          />
        )}
        <Button kind="stop" label="Forget it" describe={`Forget it: ${describe}`} onPress={() => setForgetting(true)} />
      </Row>
      <Dialog
        title="Forget this password?"
        open={forgetting}
        onClose={() => setForgetting(false)}
        actions={
          <>
            <Button kind="stop" label="Forget it" onPress={() => void forget()} />
            <Button label="Keep it" onPress={() => setForgetting(false)} />
          </>
        }
      >
        <Text>{`It goes with ${value.before.length === 0 ? 'its history' : 'those before it'}. What ${isOurs ? 'you sent' : `${who} sent`} under it can then be opened only by whoever knows it.`}</Text>
      </Dialog>
    </>
  );
}

const styles = StyleSheet.create({
  between: { justifyContent: 'space-between', alignItems: 'flex-start', flexWrap: 'nowrap' },
  close: { gap: space.s },
  wrap: { overflowWrap: 'anywhere', flexShrink: 1 } as object,
});
